/** A step or a whole visit carried to another place of the order: what that pins. */
import { type DragEvent, useRef } from "react";

export interface Carried {
  /** Its place in the order. */
  place: number;
  passes: string[];
}

export type Pins = { before: string; after: string }[];

/**
 * What is carried forward comes before all of what it is laid on; what is carried back, after it. Nothing for what
 * lies on itself or holds no pass.
 */
export function pinsOf(carried: Carried, onto: Carried): Pins {
  const own = carried.passes;
  const others = onto.passes.filter((key) => !carried.passes.includes(key));
  const [first] = others;
  const last = others.at(-1);
  if (!own.length || first === undefined || last === undefined) return [];
  return carried.place > onto.place
    ? own.map((before) => ({ before, after: first }))
    : own.map((after) => ({ before: last, after }));
}

/** Props by which something can be carried and laid on; with the pointer only: by keys a step is asked and pinned. */
export function useCarried(on: boolean, pin: (pins: Pins) => void) {
  const held = useRef<Carried | null>(null);
  return (own: Carried) => {
    if (!on || !own.passes.length) return {};
    const mark = (event: DragEvent, over: boolean) => {
      if (event.currentTarget instanceof HTMLElement) event.currentTarget.toggleAttribute("data-over", over);
    };
    return {
      draggable: true,
      onDragStart: (event: DragEvent) => {
        event.stopPropagation();
        event.dataTransfer.effectAllowed = "move";
        event.dataTransfer.setData("text/plain", own.passes.join(" "));
        held.current = own;
      },
      onDragOver: (event: DragEvent) => {
        if (!held.current || !pinsOf(held.current, own).length) return;
        event.preventDefault();
        event.stopPropagation();
        mark(event, true);
      },
      onDragLeave: (event: DragEvent) => mark(event, false),
      onDragEnd: () => {
        held.current = null;
      },
      onDrop: (event: DragEvent) => {
        mark(event, false);
        if (!held.current) return;
        event.preventDefault();
        event.stopPropagation();
        const pins = pinsOf(held.current, own);
        held.current = null;
        if (pins.length) pin(pins);
      },
    };
  };
}
