/** The canvas says what it waits for, and what did not come; once something is painted it says neither. */
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { Painted, Painter } from "../src/painting/Painter";
import { Canvas } from "../src/parts/Canvas";
import { Store } from "../src/parts/store";

afterEach(cleanup);

class Paints extends Store<Painted> {
  constructor() {
    super({ picture: null, after: null, wet: false, trying: false, turn: 0, error: null });
  }
  want = () => Promise.resolve();
  paint = () => false;
  again = () => this.set({ error: null });
  now = (change: Partial<Painted>) => this.set(change);
}

describe("the canvas", () => {
  const shown = () => {
    const paints = new Paints();
    render(<Canvas painter={paints as unknown as Painter} picture="p" alt="The panel" />);
    return (change: Partial<Painted>) => act(() => paints.now(change));
  };

  it("says that a picture is on its way, until it is there", () => {
    const now = shown();
    expect(screen.getByRole("status").textContent).toContain("being coloured");
    now({ picture: "p", turn: 1 });
    expect(screen.queryByRole("status")).toBeNull();
  });

  it("says when it did not come, and asks for it again", () => {
    const now = shown();
    now({ error: "The picture did not come." });
    expect(screen.getByRole("alert").textContent).toContain("did not come");
    expect(screen.queryByRole("status")).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "Ask for the picture again" }));
    expect(screen.getByRole("status")).toBeTruthy();
    now({ picture: "p", turn: 1 });
    expect(screen.queryByRole("alert")).toBeNull();
  });

  it("says so over the one from before, too, until another is painted", () => {
    const now = shown();
    now({ picture: "p", turn: 1 });
    now({ error: "The picture did not come." });
    expect(screen.getByRole("alert").textContent).toContain("This is still the picture from before.");
    now({ picture: "q", turn: 2, error: null });
    expect(screen.queryByRole("alert")).toBeNull();
  });
});
