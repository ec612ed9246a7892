/** The parts of a long view, drawn one after another, so that the page answers and paints in between. */
import { Children, type ReactNode, startTransition, useEffect, useMemo, useState } from "react";

export function PartByPart({ children }: { children: ReactNode }) {
  const [shown, setShown] = useState(1);
  // kept, for each is another element every time: those that are drawn would be drawn again with each that comes
  const parts = useMemo(() => Children.toArray(children), [children]);
  useEffect(() => {
    // once all are there, what is added later comes at once, and pushes none away
    const next = shown + 1 < parts.length ? shown + 1 : Infinity;
    if (shown !== Infinity) startTransition(() => setShown(next));
  }, [shown, parts.length]);
  return parts.slice(0, shown);
}
