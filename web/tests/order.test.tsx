/** The order of work: how it is told, what is wished of it, what is asked of a step. */
import { cleanup, fireEvent, screen, waitFor, within } from "@testing-library/react";
import type { ReactElement } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { OrderOfWork, TableStep } from "../src/api/client";
import { keys } from "../src/api/keys";
import { BuildContext, type Shared } from "../src/views/build/context";
import { Better, Totals } from "../src/views/build/order/Better";
import { useOrder } from "../src/views/build/order/useOrder";
import { cardsSaid, pinsBefore, titleOf, Visits } from "../src/views/build/order/Visits";
import { Why } from "../src/views/build/order/Why";
import { beginAt, Wishes } from "../src/views/build/order/Wishes";
import { served, show } from "./shown";
import { ink, laid, step } from "./steps";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const visit = (first: number, steps: TableStep[], change: object = {}) => ({
  cards: [1],
  first,
  minutes: 9,
  steps,
  ...change,
});
const order = (change: object = {}) => ({
  key: "k", cards: 1, minutes: 42, placements: 1, masks: 0, cleanings: 2, waiting: 3, proven: false, words: "Within 4 % of the shortest possible.",
  one_by_one: 42, better: null, job: null, pins: [], returns: [], partings: [], jobs: [], visits: [],
  wishes: { first: "time", hands: 1, heat: false, lead: true, brush_dry: 1, rack: 0, assembly: false, twice: [] }, ...change,
}) as unknown as OrderOfWork; // prettier-ignore
function inBuild(part: ReactElement, change = vi.fn()) {
  const seen = show(
    <BuildContext value={{ id: 6, units: "in", change, set: laid } as unknown as Shared}>
      {part}
    </BuildContext>,
  );
  return { ...seen, change };
}
const visits = (of: OrderOfWork, at = 0) =>
  inBuild(<Visits order={of} set={laid} rungs={new Map()} card="#ffffff" at={at} onChoose={vi.fn()} />);

describe("the search", () => {
  it("is followed though an answer from before it comes after its own", async () => {
    let late: ((answer: Response) => void) | undefined;
    const told = (of: OrderOfWork) =>
      new Response(JSON.stringify(of), { headers: { "Content-Type": "application/json" } });
    const running = () => Promise.resolve(told(order({ job: { state: "running", share: 0.2 } })));
    vi.stubGlobal("fetch", (request: Request) =>
      request.method === "POST" || late
        ? running()
        : new Promise<Response>((done) => {
            late = done;
          }),
    );
    const Search = () => {
      const work = useOrder();
      return work.order ? <Better order={work.order} work={work} /> : null;
    };
    const own = keys.order(6, 1, "p");
    const state = { revision: 1, picture_key: "p" };
    const seen = show(
      <BuildContext value={{ id: 6, state } as unknown as Shared}>
        <Search />
      </BuildContext>,
      { known: [[own, order({ words: "" })]] },
    );
    void seen.queries.invalidateQueries({ queryKey: own });
    await waitFor(() => expect(late).toBeTruthy());
    fireEvent.click(screen.getByRole("button", { name: "Look for a shorter one" }));
    await screen.findByText(/^Looking for a shorter order/);
    late?.(told(order({ words: "" })));
    await waitFor(() => expect(seen.queries.isFetching()).toBe(0));
    expect(screen.getByText(/^Looking for a shorter order/)).toBeTruthy();
  });
});

describe("how long it takes", () => {
  it("is said in words that agree, with how short it is", () => {
    show(<Totals order={order()} />);
    expect(
      screen.getByText(/^1 placement, 0 masks, 2 cleanings, 3 min of waiting\. Within 4 %/),
    ).toBeTruthy();
  });

  it("says what is saved by making several cards together", () => {
    show(<Totals order={order({ cards: 3, one_by_one: 120 })} />);
    expect(screen.getByRole("heading", { name: "42 min for 3 cards" })).toBeTruthy();
    expect(screen.getByText("One card after another would take 2 h, 1 h 18 min more.")).toBeTruthy();
  });

  const work = () => ({ stop: { mutate: vi.fn() }, look: { mutate: vi.fn(), isPending: false }, take: { mutate: vi.fn(), isPending: false } }); // prettier-ignore
  it("can be looked for, and a search can be stopped", () => {
    const own = work();
    const seen = show(<Better order={order()} work={own as never} />);
    fireEvent.click(screen.getByRole("button", { name: "Look for a shorter one" }));
    expect(own.look.mutate).toHaveBeenCalled();
    seen.again(<Better order={order({ job: { state: "running", share: 0.4 } })} work={own as never} />);
    fireEvent.click(screen.getByRole("button", { name: "Stop" }));
    expect(own.stop.mutate).toHaveBeenCalled();
  });

  it("saves what the two times on the screen differ by", () => {
    // 104.6 and 102.4: read as 1 h 45 min and 1 h 42 min
    for (const [saves, said] of [
      [2.2, "3 min less"],
      [0.6, "35 s less"],
      [-2.2, "2 min more"],
      [0, "No shorter order"],
    ] as const) {
      show(
        <Better order={order({ better: { minutes: 102.4, saves, taken: false } })} work={work() as never} />,
      );
      expect(screen.getByRole("status").textContent).toContain(said);
      cleanup();
    }
  });

  it("is taken or not, and taken back", () => {
    const own = work();
    const seen = show(
      <Better order={order({ better: { minutes: 36, saves: 6, taken: false } })} work={own as never} />,
    );
    expect(screen.getByRole("status").textContent).toContain(
      "An order that takes 36 min, 6 min less. The picture stays the same.",
    );
    fireEvent.click(screen.getByRole("button", { name: "Take it" }));
    expect(own.take.mutate).toHaveBeenLastCalledWith(true);
    seen.again(
      <Better order={order({ better: { minutes: 36, saves: 6, taken: true } })} work={own as never} />,
    );
    fireEvent.click(screen.getByRole("button", { name: "Back to the first order" }));
    expect(own.take.mutate).toHaveBeenLastCalledWith(false);
    seen.again(
      <Better order={order({ better: { minutes: 50, saves: -8, taken: false } })} work={own as never} />,
    );
    expect(screen.getByRole("status").textContent).toContain("by your wishes takes 50 min, 8 min more");
  });
});

