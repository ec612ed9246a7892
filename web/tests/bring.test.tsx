/** A set on its way in: looked over, its corners pulled, its doubtful openings gone through, kept. */
import { cleanup, fireEvent, screen, within } from "@testing-library/react";
import { useState } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Import, TracedSheet } from "../src/api/client";
import { OnPhoto } from "../src/views/sets/bring/OnPhoto";
import { middleOf } from "../src/views/sets/bring/OnPhotoParts";
import { Review } from "../src/views/sets/bring/Review";
import { show } from "./shown";

afterEach(cleanup);

const SQUARE = "M100,100 140,100 140,140 100,140Z";
const traced = (change: Partial<TracedSheet> = {}): TracedSheet => ({
  title: "Bases", name: "a.jpg", turn: 0, mirrored: false, dropped: [], retouches: [], may_be_off: [], places: [], blinded: [], together: [], lines_apart: null, by_ruler: null, unclear: false,
  corners: [[50, 40], [450, 40], [450, 560], [50, 560]], photo: "/api/imports/3/photos/0", photo_size: [500, 600], level: 0.5,
  openings: [SQUARE, "M200,200 260,200 260,260Z", "M300,300 310,300 310,310Z"], doubtful: [], ...change,
}); // prettier-ignore

const corner = (name: string) => screen.getByRole("slider", { name: new RegExp(`^${name} corner`) });
const placeOf = (name: string) => corner(name).getAttribute("aria-valuetext");

describe("the photograph and its corners", () => {
  it("moves a corner by the arrow keys, further with Shift, and never off the photograph", () => {
    show(<OnPhoto sheet={traced()} onCorners={vi.fn()} />);
    fireEvent.keyDown(corner("Top left"), { key: "ArrowRight" });
    fireEvent.keyDown(corner("Top left"), { key: "ArrowDown", shiftKey: true });
    expect(placeOf("Top left")).toBe("51, 50");
    for (let n = 0; n < 12; n++) fireEvent.keyDown(corner("Top left"), { key: "ArrowLeft", shiftKey: true });
    expect(placeOf("Top left")).toBe("0, 50");
    fireEvent.keyDown(corner("Top left"), { key: "a" });
    expect(placeOf("Top left")).toBe("0, 50");
  });

  it("sends the corners in their order, or puts them back", () => {
    const onCorners = vi.fn();
    show(<OnPhoto sheet={traced()} onCorners={onCorners} />);
    expect(screen.queryByRole("button", { name: "Read again from these corners" })).toBeNull();
    fireEvent.keyDown(corner("Bottom right"), { key: "ArrowUp" });
    fireEvent.click(screen.getByRole("button", { name: "Put them back" }));
    expect(placeOf("Bottom right")).toBe("450, 560");
    fireEvent.keyDown(corner("Bottom right"), { key: "ArrowUp" });
    fireEvent.click(screen.getByRole("button", { name: "Read again from these corners" }));
    expect(onCorners).toHaveBeenCalledWith([[50, 40], [450, 40], [450, 559], [50, 560]]); // prettier-ignore
  });

  it("turns the sheet the other way up, and by a corner", () => {
    const onCorners = vi.fn();
    show(<OnPhoto sheet={traced()} onCorners={onCorners} />);
    fireEvent.click(screen.getByRole("button", { name: "The other way up" }));
    expect(placeOf("Top left")).toBe("450, 560");
    fireEvent.click(screen.getByRole("button", { name: "The other way up" }));
    expect(placeOf("Top left")).toBe("50, 40");
    fireEvent.click(screen.getByRole("button", { name: "Next corner is the top left" }));
    fireEvent.click(screen.getByRole("button", { name: "Read again from these corners" }));
    expect(onCorners).toHaveBeenCalledWith([[450, 40], [450, 560], [50, 560], [50, 40]]); // prettier-ignore
  });

  it("shows what lies under the corner that is held, away from it", () => {
    const seen = show(<OnPhoto sheet={traced()} onCorners={vi.fn()} />);
    const lenses = () => seen.container.querySelectorAll("svg svg");
    expect(lenses()).toHaveLength(0);
    fireEvent.focus(corner("Top left"));
    expect(lenses()).toHaveLength(1);
    expect(Number(lenses()[0]?.getAttribute("x"))).toBeGreaterThan(250);
    fireEvent.blur(corner("Top left"));
    expect(lenses()).toHaveLength(0);
  });

  it("leaves out an opening that is pressed, where openings are to be had", () => {
    const onDrop = vi.fn();
    const seen = show(<OnPhoto sheet={traced({ dropped: [1] })} onCorners={vi.fn()} onDrop={onDrop} />);
    const paths = [...seen.container.querySelectorAll("path > title")].map((t) => t.parentElement as Element);
    expect(paths).toHaveLength(3);
    expect(paths[1]?.textContent).toContain("Left out");
    fireEvent.click(paths[2] as Element);
    expect(onDrop).toHaveBeenCalledWith(2);
  });
});

