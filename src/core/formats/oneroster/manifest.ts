/** The manifest of a OneRoster CSV archive (1EdTech, version 1.2): which of the standard's files it holds, and which not. */
import { writeCsv } from "../text.ts";

const fileNames =
  "academicSessions categories classes classResources courses courseResources demographics enrollments lineItemLearningObjectiveIds lineItems lineItemScoreScales orgs resources resultLearningObjectiveIds results resultScoreScales roles scoreScales userProfiles userResources users".split(
    " ",
  );

/** The bytes' text. `whole`: the files that list everything there is; `at`: the moment written into it, epoch milliseconds. */
export const writeManifest = (whole: readonly string[], at: number): string =>
  writeCsv(
    ["propertyName", "value"],
    [
      ["manifest.version", "1.0"],
      ["oneroster.version", "1.2"],
      ...fileNames.map((name) => [`file.${name}`, whole.includes(name) ? "bulk" : "absent"]),
      ["source.systemName", "Amber Weave"],
      ["source.systemCode", new Date(at).toISOString().slice(0, 10)],
    ],
    { isInterchange: true },
  );
