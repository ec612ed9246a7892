/** Before a sheet is lifted: what was not ticked is asked for, once, while the sheet still lies there. */
import Button from "@mui/material/Button";
import { useCallback, useState } from "react";
import type { Laid, State, TableStep } from "../../../api/client";
import { Asked } from "./big";
import { backTo, forgotten, TAKES_OFF, toTick } from "./ticks";
import type { TableHandle } from "./useTable";

export interface Asking {
  next: () => void;
  /** Names that are asked for now. */
  left: string[];
  /** Nothing is ticked where there is something to tick: going on says that all of it is inked. */
  claims: boolean;
  goOn: () => void;
  goBack: (name: string) => void;
}

export function useAsking(state: State | undefined, set: Laid | undefined, table: TableHandle): Asking {
  const [asked, setAsked] = useState<number | null>(null);
  const { at, step, steps, ticks, next: pass, log } = table;
  const lifts = step && TAKES_OFF.includes(step.kind);
  const names = state && set && step && lifts ? toTick(step, set, state) : [];
  const left = forgotten(names, ticks);
  const open = left.length > 0 && asked === at;
  const mustAsk = left.length > 0 && asked !== at;
  const next = useCallback(() => {
    if (mustAsk) setAsked(at);
    else if (!open) pass();
  }, [mustAsk, open, at, pass]);
  return {
    next,
    left: open ? left : [],
    claims: names.length > 0 && !names.some((n) => ticks.includes(n)),
    goOn: () => {
      setAsked(null);
      pass();
    },
    goBack: (name) => {
      const to: TableStep | undefined = steps[backTo(steps, at, name) ?? -1];
      setAsked(null);
      if (to) log.takeBack(to);
    },
  };
}

export function Forgotten({ asking }: { asking: Asking }) {
  const { left } = asking;
  if (!left.length) return null;
  return (
    <Asked name="Not ticked" question={`Not ticked: ${left.join(", ")}. The sheet still lies there.`}>
      {left.map((name) => (
        <Button
          key={name}
          variant="outlined"
          onClick={() => asking.goBack(name)}
          sx={{ minHeight: 64, fontSize: 20 }}
        >
          Ink {name} now
        </Button>
      ))}
      <Button variant="contained" onClick={asking.goOn} sx={{ minHeight: 64, fontSize: 20 }}>
        It is inked, go on
      </Button>
    </Asked>
  );
}
