import { beforeEach, describe, expect, it } from "vitest";
import type { SharedPlan } from "../src/api/client";
import { laidBy, next, readTicks, sharedPicture, ticked, writeTicks } from "../src/views/shared/ticks";

const step = (number: number, laid: number) => ({
  number,
  laid,
  sentence: `Do ${number}`,
  caution: "",
  minutes: "1 min",
});
const plan: SharedPlan = {
  name: "A card",
  said: "",
  shape: 1,
  passes: 2,
  pads: [],
  visits: [
    { title: "First", steps: [step(1, 0), step(2, 1)] },
    { title: "Then", steps: [step(3, 2)] },
  ],
};

describe("a shared plan", () => {
  beforeEach(() => localStorage.clear());

  it("keeps what is ticked by its link", () => {
    writeTicks("a", [1, 2]);
    expect(readTicks("a")).toEqual([1, 2]);
    expect(readTicks("b")).toEqual([]);
    localStorage.setItem("shared-a", '{"x":1}');
    expect(readTicks("a")).toEqual([]);
    localStorage.setItem("shared-a", "[1, null, 2.5, 3]");
    expect(readTicks("a")).toEqual([1, 3]);
    localStorage.setItem("shared-a", "[[[");
    expect(readTicks("a")).toEqual([]);
  });

  it("shows what is laid up to the first step that is not done", () => {
    expect([laidBy(plan, []), laidBy(plan, [1, 2]), laidBy(plan, [2, 3]), laidBy(plan, [1, 2, 3])]).toEqual([
      0, 1, 0, 2,
    ]);
    expect(next(plan, [1])?.number).toBe(2);
    expect(next(plan, [1, 2, 3])).toBeUndefined();
    expect(ticked(ticked([], 2), 2)).toEqual([]);
    expect([sharedPicture("t", null), sharedPicture("t", 0)]).toEqual([
      "/api/shared/t/picture",
      "/api/shared/t/picture?after=0",
    ]);
  });
});
