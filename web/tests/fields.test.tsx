/** Fields that take a length or a figure, and figures as they are shown. */
import { cleanup, fireEvent, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { FigureField } from "../src/parts/FigureField";
import { LengthField } from "../src/parts/LengthField";
import { contents, figure, length, minutes, parsed, size } from "../src/parts/lengths";
import { counted, typed } from "../src/parts/words";
import { area, figure as onSheet, fine } from "../src/views/sets/opened/measuring";
import { show } from "./shown";

afterEach(cleanup);

const field = (label: string) => screen.getByLabelText(label) as HTMLInputElement;
const type = (label: string, text: string, key = "Enter") => {
  fireEvent.change(field(label), { target: { value: text } });
  if (key) fireEvent.keyDown(field(label), { key });
};

describe("a length that is typed", () => {
  const inches = (onSet = vi.fn(), more = {}) => {
    show(<LengthField label="Wide" mm={101.6} units="in" onSet={onSet} low={40} high={500} {...more} />);
    return onSet;
  };

  it("is taken with Enter, and when the field is left", () => {
    const onSet = inches();
    type("Wide, in", "5 1/4");
    expect(onSet).toHaveBeenLastCalledWith(133.35);
    type("Wide, in", "6", "");
    expect(onSet).toHaveBeenCalledTimes(1);
    fireEvent.blur(field("Wide, in"));
    expect(onSet).toHaveBeenLastCalledWith(152.4);
  });

  it("goes back to what it was where it is none, too small or too large", () => {
    const onSet = inches();
    for (const text of ["abc", "", "1", "999", "4 1/0", "-5"]) {
      type("Wide, in", text, "");
      expect(field("Wide, in").getAttribute("aria-invalid"), text).toBe("true");
      fireEvent.blur(field("Wide, in"));
      expect(field("Wide, in").value, text).toBe("4");
    }
    expect(onSet).not.toHaveBeenCalled();
  });

  it("is left alone by Escape, and where it is the same in other words", () => {
    const onSet = inches();
    type("Wide, in", "7", "Escape");
    fireEvent.blur(field("Wide, in"));
    type("Wide, in", "4.0");
    type("Wide, in", "3 16/16");
    expect(onSet).not.toHaveBeenCalled();
  });

  it("is in millimetres for who has chosen them, with a comma as well", () => {
    const onSet = vi.fn();
    show(<LengthField label="Wide" mm={101.6} units="mm" onSet={onSet} />);
    expect(field("Wide, mm").value).toBe("101.6");
    type("Wide, mm", "105,25");
    expect(onSet).toHaveBeenCalledWith(105.25);
  });

  it("cannot be typed where it is not hers to say", () => {
    inches(vi.fn(), { disabled: true });
    expect(field("Wide, in").disabled).toBe(true);
  });
});

describe("a figure that is typed", () => {
  const turned = (onSet = vi.fn(), more = {}) => {
    show(<FigureField label="Turned, °" value={45} low={-360} high={360} onSet={onSet} {...more} />);
    return onSet;
  };

  it("is taken where it is one, and else put back", () => {
    const onSet = turned();
    type("Turned, °", "12,5");
    expect(onSet).toHaveBeenLastCalledWith(12.5);
    for (const text of ["999", "abc", " ", "1e9"]) {
      type("Turned, °", text);
      expect(field("Turned, °").value).toBe("45");
    }
    type("Turned, °", "45");
    expect(onSet).toHaveBeenCalledTimes(1);
  });

  it("is whole where halves mean nothing", () => {
    const onSet = turned(vi.fn(), { whole: true, low: 1, high: 20 });
    type("Turned, °", "2.5");
    type("Turned, °", "0");
    expect(onSet).not.toHaveBeenCalled();
    type("Turned, °", "3");
    expect(onSet).toHaveBeenCalledWith(3);
  });
});

describe("lengths in words", () => {
  it("reads what people write, and nothing else", () => {
    const inches: [string, number][] = [
      ["4", 101.6], ["4.25", 107.95], ["4 1/4", 107.95], ["1/2", 12.7], ["4,5 in", 114.3], ['5"', 127], ["-1/4", -6.35],
    ]; // prettier-ignore
    for (const [text, mm] of inches) expect(parsed(text, "in"), text).toBeCloseTo(mm, 6);
    expect(parsed("105,5", "mm")).toBe(105.5);
    for (const text of ["", "x", "4 in high", "1//2", "4 1", "--2", "NaN", "Infinity"])
      expect(parsed(text, "in"), text).toBeNull();
  });

  it("comes back as it went, for every sixteenth of an inch up to a foot", () => {
    for (let n = 1; n <= 192; n++) {
      const mm = (n / 16) * 25.4;
      expect(parsed(figure(mm, "in"), "in"), figure(mm, "in")).toBeCloseTo(mm, 6);
      expect(parsed(length(mm, "in"), "in")).toBeCloseTo(mm, 6);
    }
  });

  it("says sizes and times as people do", () => {
    expect(size(107.95, 139.7, "in")).toBe("4 1/4 × 5 1/2 in");
    expect(size(107.95, 139.7, "mm")).toBe("108 × 139.7 mm");
    expect([0.1, 0.5, 0.94, 1, 59.4, 59.7, 60, 95, 119.7].map(minutes)).toEqual(["5 s", "30 s", "55 s", "1 min", "59 min", "1 h", "1 h", "1 h 35 min", "2 h"]); // prettier-ignore
  });

  it("says where tenths of a millimetre matter with three places of an inch", () => {
    expect(fine(0.305, "mm")).toBe("0.30 mm");
    expect(fine(4.2, "mm")).toBe("4.2 mm");
    expect(fine(0.305, "in")).toBe("0.012 in");
    expect(onSheet(0.305, "in")).toBe("0.012");
    expect(onSheet(12.7, "in")).toBe("0.50");
    expect(onSheet(0.305, "mm")).toBe("0.30");
    expect(onSheet(12.72, "mm")).toBe("12.7");
    expect(area(645.16, "in")).toBe("1.000 sq in");
    expect(area(12.34, "mm")).toBe("12.3 mm²");
  });

  it("counts in words that agree", () => {
    expect([0, 1, 2].map((n) => counted(n, "sheet"))).toEqual(["0 sheets", "1 sheet", "2 sheets"]);
    const nouns = { one: "step", many: "steps", shape: "shape", shapes: "shapes" };
    expect(contents({ kind: "stamp set", nouns, sheet_count: 1, opening_count: 1 } as never)).toBe(
      "A stamp set of 1 step, 1 shape",
    );
    expect(typed(" 3,5 ")).toBe(3.5);
  });
});
