/** Arrow keys walk from one thing to the next of a list, the focus with them; typing in a field keeps its arrows. */
import type { KeyboardEvent } from "react";

export function walk(event: KeyboardEvent<HTMLElement>, among: string): void {
  const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
  const target = event.target instanceof HTMLElement ? event.target : null;
  if (!by || target?.closest("[role=combobox], [role=listbox]")) return;
  if (target instanceof HTMLInputElement && event.key !== "ArrowDown") return;
  const all = [...event.currentTarget.querySelectorAll<HTMLElement>(among)];
  const at = all.findIndex((d) => d === document.activeElement);
  const next = all[at < 0 ? 0 : Math.max(0, Math.min(all.length - 1, at + by))];
  if (!next) return;
  event.preventDefault();
  next.focus();
}
