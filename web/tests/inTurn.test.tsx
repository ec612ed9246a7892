/** Parts drawn in their turn: all of them come, in their order, and later changes at once. */
import { act, cleanup, render } from "@testing-library/react";
import { useLayoutEffect } from "react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { InTurn } from "../src/parts/InTurn";

afterEach(cleanup);

// how many stood there when each came
const stood: number[] = [];
function One({ name }: { name: string }) {
  useLayoutEffect(() => void stood.push(document.querySelectorAll("p").length), []);
  return <p>{name}</p>;
}
const parts = (names: string[], first?: number) => (
  <InTurn {...(first ? { first } : {})}>
    {names.map((name) => (
      <One key={name} name={name} />
    ))}
    {null}
  </InTurn>
);
const shown = (container: HTMLElement) => [...container.querySelectorAll("p")].map((p) => p.textContent);

describe("parts drawn in their turn", () => {
  beforeEach(() => stood.splice(0));

  it("come one after another until all are there", async () => {
    const { container } = render(parts(["card", "cut list", "stock", "post"]));
    await act(async () => undefined);
    expect(shown(container)).toEqual(["card", "cut list", "stock", "post"]);
    expect(stood).toEqual([1, 2, 3, 4]);
  });

  it("begin with those that are seen first", async () => {
    render(parts(["card", "cut list", "stock", "post"], 2));
    await act(async () => undefined);
    expect(stood).toEqual([2, 2, 3, 4]);
  });

  it("are drawn at once when they change, one more among them", async () => {
    const { container, rerender } = render(parts(["card", "post"]));
    await act(async () => undefined);
    const card = container.querySelector("p");
    rerender(parts(["card", "stock", "post"]));
    await act(async () => undefined);
    expect(shown(container)).toEqual(["card", "stock", "post"]);
    expect(container.querySelector("p"), "what stays is the same element").toBe(card);
    rerender(parts(["card"]));
    expect(shown(container)).toEqual(["card"]);
  });
});
