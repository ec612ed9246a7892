/** Long views come part by part: every part once, in its place, and what is added later at once. */
import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import { PartByPart } from "../src/parts/PartByPart";

afterEach(cleanup);

let drawn: string[] = [];

function Part({ name }: { name: string }) {
  drawn.push(name);
  return <p>{name}</p>;
}

const words = () => screen.getAllByText(/./).map((p) => p.textContent);

describe("part by part", () => {
  it("draws each part once, none again with the next", () => {
    drawn = [];
    render(
      <PartByPart>
        <Part name="one" />
        <Part name="two" />
        {null}
        <Part name="three" />
      </PartByPart>,
    );
    expect(words()).toEqual(["one", "two", "three"]);
    expect(drawn).toEqual(["one", "two", "three"]);
  });

  it("shows what is added later, and takes nothing away for it", () => {
    const view = (middle: boolean) => (
      <PartByPart>
        <Part name="one" />
        {middle && <Part name="two" />}
        <input aria-label="typed" />
      </PartByPart>
    );
    const { rerender } = render(view(false));
    const typed = screen.getByLabelText("typed");
    rerender(view(true));
    expect(screen.getByText("two")).toBeTruthy();
    expect(screen.getByLabelText("typed")).toBe(typed);
  });

  it("has all of a list that has one part, and of one that has none", () => {
    const { rerender } = render(<PartByPart>{[]}</PartByPart>);
    rerender(<PartByPart>{[<Part key="a" name="only" />]}</PartByPart>);
    expect(words()).toEqual(["only"]);
  });
});