describe("openings that the photograph does not show clearly", () => {
  it("are counted, looked at one after another, left out and taken back", () => {
    const onDrop = vi.fn();
    const Held = () => {
      const [dropped, setDropped] = useState<number[]>([]);
      const drop = (i: number) => {
        onDrop(i);
        setDropped((now) => (now.includes(i) ? now.filter((d) => d !== i) : [...now, i]));
      };
      return <OnPhoto sheet={traced({ doubtful: [0, 2], dropped })} onCorners={vi.fn()} onDrop={drop} />;
    };
    const seen = show(<Held />);
    expect(screen.getByText(/^2 openings are doubtful/)).toBeTruthy();
    const all = within(screen.getByRole("group", { name: "Doubtful openings" })).getAllByRole("button");
    expect(all.map((b) => b.getAttribute("aria-label"))).toEqual([
      "Doubtful opening 1: kept",
      "Doubtful opening 2: kept",
    ]);
    fireEvent.focus(all[0] as Element);
    expect(seen.container.querySelectorAll("svg svg")).toHaveLength(1);
    fireEvent.click(all[1] as Element);
    expect(onDrop).toHaveBeenCalledWith(2);
    expect(
      screen.getByRole("button", { name: "Doubtful opening 2: left out" }).getAttribute("aria-pressed"),
    ).toBe("true");
    fireEvent.click(screen.getByRole("button", { name: "Doubtful opening 2: left out" }));
    expect(screen.getByRole("button", { name: "Doubtful opening 2: kept" })).toBeTruthy();
  });

  it("say nothing where there are none, or where nothing was found", () => {
    const seen = show(<OnPhoto sheet={traced()} onCorners={vi.fn()} onDrop={vi.fn()} />);
    expect(screen.queryByRole("group", { name: "Doubtful openings" })).toBeNull();
    seen.again(<OnPhoto sheet={traced({ openings: [] })} onCorners={vi.fn()} />);
    expect(screen.queryByText(/Press an opening/)).toBeNull();
  });

  it("have their middle where they lie", () => {
    expect(middleOf(SQUARE)).toEqual([120, 120]);
    expect(middleOf("M-10,0 30,8Z")).toEqual([10, 4]);
    expect(middleOf("")).toBeUndefined();
    expect(middleOf(undefined)).toBeUndefined();
  });
});

const sheetOf = (name: string, n: number) => ({
  number: n, name, openings: 1, groups: [{ element: `part ${n}`, outline: SQUARE }], marks: "", shapes: [],
}); // prettier-ignore
const incoming = (change: Partial<Import> = {}): Import => ({
  id: 3, name: "Otter", state: "ready", share: 1, doing: "", sentence: "", source: "drawing", files: 1, guessed: false,
  options: { name: "Otter", kind: "stencil", width_mm: null, height_mm: null, by: "layer", visible: false },
  sheets: ["Bases", "Tones", "Lines"].map((title) => traced({ title, photo: null, openings: [], corners: null })),
  draft: { width_mm: 101.6, height_mm: 127, overlaps: [], elements: ["part 1"], sheets: ["Bases", "Tones", "Lines"].map((s, n) => sheetOf(s, n + 1)) },
  left_out: [], ...change,
}) as unknown as Import; // prettier-ignore

