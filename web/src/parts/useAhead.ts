/**
 * A value that is moved faster than the server answers: what was set last is
 * shown until the server's own value has caught up with it, so that the next
 * press goes on from there and not from where it was.
 */
import { useEffect, useState } from "react";

const LONGEST_MS = 5000;
// after which the server's value holds: the change was refused, or undone elsewhere

export function useAhead(value: number): [number, (next: number) => void] {
  const [ahead, setAhead] = useState<{ next: number } | null>(null);
  const reached = ahead !== null && ahead.next === value;
  useEffect(() => {
    if (ahead === null) return undefined;
    const timer = setTimeout(() => setAhead(null), reached ? 0 : LONGEST_MS);
    return () => clearTimeout(timer);
  }, [ahead, reached]);
  return [ahead?.next ?? value, (next) => setAhead({ next })];
}
