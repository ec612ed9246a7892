/**
 * Parts below one another, drawn in their turn as they first come: each is laid out by itself, and the page answers in
 * between. Once all are there, whatever changes of them is drawn at once.
 */
import { Children, type ReactNode, startTransition, useEffect, useState } from "react";

interface Props {
  children: ReactNode;
  /** So many are drawn together at first: those that are seen without scrolling. */
  first?: number;
}

export function InTurn({ children, first = 1 }: Props) {
  const all = Children.toArray(children);
  const [drawn, setDrawn] = useState(first);
  useEffect(() => {
    if (drawn < all.length) startTransition(() => setDrawn(drawn + 1));
  }, [drawn, all.length]);
  return all.slice(0, drawn);
}
