/** What comes after its view is drawn in slices; what was there before it, and what follows, at once. */
import { act, render, screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { useThere } from "../src/parts/useThere";

let drawn: string[] = [];

function View({ words }: { words: string | undefined }) {
  const shown = useThere(words) ?? "on its way";
  drawn.push(shown);
  return <p>{shown}</p>;
}

describe("what a view shows", () => {
  it("is drawn once more in slices where it came after the view", () => {
    drawn = [];
    const { rerender } = render(<View words={undefined} />);
    act(() => rerender(<View words="three sheets" />));
    expect(drawn).toEqual(["on its way", "on its way", "three sheets"]);
    expect(screen.getByText("three sheets")).toBeTruthy();
  });

  it("is there at once where it was kept, and at every change", () => {
    drawn = [];
    const { rerender } = render(<View words="three sheets" />);
    act(() => rerender(<View words="four sheets" />));
    expect(drawn).toEqual(["three sheets", "four sheets"]);
  });

  it("is gone at once where it is taken away", () => {
    const { rerender } = render(<View words="three sheets" />);
    drawn = [];
    act(() => rerender(<View words={undefined} />));
    expect(drawn[0]).toBe("on its way");
  });
});