const steps = () => ({
  busy: false,
  stop: vi.fn(),
  again: vi.fn(),
  more: vi.fn(),
  keep: vi.fn(),
  letGo: vi.fn(),
});
function Chosen({ item, own }: { item: Import; own: ReturnType<typeof steps> }) {
  const [chosen, setChosen] = useState(0);
  const draft = item.draft as NonNullable<Import["draft"]>;
  return <Review item={item} draft={draft} steps={own} chosen={chosen} onChoose={setChosen} />;
}
const review = (item: Import, own = steps()) => {
  show(<Chosen item={item} own={own} />);
  return own;
};

describe("a set looked over", () => {
  it("is kept with the name and kind that stand there, without being read again", () => {
    const own = review(incoming());
    fireEvent.change(screen.getByLabelText("Name of the set"), { target: { value: " Heron " } });
    fireEvent.click(screen.getByRole("button", { name: "Keep it" }));
    expect(own.keep).toHaveBeenCalledWith({ name: "Heron", kind: "stencil" });
    expect(own.again).not.toHaveBeenCalled();
  });

  it("is read again at another size, typed in inches, before it can be kept", () => {
    const own = review(incoming());
    const width = screen.getByLabelText("Width, in");
    expect((width as HTMLInputElement).value).toBe("4");
    fireEvent.change(width, { target: { value: "wide" } });
    fireEvent.blur(width);
    expect((width as HTMLInputElement).value).toBe("4");
    fireEvent.change(width, { target: { value: "4 1/4" } });
    fireEvent.keyDown(width, { key: "Enter" });
    expect((screen.getByRole("button", { name: "Keep it" }) as HTMLButtonElement).disabled).toBe(true);
    fireEvent.click(screen.getByRole("button", { name: "Read it at this size" }));
    expect(own.again).toHaveBeenCalledWith({ options: { width_mm: 107.95 } });
  });

  it("says what it holds in words that agree", () => {
    review(incoming());
    expect(screen.getByText("3 sheets, 3 openings, 1 part proposed.")).toBeTruthy();
  });

  it("offers a sheet for each layer or colour of one drawing, however many sheets it has, and of several not", () => {
    review(incoming());
    expect(screen.getByLabelText("A sheet for each")).toBeTruthy();
    expect(screen.getByLabelText(/^Only what is seen/)).toBeTruthy();
    cleanup();
    review(incoming({ files: 3 }));
    expect(screen.queryByLabelText("A sheet for each")).toBeNull();
  });

  it("counts what is doubtful at the button, but not what is left out", () => {
    const sheets = [traced({ doubtful: [0, 2], dropped: [2] }), traced({ doubtful: [1] }), traced()];
    review(incoming({ source: "photograph", sheets }));
    expect(screen.getByRole("button", { name: "Keep it, 2 doubtful too" })).toBeTruthy();
  });

  it("puts a sheet later at once and tells the server in the same breath", () => {
    const own = review(incoming());
    fireEvent.click(screen.getByRole("button", { name: "Later" }));
    const [asked, shown] = own.again.mock.calls[0] as [{ sheets: { at: number }[] }, Import];
    expect(asked.sheets.map((s) => s.at)).toEqual([1, 0, 2]);
    expect(shown.sheets.map((s) => s.title)).toEqual(["Tones", "Bases", "Lines"]);
    expect(shown.draft?.sheets.map((s) => s.name)).toEqual(["Tones", "Bases", "Lines"]);
  });

  it("turns and turns over the sheet that is chosen, and no other", () => {
    const own = review(incoming());
    fireEvent.click(screen.getByRole("button", { name: /^Show sheet 2\b/ }));
    fireEvent.click(screen.getByRole("button", { name: "Quarter turn" }));
    fireEvent.click(screen.getByRole("button", { name: "Mirror" }));
    const asked = own.again.mock.calls.map(
      ([values]) => (values as { sheets: { turn: number; mirrored: boolean }[] }).sheets,
    );
    expect(asked[0]?.map((s) => s.turn)).toEqual([0, 90, 0]);
    expect(asked[1]?.map((s) => s.mirrored)).toEqual([false, true, false]);
  });

  it("sends corners to be read and shows nothing before they are", () => {
    const sheets = [traced()];
    const draft = { ...incoming().draft, sheets: [sheetOf("Bases", 1)] } as NonNullable<Import["draft"]>;
    const own = review(incoming({ source: "photograph", sheets, draft }));
    fireEvent.keyDown(corner("Top left"), { key: "ArrowRight" });
    fireEvent.click(screen.getByRole("button", { name: "Read again from these corners" }));
    const [asked, shown] = own.again.mock.calls[0] as [{ sheets: { corners?: number[][] }[] }, unknown];
    expect(asked.sheets[0]?.corners?.[0]).toEqual([51, 40]);
    expect(shown).toBeUndefined();
  });

  const photographed = (change: Partial<TracedSheet> = {}) => {
    const draft = { ...incoming().draft, sheets: [sheetOf("Bases", 1)] } as NonNullable<Import["draft"]>;
    return review(incoming({ source: "photograph", sheets: [traced(change)], draft }));
  };

  it("moves the edges of its openings by hand, within reason, and back to as they were found", () => {
    const own = photographed();
    expect(screen.getByText("as found")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "As found" })).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "Wider" }));
    fireEvent.click(screen.getByRole("button", { name: "Narrower" }));
    const levels = own.again.mock.calls.map(
      ([asked]) => (asked as { sheets: { level: number }[] }).sheets[0]?.level,
    );
    expect(levels.map((l) => l?.toFixed(2))).toEqual(["0.45", "0.55"]);
    // it is read anew: nothing is shown before that
    expect(own.again.mock.calls[0]?.[1]).toBeUndefined();
    cleanup();
    const wide = photographed({ level: 0.3 });
    expect(screen.getByText("much wider")).toBeTruthy();
    expect((screen.getByRole("button", { name: "Wider" }) as HTMLButtonElement).disabled).toBe(true);
    fireEvent.click(screen.getByRole("button", { name: "As found" }));
    expect(wide.again.mock.calls[0]?.[0]).toMatchObject({ sheets: [{ level: 0.5 }] });
  });

  it("takes its size from two points of the photograph, moved by keys", () => {
    const own = photographed();
    fireEvent.click(screen.getByRole("button", { name: "Size by two points" }));
    const point = (name: string) => screen.getByRole("slider", { name: new RegExp(`^${name} point`) });
    expect(point("First").getAttribute("aria-valuetext")).toBe("110, 300");
    fireEvent.keyDown(point("Second"), { key: "ArrowDown", shiftKey: true });
    expect(point("Second").getAttribute("aria-valuetext")).toBe("390, 310");
    const field = screen.getByLabelText("So far apart, in");
    fireEvent.change(field, { target: { value: "3 1/2" } });
    fireEvent.blur(field);
    fireEvent.click(screen.getByRole("button", { name: "Size it by these" }));
    const [{ measured }] = own.again.mock.calls[0] as [
      { measured: { sheet: number; points: number[][]; apart: number } },
    ];
    expect(measured.sheet).toBe(0);
    expect(measured.points.flat().map(Math.round)).toEqual([110, 300, 390, 310]);
    expect(measured.apart).toBeCloseTo(88.9, 4);
    fireEvent.click(screen.getByRole("button", { name: "Leave the size" }));
    expect(screen.queryByRole("slider", { name: /^First point/ })).toBeNull();
  });

  it("names a sheet when its field is left, and not by nothing", () => {
    const own = review(incoming());
    const field = screen.getByLabelText("Name of this sheet");
    fireEvent.change(field, { target: { value: "  " } });
    fireEvent.blur(field);
    expect(own.again).not.toHaveBeenCalled();
    fireEvent.change(field, { target: { value: "Ground " } });
    fireEvent.blur(field);
    const [asked] = own.again.mock.calls[0] as [{ sheets: { title: string }[] }];
    expect(asked.sheets[0]?.title).toBe("Ground");
  });
});

