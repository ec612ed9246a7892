import { describe, expect, it } from "vitest";
import type { Finish, FinishValues } from "../src/api/client";
import { gathered, said } from "../src/views/build/finish/FromStock";
import { rateOf } from "../src/views/build/finish/Post";
import {
  aloneOf,
  classWay,
  exact,
  exactSize,
  formatOf,
  inFormat,
  soldAs,
  withMat,
} from "../src/views/build/finish/words";

const FINISH: FinishValues = {
  width: 107.95,
  height: 139.7,
  base: "white",
  fold: "side",
  way: "card",
  edge: 3.175,
  foot: 0,
  mats: [],
  alone: false,
  foam: 2,
  stiffener: "kraft",
  strips: [],
  sheets: [["white", "letter", ""]],
  offcuts: [],
  blade: 0,
};
const FORMATS: Finish["formats"] = [
  { key: "a2", label: "A2", width: 107.95, height: 139.7 },
  { key: "square", label: "Square", width: 150, height: 150 },
];

describe("sizes as they are cut", () => {
  it("are sixteenths where they are some, and said to be about where they are none", () => {
    expect(exact(107.95, "in")).toBe("4 1/4");
    expect(exact(105, "in")).toBe("about 4 1/8");
    expect(exact(104.775, "mm")).toBe("104.775");
    expect(exactSize(150, 139.7, "in")).toBe("about 5 7/8 × 5 1/2 in");
    expect(exactSize(105, 148, "mm")).toBe("105 × 148 mm");
  });
});

describe("a finish", () => {
  it("knows its format standing and lying, and keeps to it when it is changed", () => {
    expect(formatOf(FINISH, FORMATS)?.key).toBe("a2");
    const lying = { ...FINISH, width: 139.7, height: 107.95 };
    expect(formatOf(lying, FORMATS)?.key).toBe("a2");
    expect(inFormat(lying, FORMATS[0] as Finish["formats"][number])).toMatchObject({
      width: 139.7,
      height: 107.95,
    });
    expect(formatOf({ width: 100, height: 100 }, FORMATS)).toBeUndefined();
  });
  it("has no mats, foam or stiffener where the panel itself is folded", () => {
    const matted = withMat(FINISH, "kraft");
    expect(matted.mats).toHaveLength(1);
    expect(aloneOf(matted, true)).toMatchObject({ mats: [], foam: 0, stiffener: "", alone: true });
  });
  it("says once how a stock is bought", () => {
    expect(soldAs(FINISH, "white", "a4", "long")).toEqual([["white", "a4", "long"]]);
    expect(soldAs(FINISH, "kraft", "a4", "")).toHaveLength(2);
  });
});

describe("sheets of stock", () => {
  it("are told once where they are cut alike", () => {
    const sheet = { width: 1, height: 1, offcut: false, waste: 0, pieces: [], cuts: [], left: [] };
    expect(gathered([sheet, { ...sheet }, { ...sheet, width: 2 }]).map(([, n]) => n)).toEqual([2, 1]);
  });
  it("are honest about what cannot be done with fewer", () => {
    expect(said({ take: 3, fewest: 3, waste: 0.255 })).toBe(
      "26 % is left over. It cannot be done with fewer.",
    );
    expect(said({ take: 4, fewest: 3, waste: 0.1 })).toBe("10 % is left over. No way needs fewer than 3.");
    expect(said({ take: 0, fewest: 0, waste: 0.5 })).toBe("50 % is left over.");
  });
});

describe("a rate", () => {
  it("is read as it is typed, with a comma too, and refused where it is none", () => {
    const typed = { name: " Letter ", thick: "5,5", weight: "100", long: "240", wide: "165", price: "1.00" };
    expect(rateOf(typed)).toMatchObject({ name: "Letter", thick: 5.5 });
    expect(rateOf({ ...typed, weight: "many" })).toBeNull();
    expect(rateOf({ ...typed, name: " " })).toBeNull();
  });
});

describe("a class", () => {
  it("is seated in words", () => {
    expect(classWay({ sets: 1, sharing: 8, apart: 9, minutes: 155 })).toBe(
      "1 set of pads: 8 share it, 9 min after one another; all done after 2 h 35 min.",
    );
    expect(classWay({ sets: 8, sharing: 1, apart: 0, minutes: 92 })).toBe(
      "8 sets of pads: one for each; all done after 1 h 32 min.",
    );
  });
});
