/** A set opened: walked over with the keyboard, looked at closer, seated elsewhere, measured in her own units. */
import { cleanup, fireEvent, screen, within } from "@testing-library/react";
import { useState } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { LayerSet, Measures } from "../src/api/client";
import { Canvas } from "../src/views/sets/opened/Canvas";
import { MeasurePanel } from "../src/views/sets/opened/MeasurePanel";
import { NamePanel } from "../src/views/sets/opened/NamePanel";
import type { Naming } from "../src/views/sets/opened/naming";
import { SheetStrip } from "../src/views/sets/opened/SheetStrip";
import { show } from "./shown";

afterEach(cleanup);

const box = (x: number, y: number, side = 8) =>
  `M${x},${y} ${x + side},${y} ${x + side},${y + side} ${x},${y + side}Z`;
const shape = (key: string, element: string, x: number, y: number) => ({
  key,
  element,
  role: "tone",
  outline: box(x, y),
});
const set = {
  id: 7, key: "gate", name: "Gate", kind: "stencil", width_mm: 100, height_mm: 80, revision: 1, undo: null, redo: null,
  nouns: { one: "sheet", many: "sheets", shape: "opening", shapes: "openings" }, sheet_count: 2, opening_count: 4,
  preview: [], overlaps: [], elements: ["part 1", "beam"], left_out: [], pictures: [], head: null,
  sheets: [
    { number: 1, name: "Base", openings: 3, marks: "", seat: null, copies: 1, loose: false,
      groups: [{ element: "part 1", sheet: 1, role: "base", outline: box(10, 10) }],
      shapes: [shape("1.1", "part 1", 10, 10), shape("1.2", "part 1", 60, 10), shape("1.3", "beam", 10, 60)] },
    { number: 2, name: "Base again", openings: 1, marks: "", copies: 1, loose: false,
      seat: { of: 1, dx: 12.7, dy: 0, turn: 45, mirrored: false, strength: 1 },
      groups: [], shapes: [shape("2.1", "beam", 60, 60)] },
  ],
} as unknown as LayerSet; // prettier-ignore

function Walked({
  onChosen = vi.fn(),
  shown = [1, 2],
}: {
  onChosen?: (keys: string[]) => void;
  shown?: number[];
}) {
  const [chosen, setChosen] = useState<string[]>([]);
  const choose = (keys: string[], add: boolean) => {
    const next = add
      ? chosen.includes(keys[0] ?? "")
        ? chosen.filter((k) => k !== keys[0])
        : [...chosen, ...keys]
      : keys;
    setChosen(next);
    onChosen(next);
  };
  return (
    <Canvas
      set={set}
      shown={shown}
      chosen={chosen}
      cutting={false}
      label="Sheets 1, 2"
      onChoose={choose}
      onCut={vi.fn()}
    />
  );
}

const sheets = () => screen.getByRole("listbox", { name: "Sheets 1, 2" });
const press = (...pressed: string[]) => pressed.forEach((key) => fireEvent.keyDown(sheets(), { key }));
const at = () => sheets().getAttribute("aria-activedescendant");
const viewBox = () => (sheets().getAttribute("viewBox") ?? "").split(" ").map(Number);

