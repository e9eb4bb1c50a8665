/** Common Cartridge archives, as others write them. */
import { strToU8, zipSync } from "fflate";

/** A manifest of some items and resources. */
export const manifest = (items: string, resources: string) => `<?xml version="1.0"?>
<manifest identifier="m" xmlns="http://www.imsglobal.org/xsd/imsccv1p3/imscp_v1p1">
  <metadata><schema>IMS Common Cartridge</schema><schemaversion>1.3.0</schemaversion></metadata>
  <organizations><organization identifier="o" structure="rooted-hierarchy"><item identifier="root">${items}</item></organization></organizations>
  <resources>${resources}</resources>
</manifest>`;

/** An archive of texts by name. */
export const archive = (files: Record<string, string>) =>
  zipSync(Object.fromEntries(Object.entries(files).map(([name, text]) => [name, strToU8(text)])));
