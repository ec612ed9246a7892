/** Openings mended on the photograph: by two points, by hand or by keys; taken back; what may be off is said. */
import { act, cleanup, fireEvent, screen, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { TracedSheet } from "../src/api/client";
import { OnPhoto } from "../src/views/sets/bring/OnPhoto";
import { offBy } from "../src/views/sets/bring/OnPhotoParts";
import type { Fit } from "../src/views/sets/bring/useMend";
import { show } from "./shown";

afterEach(cleanup);

const traced = (change: Partial<TracedSheet> = {}): TracedSheet => ({
  title: "Bases", name: "a.jpg", turn: 0, mirrored: false, dropped: [], retouches: [], may_be_off: [], places: [], blinded: [], together: [], lines_apart: null, by_ruler: null,
  corners: [[50, 40], [450, 40], [450, 560], [50, 560]], photo: "/api/imports/3/photos/0", photo_size: [500, 600], level: 0.5,
  openings: ["M100,100 140,100 140,140 100,140Z", "M200,200 260,200 260,260Z", "M300,300 310,300 310,310Z"], doubtful: [], ...change,
}); // prettier-ignore

function mending(change: Partial<TracedSheet> = {}, busy = false, onFit?: Fit) {
  const [onRetouches, onDrop] = [vi.fn(), vi.fn()];
  const shown = show(
    <OnPhoto
      sheet={traced(change)}
      busy={busy}
      onCorners={vi.fn()}
      onDrop={onDrop}
      onRetouches={onRetouches}
      {...(onFit ? { onFit } : {})}
      onMeasured={vi.fn()}
    />,
  );
  return { onRetouches, onDrop, ...shown };
}

const group = () => within(screen.getByRole("group", { name: "Mend an opening" }));
const point = (name: string) => screen.getByRole("slider", { name: new RegExp(`^${name}`) });

describe("an opening on the photograph", () => {
  it.each([
    ["Join two", "Join them", "join", "On the one opening"],
    ["Put a bridge in", "Put it there", "bridge", "One end of the bridge"],
    ["Pull an edge", "Pull it there", "pull", "Where the edge is"],
  ])("%s: two points, then one press", (name, act, kind, first) => {
    const { onRetouches } = mending();
    fireEvent.click(group().getByRole("button", { name }));
    expect(screen.queryByRole("group", { name: "Mend an opening" })).toBeNull();
    fireEvent.keyDown(point(first), { key: "ArrowLeft", shiftKey: true });
    fireEvent.click(screen.getByRole("button", { name: act }));
    expect(onRetouches).toHaveBeenCalledWith([
      {
        kind,
        points: [
          [100, 300],
          [390, 300],
        ],
      },
    ]);
    // and it is over: the points are gone, another can be begun
    expect(screen.queryByRole("slider", { name: new RegExp(`^${first}`) })).toBeNull();
    expect(group().getByRole("button", { name })).toBeTruthy();
  });

  it("is drawn point by point by keys, from three on, the last one taken off again", () => {
    const { onRetouches } = mending();
    fireEvent.click(group().getByRole("button", { name: "Draw one" }));
    const act = () => screen.getByRole<HTMLButtonElement>("button", { name: "Draw it" });
    const another = screen.getByRole("button", { name: "Another point" });
    fireEvent.click(another);
    fireEvent.click(another);
    expect(act().disabled).toBe(true);
    fireEvent.click(another);
    fireEvent.keyDown(point("Point 3 of the outline"), { key: "ArrowDown", shiftKey: true });
    fireEvent.click(another);
    fireEvent.click(screen.getByRole("button", { name: "Last point off" }));
    expect(screen.queryByRole("slider", { name: /^Point 4/ })).toBeNull();
    fireEvent.click(act());
    const points = [[250, 300], [270, 300], [290, 310]]; // prettier-ignore
    expect(onRetouches).toHaveBeenCalledWith([{ kind: "draw", points }]);
    expect(screen.queryByRole("slider", { name: /of the outline/ })).toBeNull();
  });

  it("is laid on the edge beside what was drawn, looked at, and drawn so or as it was", () => {
    const edge = [[240, 290], [275, 295], [260, 320]]; // prettier-ignore
    const onFit = vi.fn<Fit>((_points, then) => then(edge));
    const { onRetouches, container } = mending({}, false, onFit);
    fireEvent.click(group().getByRole("button", { name: "Draw one" }));
    const press = (name: string) => fireEvent.click(screen.getByRole("button", { name }));
    press("Another point");
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Fit it to the edge" }).disabled).toBe(true);
    press("Another point");
    press("Another point");
    const drawn = [[250, 300], [270, 300], [290, 300]]; // prettier-ignore
    press("Fit it to the edge");
    expect(onFit).toHaveBeenCalledWith(drawn, expect.anything());
    // its points are too many to be held, and no more are put
    expect(screen.queryByRole("slider", { name: /of the outline/ })).toBeNull();
    expect(screen.queryByRole("button", { name: "Another point" })).toBeNull();
    expect(container.querySelector("polygon[points='240,290 275,295 260,320']")).toBeTruthy();
    press("As I drew it");
    expect(screen.getAllByRole("slider", { name: /of the outline/ })).toHaveLength(3);
    press("Fit it to the edge");
    press("Draw it");
    expect(onRetouches).toHaveBeenCalledWith([{ kind: "draw", points: edge }]);
  });

  it("stays as it was drawn where a point was put before the edge was known", () => {
    let told: (fitted: number[][]) => void = () => undefined;
    mending({}, false, (_points, then) => (told = then));
    fireEvent.click(group().getByRole("button", { name: "Draw one" }));
    const another = screen.getByRole("button", { name: "Another point" });
    for (let n = 0; n < 3; n += 1) fireEvent.click(another);
    fireEvent.click(screen.getByRole("button", { name: "Fit it to the edge" }));
    fireEvent.click(another);
    act(() => told([[1, 1], [2, 1], [2, 2]])); // prettier-ignore
    expect(screen.getAllByRole("slider", { name: /of the outline/ })).toHaveLength(4);
  });

  it("is drawn where a glint hides it, from a list of such places, which no press takes in", () => {
    const { onRetouches } = mending({ blinded: ["M300,400 330,400 330,430Z"] });
    const places = within(screen.getByRole("group", { name: "Places that a glint hides" }));
    fireEvent.click(places.getByRole("button", { name: "Draw at hidden place 1" }));
    expect(screen.getByRole("button", { name: "Draw it" })).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Leave it" }));
    const title = screen.getByText("The lamp blinds the camera here: openings do not show.");
    if (title.parentElement) fireEvent.click(title.parentElement);
    expect(onRetouches).not.toHaveBeenCalled();
    fireEvent.click(screen.getByRole("button", { name: "Nothing more is at hidden place 1" }));
    expect(onRetouches).toHaveBeenCalledWith([{ kind: "leave", points: [[300, 400], [300, 400]] }]); // prettier-ignore
  });

  it("is drawn where none was found, and nothing else is offered there", () => {
    mending({ openings: [] });
    expect(group().getAllByRole("button").map((b) => b.textContent)).toEqual(["Draw one"]); // prettier-ignore
  });

  it("is not left out by a press while another is drawn over it", () => {
    const { onDrop, container } = mending();
    fireEvent.click(group().getByRole("button", { name: "Draw one" }));
    const own = container.querySelector("path[d^='M100,100']")?.closest("g");
    expect(own?.getAttribute("pointer-events")).toBe("none");
    expect(onDrop).not.toHaveBeenCalled();
  });

  it("is left as it is", () => {
    const { onRetouches } = mending();
    fireEvent.click(group().getByRole("button", { name: "Pull an edge" }));
    fireEvent.click(screen.getByRole("button", { name: "Leave it" }));
    expect(onRetouches).not.toHaveBeenCalled();
    expect(group().getByRole("button", { name: "Pull an edge" })).toBeTruthy();
  });

  it("adds to what was mended before, and takes the last one back", () => {
    const before = [
      { kind: "join" as const, points: [[1, 2], [3, 4]] },
      { kind: "pull" as const, points: [[5, 6], [7, 8]] },
    ]; // prettier-ignore
    const { onRetouches } = mending({ retouches: before });
    fireEvent.click(group().getByRole("button", { name: "Take the last mend back" }));
    expect(onRetouches).toHaveBeenLastCalledWith(before.slice(0, 1));
    fireEvent.click(group().getByRole("button", { name: "Put a bridge in" }));
    fireEvent.click(screen.getByRole("button", { name: "Put it there" }));
    expect(onRetouches.mock.lastCall?.[0]).toHaveLength(3);
  });

  it("has nothing to take back where nothing was mended, and waits while it is read", () => {
    mending();
    expect(group().queryByRole("button", { name: "Take the last mend back" })).toBeNull();
    cleanup();
    mending({}, true);
    for (const button of group().getAllByRole("button"))
      expect((button as HTMLButtonElement).disabled).toBe(true);
  });

  it("is not mended and measured by at once", () => {
    mending();
    fireEvent.click(group().getByRole("button", { name: "Join two" }));
    expect(screen.queryByRole("button", { name: "Size by two points" })).toBeNull();
    expect(screen.queryByRole("button", { name: "Size it by these" })).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "Leave it" }));
    fireEvent.click(screen.getByRole("button", { name: "Size by two points" }));
    expect(screen.queryByRole("group", { name: "Mend an opening" })).toBeNull();
    expect(point("First point to measure by")).toBeTruthy();
  });

  it("is not drawn, nor asked for, once it was taken up by a mend", () => {
    const { container } = mending({ openings: ["", "M200,200 260,200 260,260Z"], doubtful: [0, 1] });
    expect(container.querySelectorAll("path > title")).toHaveLength(1);
    expect(
      within(screen.getByRole("group", { name: "Doubtful openings" })).getAllByRole("button"),
    ).toHaveLength(1);
  });

  it("says by how much it may be off, where that is worth a word", () => {
    expect([undefined, 0.001, 0.019, 0.02, 0.084, 4].map(offBy)).toEqual([
      "",
      "",
      "",
      "± 2 %",
      "± 8 %",
      "± 99 %",
    ]);
    mending({ doubtful: [0, 2], may_be_off: [0.07, 0, 0.001] });
    expect(screen.getByRole("button", { name: "Doubtful opening 1: kept, its area ± 7 %" })).toBeTruthy();
    expect(screen.getByRole("button", { name: "Doubtful opening 2: kept" })).toBeTruthy();
  });

  it("may be where none was found: that place is drawn, and taken in by a press on it or on its number", () => {
    const places = ["M10,10 20,10 20,20Z", "M50,60 70,60 70,70Z"];
    const { container, onDrop, onRetouches } = mending({ places });
    const drawn = [...container.querySelectorAll("path > title")].find((t) =>
      t.textContent?.includes("may be"),
    );
    expect(drawn?.parentElement?.getAttribute("d")).toBe(places[0]);
    fireEvent.click(drawn?.parentElement as Element);
    const first = { kind: "take", points: [[10, 10], [10, 10]] }; // prettier-ignore
    expect(onRetouches).toHaveBeenLastCalledWith([first]);
    expect(onDrop).not.toHaveBeenCalled();
    fireEvent.click(screen.getByRole("button", { name: "Take place 2 for an opening" }));
    expect(onRetouches.mock.lastCall?.[0][0].points[0]).toEqual([50, 60]);
    fireEvent.click(screen.getByRole("button", { name: "Place 2 is no opening" }));
    expect(onRetouches.mock.lastCall?.[0]).toEqual([{ kind: "leave", points: [[50, 60], [50, 60]] }]); // prettier-ignore
  });
});