describe("the sheets by keyboard", () => {
  it("are one list, each opening with the name of its part", () => {
    show(<Walked />);
    const all = within(sheets()).getAllByRole("option");
    expect(all.map((o) => o.getAttribute("aria-label"))).toEqual([
      "part 1, sheet 1", "part 1, sheet 1", "beam, sheet 1", "beam, sheet 2",
    ]); // prettier-ignore
  });

  it("are gone through as one reads, round and round", () => {
    show(<Walked />);
    press("Home");
    expect(at()).toBe("opening-1.1");
    press("PageDown", "PageDown", "PageDown");
    expect(at()).toBe("opening-2.1");
    press("PageDown");
    expect(at()).toBe("opening-1.1");
    press("PageUp");
    expect(at()).toBe("opening-2.1");
    expect(screen.getByText(/^4 of 4: beam/)).toBeTruthy();
  });

  it("are gone to by arrows, which stay where nothing lies ahead", () => {
    show(<Walked />);
    press("Home", "ArrowRight");
    expect(at()).toBe("opening-1.2");
    press("ArrowDown");
    expect(at()).toBe("opening-2.1");
    press("ArrowLeft", "ArrowLeft", "ArrowLeft");
    expect(at()).toBe("opening-1.3");
  });

  it("are chosen alone with Enter, several with Space", () => {
    const onChosen = vi.fn();
    show(<Walked onChosen={onChosen} />);
    press("Home", "Enter");
    expect(onChosen).toHaveBeenLastCalledWith(["1.1"]);
    press("End", " ");
    expect(onChosen).toHaveBeenLastCalledWith(["1.1", "2.1"]);
    press(" ");
    expect(onChosen).toHaveBeenLastCalledWith(["1.1"]);
    const selected = within(sheets()).getAllByRole("option", { selected: true });
    expect(selected.map((o) => o.id)).toEqual(["opening-1.1"]);
  });

  it("leave Enter to the name once what it is at is chosen", () => {
    const outside = vi.fn();
    show(
      // what stands around the sheets hears only what they leave
      // eslint-disable-next-line jsx-a11y/no-static-element-interactions
      <div onKeyDown={(e) => outside(e.key)}>
        <Walked />
      </div>,
    );
    press("Home", "Enter");
    expect(outside).not.toHaveBeenCalled();
    press("Enter", "n");
    expect(outside.mock.calls).toEqual([["Enter"], ["n"]]);
  });

  it("come closer and go off again, and follow what is gone to", () => {
    show(<Walked />);
    expect(viewBox()).toEqual([0, 0, 100, 80]);
    press("Home", "+", "+", "+");
    const near = viewBox();
    expect(near[2]).toBeCloseTo(100 / 1.6 ** 3);
    press("End");
    const [x = 0, y = 0, wide = 0, high = 0] = viewBox();
    expect(x <= 64 && 64 <= x + wide && y <= 64 && 64 <= y + high).toBe(true);
    press("-", "0");
    expect(viewBox()).toEqual([0, 0, 100, 80]);
  });

  it("come closer between two fingers, and nothing is chosen by that", () => {
    const onChosen = vi.fn();
    show(<Walked onChosen={onChosen} />);
    const own = sheets();
    own.setPointerCapture = vi.fn();
    (own as unknown as SVGSVGElement).getScreenCTM = () => null;
    const finger = (kind: "pointerDown" | "pointerMove" | "pointerUp", pointerId: number, clientX: number) =>
      fireEvent[kind](own, { pointerId, pointerType: "touch", clientX, clientY: 50, button: 0 });
    finger("pointerDown", 1, 100);
    finger("pointerDown", 2, 140);
    finger("pointerMove", 2, 180);
    expect(viewBox()[2]).toBeCloseTo(50);
    finger("pointerMove", 1, 140);
    expect(viewBox()[2]).toBeCloseTo(100);
    finger("pointerUp", 1, 140);
    finger("pointerUp", 2, 180);
    expect(onChosen).not.toHaveBeenCalled();
    // one finger afterwards presses as before
    document.elementFromPoint = () => null;
    finger("pointerDown", 3, 20);
    finger("pointerUp", 3, 20);
    expect(onChosen).toHaveBeenCalledTimes(1);
  });

  it("have buttons for who has no wheel and no keys", () => {
    show(<Walked />);
    const off = screen.getByRole("button", { name: "Further off" }) as HTMLButtonElement;
    expect(off.disabled).toBe(true);
    fireEvent.click(screen.getByRole("button", { name: "Closer" }));
    expect(viewBox()[2]).toBeCloseTo(62.5);
    fireEvent.click(screen.getByRole("button", { name: "All of it" }));
    expect(viewBox()).toEqual([0, 0, 100, 80]);
  });

  it("pass over sheets that are off the stack", () => {
    show(<Walked shown={[2]} />);
    press("Home", "PageDown");
    expect(at()).toBe("opening-2.1");
    expect(screen.getByText(/^1 of 1: beam/)).toBeTruthy();
  });
});

