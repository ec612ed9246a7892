/** The table's place in the steps of a build, and what moves it. */
import { useCallback, useEffect, useState, useSyncExternalStore } from "react";
import type { State } from "../../../api/client";
import { TablePlace } from "./tablePlace";

export interface TableHandle {
  step: number | null;
  ticks: string[];
  waitStarted: number | null;
  changed: boolean;
  offline: boolean;
  elsewhere: string | null;
  held: string | null;
  error: unknown;
  next: () => void;
  back: () => void;
  tick: (name: string) => void;
  restart: () => void;
  /** To a step by its number. */
  goTo: (step: number) => void;
}

export function useTable(id: number, state: State | undefined): TableHandle {
  const [own] = useState(() => new TablePlace(id));
  const { place, ...rest } = useSyncExternalStore(own.subscribe, own.snapshot);
  useEffect(() => {
    void own.load();
    return () => own.stop();
  }, [own]);

  const steps = state?.sequence.steps;
  const at = place && steps ? Math.min(place.step, steps.length) : null;
  const go = useCallback(
    (step: number) => {
      if (!steps || step < 0 || step > steps.length) return;
      const waits = steps[step]?.kind === "wait";
      own.put({ step, ticks: [], wait_started: waits ? new Date().toISOString() : null });
    },
    [own, steps],
  );
  const ticks = place?.ticks ?? [];
  return {
    ...rest,
    step: at,
    ticks,
    waitStarted: place?.wait_started ? Date.parse(place.wait_started) : null,
    next: useCallback(() => at !== null && go(at + 1), [at, go]),
    back: useCallback(() => at !== null && go(at - 1), [at, go]),
    tick: (name) =>
      own.put({ ticks: ticks.includes(name) ? ticks.filter((t) => t !== name) : [...ticks, name] }),
    restart: () => go(0),
    goTo: go,
  };
}
