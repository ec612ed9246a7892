/** Words that are heard and not seen: what a press does, where only a picture or a name is shown. */
import type { ReactNode } from "react";

export const Unseen = ({ children }: { children: ReactNode }) => (
  <span style={{ position: "absolute", width: 1, height: 1, overflow: "hidden", clipPath: "inset(50%)" }}>
    {children}
  </span>
);
