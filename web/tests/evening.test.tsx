/** Around the table: its end and the pads, what a card takes, links for others, a class, card that is counted. */
import { cleanup, fireEvent, screen, waitFor, within } from "@testing-library/react";
import type { ReactElement } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Finish, Ink, Stock, Table } from "../src/api/client";
import { keys } from "../src/api/keys";
import { Notices } from "../src/parts/Notices";
import { BuildContext, type Shared } from "../src/views/build/context";
import { ForClass } from "../src/views/build/finish/ForClass";
import { ShowOthers } from "../src/views/build/finish/ShowOthers";
import { Supplies } from "../src/views/build/finish/Supplies";
import { TheEnd } from "../src/views/build/table/TheEnd";
import type { TableHandle } from "../src/views/build/table/useTable";
import { EditStock } from "../src/views/inks/EditStock";
import { served, show } from "./shown";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const ink = (key: string, state = "full") =>
  ({ id: key.length, key, name: key, state, revision: 4, dabs: [] }) as unknown as Ink;
const ending = (table: Partial<Table>) =>
  ({
    table: {
      pull: { pads: [{ ink: "campion" }, { ink: "thin-ice" }] },
      taken: [],
      together: false,
      ...table,
    },
  }) as unknown as TableHandle;
const inBuild = (part: ReactElement, more: Partial<Shared> = {}) => (
  <BuildContext value={{ id: 6, units: "in", change: vi.fn(), ...more } as unknown as Shared}>
    {part}
  </BuildContext>
);

describe("the end of the table", () => {
  const drawer = [ink("campion"), ink("thin-ice", "low"), ink("unused")];

  it("asks how the pads are that were used, and no others", () => {
    show(<TheEnd table={ending({})} finish="/finish" card="#ffffff" />, { known: [[keys.inks(), drawer]] });
    const asked = within(screen.getByRole("region", { name: "How are the pads?" })).getAllByRole("group");
    expect(asked.map((g) => g.getAttribute("aria-label"))).toEqual(["campion", "thin-ice"]);
    const low = within(asked[1] as HTMLElement).getByRole("button", { name: "low" });
    expect(low.getAttribute("aria-pressed")).toBe("true");
  });

  it("writes down what is said of a pad, on the drawer as it was seen", async () => {
    const sent = served({
      "PATCH /api/inks/7": {},
      "GET /api/drawer/history": { revision: 5, undo: "Change campion", redo: null },
    });
    show(
      <>
        <TheEnd table={ending({})} finish="/finish" card="#ffffff" />
        <Notices />
      </>,
      { known: [[keys.inks(), drawer]] },
    );
    fireEvent.click(
      within(screen.getByRole("group", { name: "campion" })).getByRole("button", { name: "dry" }),
    );
    await waitFor(() => expect(screen.getByText("campion is dry.")).toBeTruthy());
    expect(sent[0]?.body).toMatchObject({ state: "dry", revision: 4 });
  });

  it("says what the house has fewer, and where the card is written down", () => {
    show(
      <TheEnd
        table={ending({ taken: ["2 sheets of Kraft", "1 sheet of Black"] })}
        finish="/finish"
        card="#fff"
      />,
      {
        known: [[keys.inks(), []]],
      },
    );
    expect(screen.getByText(/2 sheets of Kraft, 1 sheet of Black less in the house/)).toBeTruthy();
    expect(screen.getByRole("link", { name: "log" }).getAttribute("href")).toBe("/log");
    expect(screen.getByRole("link", { name: "Finish" }).getAttribute("href")).toBe("/finish");
  });

  it("is the end of the card where it was put together at the table", () => {
    show(<TheEnd table={ending({ together: true })} finish="/finish" card="#fff" />, {
      known: [[keys.inks(), []]],
    });
    expect(screen.getByRole("heading", { name: "That is the whole card." })).toBeTruthy();
    expect(screen.queryByRole("link", { name: "Finish" })).toBeNull();
    expect(screen.queryByRole("region", { name: "How are the pads?" })).toBeNull();
  });
});