describe("several photographs of one sheet", () => {
  const photographed = (...sheets: Partial<TracedSheet>[]) =>
    incoming({ source: "photograph", sheets: sheets.map((s, n) => traced({ title: ["Bases", "Tones", "Lines"][n] ?? "", ...s })) }); // prettier-ignore
  const asked = (own: ReturnType<typeof steps>) =>
    (own.again.mock.calls[0] as [{ sheets: { at: number; also?: number[]; apart?: boolean }[] }, unknown])[0];

  it("are put together by saying which sheet it is, and nothing is shown before they are read", () => {
    const own = review(photographed({}, {}, {}));
    fireEvent.click(screen.getByRole("button", { name: /^Show sheet 3\b/ }));
    fireEvent.click(screen.getByRole("button", { name: "The same sheet as …" }));
    fireEvent.click(screen.getByRole("menuitem", { name: "1. Bases" }));
    expect(asked(own).sheets.map(({ at, also }) => [at, also])).toEqual([[0, [2]], [1, undefined]]); // prettier-ignore
    expect(own.again.mock.calls[0]?.[1]).toBeUndefined();
  });

  it("are counted, and taken apart again", () => {
    const own = review(photographed({ together: ["b.jpg"] }, {}, {}));
    expect(screen.getByText(/1 opening, 2 photographs/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Take its photographs apart" }));
    expect(asked(own).sheets[0]).toMatchObject({ at: 0, apart: true });
    cleanup();
    review(photographed({}, {}, {}));
    expect(screen.queryByRole("button", { name: "Take its photographs apart" })).toBeNull();
  });

  it("may come later, which is advised where something is unclear", () => {
    const own = review(photographed({}, { unclear: true }, {}));
    expect(screen.queryByText(/photograph it once more/)).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: /^Show sheet 2\b/ }));
    expect(screen.getByText(/photograph it once more/)).toBeTruthy();
    const file = new File(["x"], "again.jpg", { type: "image/jpeg" });
    fireEvent.change(screen.getByLabelText("One more photograph of this sheet"), {
      target: { files: [file] },
    });
    expect(own.more).toHaveBeenCalledWith(1, file);
  });

  it("is nothing that a drawing has", () => {
    review(incoming());
    expect(screen.queryByRole("button", { name: "One more photograph" })).toBeNull();
  });
});

