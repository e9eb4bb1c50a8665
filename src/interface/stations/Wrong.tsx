import type { ReactNode } from "react";
import base from "./station.module.css";

/** What is wrong and what to do next, read out when it appears. Nothing, where nothing is. */
export const Wrong = ({ children }: { children: ReactNode }) =>
  children ? (
    <p role="alert" className={base.wrong}>
      {children}
    </p>
  ) : null;