describe("what a card takes", () => {
  const supplies: Finish["supplies"] = [
    { kind: "pad", name: "Campion", amount: "1", place: "tin 2", wanting: "has run dry" },
    { kind: "pad", name: "Thin Ice", amount: "1", place: "tin 1", wanting: "" },
    {
      kind: "stock",
      name: "Kraft",
      amount: "3 x letter",
      place: "shelf",
      wanting: "is short: 1 in the house",
    },
    { kind: "foam", name: "Foam tape", amount: "0.4 m", place: "", wanting: "" },
  ];

  it("says first what must be got, and how much of card", () => {
    show(inBuild(<Supplies found={{ supplies } as Finish} />));
    const first = within(screen.getByRole("list", { name: "To be got first" })).getAllByRole("listitem");
    expect(first.map((l) => l.textContent)).toEqual([
      "Campion has run dry",
      "Kraft is short: 1 in the house: 3 x letter",
    ]);
    const rest = within(screen.getByRole("list", { name: "Supplies" })).getAllByRole("listitem");
    expect(rest.map((l) => l.textContent)).toEqual(["1 pad is there", "Foam tape: 0.4 m"]);
  });

  it("prints, and goes along as a file", () => {
    show(inBuild(<Supplies found={{ supplies: supplies.slice(1, 2) } as Finish} />));
    expect(screen.queryByRole("list", { name: "To be got first" })).toBeNull();
    expect(screen.getByRole("link", { name: "Print the list" }).getAttribute("href")).toBe(
      "/api/colourings/6/supplies.pdf",
    );
    expect(screen.getByRole("link", { name: "As a file (CSV)" }).getAttribute("href")).toBe(
      "/api/colourings/6/supplies.csv",
    );
  });
});

describe("links for others", () => {
  const where = "/api/colourings/6/shares";

  it("are made, looked at, and withdrawn one by one", async () => {
    const sent = served({
      [`GET ${where}`]: [{ id: 3, token: "abc" }, { id: 4, token: "def" }],
      [`POST ${where}`]: { id: 5, token: "ghi" },
      [`DELETE ${where}/4`]: {},
    }); // prettier-ignore
    show(inBuild(<ShowOthers />));
    await waitFor(() => expect(screen.getAllByRole("listitem")).toHaveLength(2));
    expect(screen.getAllByRole("link", { name: "Look at it" })[1]?.getAttribute("href")).toMatch(
      /\/shared\/def$/,
    );
    fireEvent.click(screen.getByRole("button", { name: "Withdraw link 2" }));
    await waitFor(() =>
      expect(sent.some((s) => s.method === "DELETE" && s.path === `${where}/4`)).toBe(true),
    );
    fireEvent.click(screen.getByRole("button", { name: "Make a link" }));
    await waitFor(() => expect(sent.filter((s) => s.method === "POST")).toHaveLength(1));
    // what stands there is asked for afresh after each
    await waitFor(() => expect(sent.filter((s) => s.method === "GET").length).toBeGreaterThanOrEqual(3));
  });

  it("say what cannot be copied by leaving it to be marked by hand", async () => {
    served({ [`GET ${where}`]: [{ id: 3, token: "abc" }] });
    const writeText = vi
      .fn()
      .mockResolvedValueOnce(undefined)
      .mockRejectedValueOnce(new Error("not allowed"));
    vi.stubGlobal("navigator", { ...navigator, clipboard: { writeText } });
    show(inBuild(<ShowOthers />));
    fireEvent.click(await screen.findByRole("button", { name: "Copy link 1" }));
    fireEvent.click(await screen.findByRole("button", { name: "Copied" }));
    await screen.findByRole("button", { name: "Copy link 1" });
    expect(writeText.mock.calls[0]?.[0]).toMatch(/\/shared\/abc$/);
  });
});

