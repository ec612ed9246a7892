/** What is chosen on the strata screen, and the keys that act on it. */
import { useEffect, useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import type { Element, Rung } from "../../../api/client";
import { useShared } from "../context";
import { commandFor, type Stage } from "./commands";
import type { Asked } from "./InkPicker";

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
  closeStandIns: () => void;
  askToAdd: (sheet: number) => void;
  closeDrawer: () => void;
}

export function useStage(): Shown {
  const { id, state, set, change } = useShared();
  const [params, setParams] = useSearchParams();
  const [key, setKey] = useState<string | null>(null);
  const [scrubbed, setScrubbed] = useState<number | null>(null);
  const [hovered, setHovered] = useState<string | null>(null);
  const [asked, setAsked] = useState<Asked | null>(null);
  const [wantsStandIn, setWantsStandIn] = useState(false);

  const name = params.get("element") ?? state.elements[0]?.name;
  const element = state.elements.find((e) => e.name === name) ?? state.elements[0];
  const rungs = element?.rungs ?? [];
  const rung = rungs.find((r) => r.key === key) ?? null;
  const count = state.sequence.passes.length;
  const at = Math.min(scrubbed ?? count, count);
  const setAt = (next: number) => setScrubbed(next >= count ? null : Math.max(0, next));

  const chooseElement = (next: string) => {
    setParams({ element: next }, { replace: true });
    setKey(null);
  };
  const choose = (ink: string) => {
    setAsked(null);
    asked?.onChoose(ink);
  };

  const stage: Stage = {
    change,
    rung,
    rungs,
    choose: setKey,
    openDrawer: () => {
      if (!rung) return;
      setAsked({
        title: `An ink for ${rung.element}, ${set.nouns.one} ${rung.sheet}`,
        passKey: rung.key,
        current: rung.ink,
        ground: rung.places[0]?.before.hex,
        recipes: `/inks/recipes?card=${state.stock}&lab=${rung.alone.lab.map((v) => v.toFixed(1)).join(",")}&build=${id}&element=${encodeURIComponent(rung.element)}&sheet=${rung.sheet}&pass=${rung.key}`,
        onChoose: (ink) => ink !== rung.ink && change("set_ink", { pass: rung.key, ink }),
      });
    },
    standIn: () => setWantsStandIn(true),
    scrub: (by) => setAt(at + by),
    nextElement: (by) => {
      const names = state.elements.map((e) => e.name);
      const to = names[(names.indexOf(element?.name ?? "") + by + names.length) % names.length];
      if (to) chooseElement(to);
    },
  };

  const askToAdd = (sheet: number) => {
    if (!element) return;
    const fresh = Math.random().toString(36).slice(2, 12);
    setAsked({
      title: `An ink for ${element.name}, ${set.nouns.one} ${sheet}`,
      recipes: `/inks/recipes?card=${state.stock}&build=${id}&element=${encodeURIComponent(element.name)}&sheet=${sheet}`,
      onChoose: (ink) => {
        change("add_pass", { pass: fresh, element: element.name, sheet, ink });
        setKey(fresh);
      },
    });
  };

  // an address may ask for the stand-in of an ink: ?standin=its key
  const named = rungs.find((r) => r.ink === params.get("standin")) ?? null;
  const missing = wantsStandIn ? rung : named;
  const closeStandIns = () => {
    setWantsStandIn(false);
    if (params.has("standin")) setParams({ element: element?.name ?? "" }, { replace: true });
  };
  useStageKeys(stage, asked !== null || missing !== null);
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
    missing,
    closeStandIns,
    closeDrawer: () => setAsked(null),
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
      if (busy || typing || onButton) return;
      const found = commandFor(event);
      if (!found?.enabled(stage)) return;
      event.preventDefault();
      found.perform(stage);
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  });
}