describe("a sheet seated elsewhere", () => {
  const strip = (units: "in" | "mm" = "in") => {
    const edits = {
      edit: vi.fn(async () => undefined),
      undo: vi.fn(async () => undefined),
      redo: vi.fn(async () => undefined),
    };
    show(<SheetStrip set={set} shown={[1, 2]} onShown={vi.fn()} edits={edits} />, { units });
    fireEvent.click(screen.getAllByRole("button", { name: "Change" })[1] as HTMLElement);
    return edits.edit;
  };
  const keep = (label: string, text: string) => {
    fireEvent.change(screen.getByLabelText(label), { target: { value: text } });
    fireEvent.keyDown(screen.getByLabelText(label), { key: "Enter" });
  };

  it("is shifted in inches where inches are chosen", () => {
    const edit = strip();
    expect((screen.getByLabelText("Right, in") as HTMLInputElement).value).toBe("1/2");
    keep("Right, in", "3/4");
    expect(edit).toHaveBeenCalledWith("change_seat", { sheet: 2, dx: 19.05 });
  });

  it("takes no figure that is none", () => {
    const edit = strip("mm");
    keep("Right, mm", "abc");
    keep("Down, mm", "999");
    keep("Turned, °", "one");
    expect(edit).not.toHaveBeenCalled();
    expect((screen.getByLabelText("Right, mm") as HTMLInputElement).value).toBe("12.7");
    keep("Turned, °", "-90");
    expect(edit).toHaveBeenCalledWith("change_seat", { sheet: 2, turn: -90 });
  });
});

const measured = {
  minutes: 6, islands: [], masks: [], bridges: [], slips: [],
  openings: [
    { key: "1.1", sheet: 1, element: "part 1", area_mm2: 64, inscribed_mm: 8, circle: [14, 14], neck_mm: 0.4, neck_ends: [[0, 0], [1, 1]], brush: "medium", smallest: "small", minutes: 1, gap_mm: 12.7, how: {} },
    { key: "1.2", sheet: 1, element: "part 1", area_mm2: 64, inscribed_mm: 8, circle: [64, 14], neck_mm: null, neck_ends: [], brush: null, smallest: null, minutes: 1, gap_mm: null, how: {} },
  ],
} as unknown as Measures; // prettier-ignore