describe("a class", () => {
  const ways = [
    { sets: 1, sharing: 8, apart: 16.5, minutes: 223 },
    { sets: 8, sharing: 1, apart: 0, minutes: 107 },
  ];

  it("says how many sets of pads it takes, and who has which when only where pads are shared", async () => {
    served({
      "GET /api/colourings/6/class": {
        people: 8,
        ways,
        pads: ["Campion", "Thin Ice"],
        pieces: [{ count: 8, name: "Base", size: "10 × 6 in" }],
      },
    });
    show(inBuild(<ForClass />));
    await screen.findByText(
      "1 set of pads: 8 share it, 16.5 min after one another; all done after 3 h 43 min.",
    );
    expect(screen.getByText("8 sets of pads: one for each; all done after 1 h 47 min.")).toBeTruthy();
    const lists = screen.getAllByRole("link");
    expect(lists.map((l) => l.getAttribute("href"))).toEqual(["/api/colourings/6/class.csv?people=8&sets=1"]);
    expect(
      screen.getByText(/A set of pads: Campion, Thin Ice\. To cut beforehand: 8 × Base 10 × 6 in/),
    ).toBeTruthy();
  });

  it("is of one to sixty people", async () => {
    const sent = served({ "GET /api/colourings/6/class": { people: 8, ways, pads: [], pieces: [] } });
    show(inBuild(<ForClass />));
    await screen.findByText(/^8 sets of pads/);
    for (const text of ["0", "61", "-3", ""]) {
      fireEvent.change(screen.getByLabelText("People"), { target: { value: text } });
      expect(screen.getByText("From 1 to 60."), text).toBeTruthy();
      expect(screen.queryByText(/sets of pads/), text).toBeNull();
    }
    expect(sent.every((s) => s.path.endsWith("/class"))).toBe(true);
  });
});

describe("card in the house", () => {
  const kraft = {
    id: 2, key: "kraft", name: "Kraft", lab: [66.5, 8.4, 24.2], weight_gsm: 300, thickness_mm: 0.38, finish: "smooth",
    state: "plenty", place: "shelf", notes: "", sheets: null, hex: "#be9b73", revision: 9,
  } as unknown as Stock; // prettier-ignore
  const change = (label: string, value: string) =>
    fireEvent.change(screen.getByLabelText(label), { target: { value } });
  const keep = () => fireEvent.click(screen.getByRole("button", { name: "Keep it" }));

  it("is counted if she likes: only what she changed is sent", async () => {
    const sent = served({
      "PATCH /api/stocks/2": kraft,
      "GET /api/drawer/history": { revision: 10, undo: null, redo: null },
    });
    const onClose = vi.fn();
    show(<EditStock stock={kraft} onClose={onClose} />);
    expect((screen.getByLabelText("Sheets in the house") as HTMLInputElement).value).toBe("");
    change("Sheets in the house", "12");
    keep();
    await waitFor(() => expect(onClose).toHaveBeenCalled());
    expect(sent[0]?.body).toMatchObject({ sheets: 12, revision: 9 });
    expect(Object.keys(sent[0]?.body as object).sort()).toEqual(["edit_key", "revision", "sheets"]);
  });

  it("is no longer counted where the field is emptied", async () => {
    const sent = served({
      "PATCH /api/stocks/2": kraft,
      "GET /api/drawer/history": { revision: 10, undo: null, redo: null },
    });
    show(<EditStock stock={{ ...kraft, sheets: 3 }} onClose={vi.fn()} />);
    change("Sheets in the house", " ");
    keep();
    await waitFor(() => expect(sent.length).toBeGreaterThan(0));
    expect(sent[0]?.body).toMatchObject({ sheets: null });
  });

  it("has no half sheets, none that are owed and not ten thousand", () => {
    const sent = served({});
    show(<EditStock stock={kraft} onClose={vi.fn()} />);
    for (const wrong of ["2.5", "-1", "10000", "many"]) {
      change("Sheets in the house", wrong);
      keep();
      expect(screen.getByRole("alert").textContent, wrong).toContain("from 0 to 9999");
    }
    expect(sent).toEqual([]);
  });

  it("keeps what was typed where the server refuses it, and says why", async () => {
    served({ "PATCH /api/stocks/2": { status: 409, sentence: "Its place is “attic” now." } });
    const onClose = vi.fn();
    show(<EditStock stock={kraft} onClose={onClose} />);
    change("Place", "cupboard");
    keep();
    await waitFor(() => expect(screen.getByRole("alert").textContent).toContain("attic"));
    expect((screen.getByLabelText("Place") as HTMLInputElement).value).toBe("cupboard");
    expect(onClose).not.toHaveBeenCalled();
  });
});
