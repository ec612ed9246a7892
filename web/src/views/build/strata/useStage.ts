/** What is chosen on the strata screen, and the keys that act on it. */
import { useEffect, useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import type { EditKind, Element, Rung } from "../../../api/client";
import { useShared } from "../context";
import { commandFor, type Stage } from "./commands";
import type { Asked } from "./InkPicker";

export type Beside = "proposals" | "families" | null;

export interface Shown {
  element: Element | undefined;
  chooseElement: (name: string) => void;
  stage: Stage;
  at: number;
  setAt: (at: number) => void;
  hovered: string | null;
  setHovered: (name: string | null) => void;
  asked: Asked | null;
  missing: Rung | null;
  /** What lies beside the picture in the place of the core sample. */
  beside: Beside;
  setBeside: (what: Beside) => void;
  closeStandIns: () => void;
  askToAdd: (sheet: number, more?: Record<string, unknown>) => void;
  addBottled: (sheet: number, more: Record<string, unknown>) => void;
  askFor: (title: string, onChoose: (ink: string) => void, onLook?: Asked["onLook"]) => void;
  closeDrawer: () => void;
}

export function useStage(): Shown {
  const { id, state, set, change, painter } = useShared();
  const [params, setParams] = useSearchParams();
  const [key, setKey] = useState<string | null>(null);
  const [scrubbed, setScrubbed] = useState<number | null>(null);
  const [hovered, setHovered] = useState<string | null>(null);
  const [asked, setAsked] = useState<Asked | null>(null);
  const [wantsStandIn, setWantsStandIn] = useState(false);
  const [beside, showBeside] = useState<Beside>(null);
  const setBeside = (what: Beside) => {
    painter.letGo();
    showBeside(what);
  };

  // a card begins with its image; the bare panel is pointed at, or asked for
  const first = state.elements.find((e) => e.kind !== "free") ?? state.elements[0];
  const name = params.get("element") ?? first?.name;
  const element = state.elements.find((e) => e.name === name) ?? first;
  const rungs = element?.rungs ?? [];
  const rung = rungs.find((r) => r.key === key) ?? null;
  const count = state.sequence.passes.length;
  const at = Math.min(scrubbed ?? count, count);
  const setAt = (next: number) => setScrubbed(next >= count ? null : Math.max(0, next));

  const chooseElement = (next: string) => {
    setParams({ element: next }, { replace: true });
    setKey(null);
  };
  const look = (kind: EditKind, values: (ink: string) => Record<string, unknown>) => (ink: string | null) => {
    if (ink === null) painter.letGo();
    else void painter.try([{ kind, values: values(ink) }]);
  };
  const choose = (ink: string) => {
    setAsked(null);
    painter.letGo();
    asked?.onChoose(ink);
  };
  const called = (sheet: number) => {
    const own = set.sheets.find((s) => s.number === sheet);
    if (!own || own.kind === "free") return "the bare panel";
    return own.kind === "words" || own.kind === "card" ? own.name : `${own.nouns.one} ${own.called}`;
  };

  const stage: Stage = {
    change,
    rung,
    rungs,
    choose: setKey,
    openDrawer: () => {
      if (!rung) return;
      setAsked({
        title: `An ink for ${rung.element}, ${called(rung.sheet)}`,
        onLook: look("set_ink", (ink) => ({ pass: rung.key, ink })),
        passKey: rung.key,
        current: rung.ink,
        ground: rung.places[0]?.before.hex,
        recipes: `/inks/recipes?card=${state.stock}&lab=${rung.alone.lab.map((v) => v.toFixed(1)).join(",")}&build=${id}&element=${encodeURIComponent(rung.element)}&sheet=${rung.sheet}&pass=${rung.key}`,
        onChoose: (ink) => ink !== rung.ink && change("set_ink", { pass: rung.key, ink }),
      });
    },
    standIn: () => setWantsStandIn(true),
    setBeside,
    scrub: (by) => setAt(at + by),
    nextElement: (by) => {
      const names = state.elements.map((e) => e.name);
      const to = names[(names.indexOf(element?.name ?? "") + by + names.length) % names.length];
      if (to) chooseElement(to);
    },
  };

  const askToAdd = (sheet: number, more: Record<string, unknown> = {}) => {
    if (!element) return;
    const fresh = Math.random().toString(36).slice(2, 12);
    const adding = (ink: string) => ({ pass: fresh, element: element.name, sheet, ink, ...more });
    setAsked({
      title: `An ink for ${element.name}, ${called(sheet)}`,
      onLook: look("add_pass", adding),
      recipes: `/inks/recipes?card=${state.stock}&build=${id}&element=${encodeURIComponent(element.name)}&sheet=${sheet}`,
      onChoose: (ink) => {
        change("add_pass", adding(ink));
        setKey(fresh);
      },
    });
  };

  const addBottled = (sheet: number, more: Record<string, unknown>) => {
    if (!element) return;
    const fresh = Math.random().toString(36).slice(2, 12);
    change("add_pass", { pass: fresh, element: element.name, sheet, ...more });
    setKey(fresh);
  };
  const askFor = (title: string, onChoose: (ink: string) => void, onLook?: Asked["onLook"]) =>
    setAsked({ title, onChoose, ...(onLook ? { onLook } : {}) });

  // an address may ask for the stand-in of an ink: ?standin=its key
  const named = rungs.find((r) => r.ink === params.get("standin")) ?? null;
  const missing = wantsStandIn ? rung : named;
  const closeStandIns = () => {
    setWantsStandIn(false);
    if (params.has("standin")) setParams({ element: element?.name ?? "" }, { replace: true });
  };
  useStageKeys(stage, asked !== null || missing !== null || beside !== null);
  const shownAsked = useMemo(() => asked, [asked]);
  return {
    element,
    chooseElement,
    stage,
    at,
    setAt,
    hovered,
    setHovered,
    asked: shownAsked ? { ...shownAsked, onChoose: choose } : null,
    askToAdd,
    addBottled,
    askFor,
    missing,
    beside,
    setBeside,
    closeStandIns,
    closeDrawer: () => {
      setAsked(null);
      painter.letGo();
    },
  };
}

/** Keys act on the stage unless somebody is typing, moving a slider, or choosing from the drawer. */
function useStageKeys(stage: Stage, busy: boolean) {
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      const target = event.target instanceof HTMLElement ? event.target : null;
      const typing = target?.matches(
        "input, textarea, select, [contenteditable], [role=slider], [role=radio]",
      );
      const onButton = target?.matches("button, a, [role=button]") && event.key === "Enter";
      if (busy || typing || onButton || target?.closest("[role=menu], [role=listbox], [role=dialog]")) return;
      const found = commandFor(event);
      if (!found?.enabled(stage)) return;
      event.preventDefault();
      found.perform(stage);
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  });
}
