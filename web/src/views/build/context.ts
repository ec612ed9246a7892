/** What the screens of one colouring share. */
import { createContext, useContext } from "react";
import type { Laid, State } from "../../api/client";
import type { Units } from "../../parts/lengths";
import type { BuildHandle } from "./useBuild";

export interface Shared extends BuildHandle {
  /** The colouring's number; its build's is `state.build_id`. */
  id: number;
  state: State;
  /** Everything on the panel, as it lies. */
  set: Laid;
  units: Units;
}

export const BuildContext = createContext<Shared | null>(null);

export function useShared(): Shared {
  const shared = useContext(BuildContext);
  if (!shared) throw new Error("This part belongs inside a build.");
  return shared;
}
