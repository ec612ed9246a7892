/** The log as it is opened, searched, and read by its months. */
import { cleanup, fireEvent, screen, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { RecordSummary } from "../src/api/client";
import { Component as Log } from "../src/views/log/Log";
import { served, show } from "./shown";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const record = (id: number, made: string, change: Partial<RecordSummary> = {}): RecordSummary => ({
  id, made, name: `Card ${id}`, person: "", cards: 1, sets: "", stock: "ivory", colours: ["#aa3322", "#223344"], photographs: [], ...change,
}); // prettier-ignore
const many = (count: number) =>
  Array.from({ length: count }, (_, n) => record(n + 1, `2026-0${9 - (n % 3)}-10T18:00:00Z`));
const lesson = { readable: 0, in_force: 0 };

function open(records: RecordSummary[], said: object | undefined = lesson) {
  return served({ "GET /api/records": records, ...(said ? { "GET /api/lesson": said } : {}) });
}

describe("the log", () => {
  it("asks for the pictures that are seen as it opens at once, and for the others when they are near", async () => {
    open(many(8));
    const { container } = show(<Log />);
    expect(await screen.findByText("Card 8")).toBeTruthy();
    const ways = [...container.querySelectorAll("img")].map((i) => i.getAttribute("loading"));
    expect(ways).toEqual([...Array<string>(5).fill("eager"), ...Array<string>(3).fill("lazy")]);
  });

  it("comes with what photographed cards say, so that nothing jumps; and without it where that cannot be had", async () => {
    open(many(1), { readable: 2, in_force: 0 });
    show(<Log />);
    await screen.findByText("Card 1");
    expect(screen.getByText(/2 cards were photographed/)).toBeTruthy();
    cleanup();
    open(many(1), undefined);
    show(<Log />);
    expect(await screen.findByText("Card 1")).toBeTruthy();
    expect(screen.queryByText(/photographed/)).toBeNull();
  });

  it("says what will stand there while there is nothing, and that nothing was found", async () => {
    const sent = open([]);
    show(<Log />);
    expect(await screen.findByText(/^Nothing yet/)).toBeTruthy();
    fireEvent.change(screen.getByRole("searchbox", { name: "Find a card" }), {
      target: { value: " kraft " },
    });
    expect(await screen.findByText(/^No card that was made/)).toBeTruthy();
    expect(sent.filter((s) => s.path === "/api/records")).toHaveLength(2);
  });

  it("has a section for each year, whose months are pressed to look for them; empty ones are not", async () => {
    open([
      record(1, "2026-03-02T10:00:00Z", { person: "Wren", cards: 3 }),
      record(2, "2025-12-24T10:00:00Z"),
    ]);
    show(<Log />);
    const year = within(await screen.findByRole("region", { name: "2026" }));
    expect(year.getByText(/for Wren/).textContent).toContain("3 cards");
    const march = year.getByRole("button", { name: "Mar 2026: 3 cards" }) as HTMLButtonElement;
    expect([march.disabled, (year.getByRole("button", { name: /^Apr 2026/ }) as HTMLButtonElement).disabled]).toEqual([false, true]); // prettier-ignore
    fireEvent.click(march);
    expect((screen.getByRole("searchbox", { name: "Find a card" }) as HTMLInputElement).value).toBe(
      "march 2026",
    );
    expect(within(screen.getByRole("region", { name: "2025" })).queryByText("Card 1")).toBeNull();
  });

  it("shows a card by its photograph where there is one, else as it was predicted", async () => {
    open([record(1, "2026-03-02T10:00:00Z", { photographs: [4, 5] }), record(2, "2026-03-01T10:00:00Z")]);
    const { container } = show(<Log />);
    await screen.findByText("Card 1");
    const [seen, predicted] = [...container.querySelectorAll("img")].map((i) => i.getAttribute("src") ?? "");
    expect(seen).toContain("/api/records/1/photographs/4");
    expect(predicted).toContain("/api/records/2/");
    expect(predicted).not.toContain("photographs");
  });
});