describe("the steps", () => {
  const two = order({
    visits: [
      visit(0, [step("place"), ink("a"), ink("b")]),
      visit(3, [step("place", { sheet: 2 }), ink("c", 2)]),
    ],
  });

  it("stand under the sheet that is seated", () => {
    visits(two);
    expect(screen.getAllByRole("heading", { level: 2 }).map((h) => h.textContent)).toEqual([
      "Sheet 1: Bases",
      "Sheet 2: Tones",
    ]);
    const rows = within(screen.getAllByRole("list")[1] as HTMLElement).getAllByRole("listitem");
    expect(rows.map((r) => within(r).getAllByText(/\d/)[0]?.textContent)).toEqual(["4", "5"]);
  });

  it("put a whole sheet before the one above, by a pin for each of its passes", () => {
    const { change } = visits(two);
    fireEvent.click(screen.getByRole("button", { name: "Before sheet 1" }));
    expect(change).toHaveBeenCalledWith("several", {
      edits: [{ kind: "pin_order", values: { before: "c", after: "a" } }],
    });
    expect(pinsBefore(two.visits[0] as never, two.visits[1] as never)).toEqual([{ before: "a", after: "c" }, { before: "b", after: "c" }]); // prettier-ignore
  });

  it("keep a return to a sheet apart, and say where one is", () => {
    const back = [visit(0, [step("place"), ink("a")]), visit(2, [step("place", { sheet: 2 }), ink("c", 2)]), visit(4, [step("place"), ink("b")])]; // prettier-ignore
    const { change } = visits(order({ visits: back }));
    fireEvent.click(screen.getByRole("button", { name: "Keep this return apart" }));
    expect(change).toHaveBeenCalledWith("keep_apart", { passes: ["b"], after: "a" });
    cleanup();
    visits(order({ visits: back, returns: [{ passes: ["b"], sheet: 1, called: "x" }] }));
    expect(screen.getByText("kept apart")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Keep this return apart" })).toBeNull();
  });

  it("tell whose hands and what to mind, and how a time was found where one is chosen", () => {
    const steps = [step("prep", { word: "Cut", who: 2, caution: "Cap the knife.", how: "8 cuts" })];
    visits(order({ visits: [visit(0, steps)] }), 0);
    for (const said of [
      "Cut",
      "Second pair of hands: prep it",
      "Cap the knife.",
      "How the time is found: 8 cuts",
    ])
      expect(screen.getByText(said), said).toBeTruthy();
    // other work waits for nothing that could be followed back
    expect(screen.queryByText("Following it back…")).toBeNull();
  });

  it("are called by their seat, and cards as people count them", () => {
    expect(titleOf(laid, 3)).toBe("Thank you");
    expect(titleOf(laid, null)).toBe("First");
    expect([[[1], 1], [[2], 3], [[1, 2, 3], 3], [[2, 3], 5], [[1, 3], 5]].map(([c, n]) => cardsSaid(c as number[], n as number))).toEqual(["", "card 2", "all 3 cards", "cards 2 to 3", "cards 1, 3"]); // prettier-ignore
  });
});

describe("why a step stands where it does", () => {
  const where = "/api/colourings/6/order/why/3";
  const asked = (answer: object, others: string[] = []) => {
    served({
      [`GET ${where}`]: {
        because: ["Campion is dry in minute 12."],
        earlier: null,
        earlier_key: null,
        cost: null,
        forbids: null,
        ...answer,
      },
    });
    return inBuild(<Why order={order()} place={3} pass="a" others={others} />);
  };

  it("says what it would cost earlier, and does it", async () => {
    const { change } = asked({ earlier: "Thin Ice on water", earlier_key: "b", cost: 1.5 });
    fireEvent.click(
      await screen.findByRole("button", { name: "Do it before Thin Ice on water (2 min more)" }),
    );
    expect(change).toHaveBeenCalledWith("pin_order", { before: "a", after: "b" });
    expect(screen.getByText("Campion is dry in minute 12.")).toBeTruthy();
  });

  it("names the rules where the craft forbids it", async () => {
    asked({ earlier: "Thin Ice on water", earlier_key: "b", forbids: "it lies over the base." });
    expect(await screen.findByText("Not before Thin Ice on water: it lies over the base.")).toBeTruthy();
    expect(screen.queryByRole("button")).toBeNull();
  });

  it("comes back to the sheet for it later", async () => {
    const { change } = asked({}, ["b", "c"]);
    fireEvent.click(await screen.findByRole("button", { name: "Come back to this sheet for it later" }));
    expect(change).toHaveBeenCalledWith("keep_apart", { passes: ["a"], after: "c" });
  });
});

describe("what is wished", () => {
  const wished = (change: object = {}) => {
    const found = inBuild(<Wishes order={order(change)} />);
    fireEvent.click(screen.getByRole("button", { name: "More wishes" }));
    return found.change;
  };
  const choose = (label: string, option: string) => {
    fireEvent.mouseDown(screen.getByRole("combobox", { name: label }));
    fireEvent.click(screen.getByRole("option", { name: option }));
  };

  it("puts cutting and putting together into the work", () => {
    const change = wished();
    choose("Cutting and putting together", "part of the work");
    expect(change).toHaveBeenCalledWith("wish_order", { assembly: true });
  });

  it("takes up a second copy of a stencil sheet, and lets it go again", () => {
    const { wishes } = order();
    const change = wished({ wishes: { ...wishes, twice: [2] } });
    const sheets = within(screen.getByRole("group", { name: "Sheets you have twice" }));
    // words that were printed apart are no sheet of a stencil
    expect(sheets.getAllByRole("button").map((b) => b.getAttribute("aria-pressed"))).toEqual([
      "false",
      "true",
    ]);
    fireEvent.click(sheets.getByRole("button", { name: "Sheet 1: Bases" }));
    expect(change).toHaveBeenLastCalledWith("wish_order", { twice: [2, 1] });
    fireEvent.click(sheets.getByRole("button", { name: "Sheet 2: Tones" }));
    expect(change).toHaveBeenLastCalledWith("wish_order", { twice: [] });
  });

  it("asks of several cards what makes no sense of one", () => {
    wished();
    expect(screen.queryByRole("combobox", { name: "Several cards" })).toBeNull();
    cleanup();
    const change = wished({ cards: 4, wishes: { ...order().wishes, rack: 5 } });
    choose("Several cards", "all together");
    expect(change).toHaveBeenLastCalledWith("wish_order", { lead: false });
    // what was set elsewhere is offered as well
    expect(screen.getByRole("combobox", { name: "Places to dry" }).textContent).toBe("5 cards");
  });

  it("takes other work with minutes that are some", () => {
    const change = wished({ jobs: [{ key: "j", name: "Fold", minutes: 4 }] });
    const add = screen.getByRole("button", { name: "Add" }) as HTMLButtonElement;
    fireEvent.change(screen.getByLabelText("Fold the bases, stamp the inside…"), {
      target: { value: " Stamp " },
    });
    for (const wrong of ["0", "121", "soon", "-4"]) {
      fireEvent.change(screen.getByLabelText("Minutes"), { target: { value: wrong } });
      expect(add.disabled, wrong).toBe(true);
    }
    fireEvent.change(screen.getByLabelText("Minutes"), { target: { value: "2,5" } });
    fireEvent.click(add);
    expect(change).toHaveBeenCalledWith("add_job", { name: "Stamp", minutes: 2.5 });
    fireEvent.click(screen.getByRole("button", { name: "Take Fold off the list" }));
    expect(change).toHaveBeenLastCalledWith("drop_job", { key: "j" });
  });

  it("says when to begin, also before midnight", () => {
    wished();
    fireEvent.change(screen.getByLabelText("Ready by"), { target: { value: "00:30" } });
    expect(screen.getByText("Begin at 23:48 the day before at the latest: it takes 42 min.")).toBeTruthy();
    expect(beginAt("18:00", 90)).toBe("16:30");
    expect(beginAt("", 90)).toBeNull();
  });

  it("lets go of pins, one and all, and tells of those that cannot be", () => {
    const pins = Array.from({ length: 8 }, (_, n) => ({
      before: `a${n}`,
      after: `b${n}`,
      called: `pin ${n}`,
      kept: n > 0,
    }));
    const change = wished({ pins });
    expect(screen.getByText(/^pin 0\. As the plan stands now it cannot be so/)).toBeTruthy();
    expect(screen.getByText("and 2 more")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Let go of: pin 3" }));
    expect(change).toHaveBeenCalledWith("unpin_order", { before: "a3", after: "b3" });
    fireEvent.click(screen.getByRole("button", { name: "Let go of all" }));
    expect(change).toHaveBeenLastCalledWith("unpin_order", { all: true });
  });
});