describe("a sheet beside a ruler of which no size was given", () => {
  const asked = (by_ruler: number | null, guessed = true) => {
    const own = review(
      incoming({
        source: "photograph", guessed, sheets: [traced({ by_ruler }), traced()],
        options: { name: "Otter", kind: "stencil", width_mm: 120, height_mm: 150, by: "layer", visible: false },
      }),
    ); // prettier-ignore
    return { own, group: screen.queryByRole("group", { name: "Size by the ruler beside it" }) };
  };

  it("is sized by its strokes with one press", () => {
    const { own, group } = asked(0.9);
    expect(group?.textContent).toContain("4 1/4 × 5 5/16 in");
    fireEvent.click(screen.getByRole("button", { name: "Size it by the ruler" }));
    expect(own.again).toHaveBeenCalledWith({ options: { width_mm: 108, height_mm: 135 } });
  });

  it("is not asked of where the size is known, or there is no ruler", () => {
    expect(asked(0.9, false).group).toBeNull();
    cleanup();
    expect(asked(null).group).toBeNull();
  });
});

describe("a sheet on a mat of which no size was given", () => {
  const on = (lines_apart: number | null, guessed = true) =>
    review(
      incoming({
        source: "photograph", guessed, sheets: [traced({ lines_apart }), traced(), traced()],
        options: { name: "Otter", kind: "stencil", width_mm: 120, height_mm: 150, by: "layer", visible: false },
      }),
    ); // prettier-ignore
  const asked = () => screen.queryByRole("group", { name: "Size by the lines of the mat" });

  it("is sized by how far its lines are apart", () => {
    const own = on(12);
    fireEvent.click(screen.getByRole("button", { name: "1 cm" }));
    expect(own.again).toHaveBeenCalledWith({ options: { width_mm: 100, height_mm: 125 } });
  });

  it("is not asked of where the size is known, or there are no lines", () => {
    on(12, false);
    expect(asked()).toBeNull();
    cleanup();
    on(null);
    expect(asked()).toBeNull();
  });
});