describe("measures", () => {
  const panel = (kind: "brush" | "neck" | "bridge" | "mask" | "slip", units: "in" | "mm", chosen: string[] = [], found = measured, of = set) =>
    show(
      <MeasurePanel
        set={of} measures={found} job={undefined} kind={kind} onKind={vi.fn()} chosen={chosen} asked={null} onAsk={vi.fn()}
        panel={{ width: 90, height: 70, dx: 0, dy: 0 }} onPanel={vi.fn()}
      />,
      { units },
    ); // prettier-ignore

  it("call the parts of a stamp set steps", () => {
    const stamps = { ...set, kind: "stamp set", nouns: { one: "step", many: "steps", shape: "shape", shapes: "shapes" } } as LayerSet; // prettier-ignore
    const found = {
      ...measured,
      slips: [{ element: "beam", under_sheet: 1, over_sheet: 2, first: "2.1", least_mm: 0.1, worst: 0, by_direction: [], register: null, register_words: "", how: "" }],
      masks: [{ sheet: 1, inked: "part 1", covered: "beam", fits: true, gap_mm: 2, how: "" }],
    } as unknown as Measures; // prettier-ignore
    for (const [kind, row] of [
      ["slip", "beam: step 2 on step 1"],
      ["mask", "Inking part 1, keeping beam clean (step 1)"],
    ] as const) {
      const { container } = panel(kind, "mm", [], found, stamps);
      expect(screen.getByText(row)).toBeTruthy();
      expect(container.textContent).not.toMatch(/\bsheet/);
      cleanup();
    }
  });

  it("of an opening are in her own units", () => {
    panel("brush", "in", ["1.1"]);
    const card = screen.getByText("part 1, sheet 1").parentElement as HTMLElement;
    for (const said of ["0.099 sq in", "0.315 in", "0.016 in", "0.500 in"])
      expect(within(card).getByText(said)).toBeTruthy();
    cleanup();
    panel("brush", "mm", ["1.1"]);
    for (const said of ["64.0 mm²", "8.0 mm", "0.40 mm", "12.7 mm"])
      expect(screen.getByText(said)).toBeTruthy();
  });

  it("say how many narrow, and the narrowest", () => {
    panel("neck", "in");
    expect(screen.getByText(/^1 opening narrows to a neck; the narrowest is 0.016 in/)).toBeTruthy();
  });

  it("speak of one bridge as of one", () => {
    const bridge = { one: "1.1", other: "1.2", sheet: 1, width_mm: 0.3, ends: [[0, 0], [1, 0]], thin: true, how: "so" }; // prettier-ignore
    panel("bridge", "mm", [], { ...measured, bridges: [bridge] } as unknown as Measures);
    expect(screen.getByText("1 bridge is too thin to hold by itself: bristles creep under.")).toBeTruthy();
    expect(screen.getByText("0.30 mm")).toBeTruthy();
  });

  it("fold the tones that are drawn flush, and keep each row's place", () => {
    const slip = (element: string, least_mm: number) => ({ element, under_sheet: 1, over_sheet: 2, first: "2.1", least_mm, flush: !least_mm, worst: 0, by_direction: [], register: null, register_words: "", how: "" }); // prettier-ignore
    const of = (...slips: unknown[]) => ({ ...measured, slips }) as unknown as Measures;
    const asked = vi.fn();
    const shown = (found: Measures) =>
      show(
        <MeasurePanel
          set={set} measures={found} job={undefined} kind="slip" onKind={vi.fn()} chosen={[]} asked={null} onAsk={asked}
          panel={{ width: 90, height: 70, dx: 0, dy: 0 }} onPanel={vi.fn()}
        />,
      ); // prettier-ignore
    shown(of(slip("beam", 0), slip("gate", 0), slip("quay", 0.3)));
    expect(screen.getByText(/^2 tones are drawn flush/)).toBeTruthy();
    expect(screen.queryByText(/^beam/)).toBeNull();
    fireEvent.click(screen.getByText(/^quay/));
    expect(asked).toHaveBeenLastCalledWith(2);
    fireEvent.click(screen.getByRole("button", { name: "Show them" }));
    expect(screen.getAllByText("flush")).toHaveLength(2);
    fireEvent.click(screen.getByText(/^gate/));
    expect(asked).toHaveBeenLastCalledWith(1);
    cleanup();
    shown(of(slip("beam", 0), slip("quay", 0.3)));
    expect(screen.queryByText(/drawn flush/)).toBeNull();
    expect(screen.getByText("flush")).toBeTruthy();
  });

  it("say that they are being taken", () => {
    show(
      <MeasurePanel
        set={set} measures={undefined} job={undefined} kind="brush" onKind={vi.fn()} chosen={[]} asked={null} onAsk={vi.fn()}
        panel={{ width: 90, height: 70, dx: 0, dy: 0 }} onPanel={vi.fn()}
      />,
    ); // prettier-ignore
    expect(screen.getByRole("status").textContent).toContain("Measuring every opening");
  });

  it("of a large set say how far they are", () => {
    const job = { state: "running", share: 0.4, doing: "Moving tones over their bases", sentence: "", field: "" } as const; // prettier-ignore
    show(
      <MeasurePanel
        set={set} measures={undefined} job={job} kind="brush" onKind={vi.fn()} chosen={[]} asked={null} onAsk={vi.fn()}
        panel={{ width: 90, height: 70, dx: 0, dy: 0 }} onPanel={vi.fn()}
      />,
    ); // prettier-ignore
    expect(screen.getByRole("status").textContent).toContain("Moving tones over their bases");
    expect(screen.getByRole("progressbar").getAttribute("aria-valuenow")).toBe("40");
  });
});

describe("the names of parts", () => {
  const naming = (chosen: string[]): Naming => ({
    set, chosen, elements: set.elements, edit: vi.fn(async () => undefined), choose: vi.fn(), cut: vi.fn(), cutting: false,
  }); // prettier-ignore

  it("gives what is chosen a name and the keyboard back to the sheets", () => {
    const own = naming(["1.1", "1.2"]);
    show(
      <>
        <Walked />
        <NamePanel naming={own} nameInput={{ current: null }} />
      </>,
    );
    expect(screen.getByText("2 openings")).toBeTruthy();
    fireEvent.change(screen.getByLabelText("Name this part (Enter)"), { target: { value: "lock gate" } });
    fireEvent.click(screen.getByRole("button", { name: "Name" }));
    expect(own.edit).toHaveBeenCalledWith("move", { openings: ["1.1", "1.2"], element: "lock gate" });
    expect(document.activeElement).toBe(sheets());
  });

  it("says how many parts have none yet", () => {
    show(<NamePanel naming={naming([])} nameInput={{ current: null }} />);
    expect(screen.getByText(/1 part has no name yet/)).toBeTruthy();
    expect((screen.getByRole("button", { name: "Name" }) as HTMLButtonElement).disabled).toBe(true);
  });
});
