/** The table of a colouring: the steps as they stand, where she is in them, and what moves it. */
import { useCallback, useEffect, useMemo, useState, useSyncExternalStore } from "react";
import type { Table, TableStep } from "../../../api/client";
import { keep, kept } from "../../../parts/store";
import { toldAlone } from "./alone";
import { type Happened, TableLog, withUnsent } from "./tableLog";

interface Ticked {
  step: string;
  names: string[];
}

const ticksKey = (id: number) => `anastrata-ticks-${id}`;
// what is ticked within a step is this device's own

export interface TableHandle {
  log: TableLog;
  table: Table | null;
  steps: TableStep[];
  /** The first step that is not done; the number of steps when all are. */
  at: number;
  step: TableStep | undefined;
  ticks: string[];
  offline: boolean;
  held: string | null;
  error: unknown;
  /** The kind of what happened last here. */
  last: string;
  /** The last thing told otherwise than planned, which can be taken back. */
  told: Table["last_told"];
  next: () => void;
  back: () => void;
  tick: (name: string) => void;
  restart: () => void;
}

export function useTable(id: number): TableHandle {
  const [log] = useState(() => new TableLog(id));
  const { table, unsent, offline, held, error, last } = useSyncExternalStore(log.subscribe, log.snapshot);
  useEffect(() => {
    void log.load();
    const back = () => void log.load();
    window.addEventListener("online", back);
    return () => {
      window.removeEventListener("online", back);
      log.stop();
    };
  }, [log]);
  const steps = useMemo(() => (table ? withUnsent(table.steps, unsent) : []), [table, unsent]);
  const first = steps.findIndex((s) => !s.done.length);
  const at = first < 0 ? steps.length : first;
  const step = steps[at];
  const [ticked, setTicked] = useState<Ticked>(() => kept(ticksKey(id), { step: "", names: [] }));
  const ticks = step && ticked.step === step.key ? ticked.names : [];
  return {
    log,
    table,
    steps,
    at,
    step,
    ticks,
    offline,
    held,
    error,
    last,
    told: useMemo(() => toldAlone(unsent) ?? stillTold(table, unsent), [table, unsent]),
    next: useCallback(() => step && log.done(step), [log, step]),
    back: useCallback(() => {
      const last = steps[at - 1];
      if (last) log.takeBack(last);
    }, [log, steps, at]),
    tick: (name) => {
      if (!step) return;
      const names = ticks.includes(name) ? ticks.filter((t) => t !== name) : [...ticks, name];
      keep(ticksKey(id), { step: step.key, names } satisfies Ticked);
      setTicked({ step: step.key, names });
    },
    restart: () => void log.begin(),
  };
}

/** What the server knows as told last, unless it was taken back here. */
function stillTold(table: Table | null, unsent: Happened[]): Table["last_told"] {
  const told = table?.last_told ?? null;
  const back = unsent.flatMap((e) => (e.kind === "undone" ? (e.body.of as string[]) : []));
  return told?.keys.some((key) => back.includes(key)) ? null : told;
}
