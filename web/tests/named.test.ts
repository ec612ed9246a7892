import { describe, expect, it } from "vitest";
import { namedAfter } from "../src/views/sets/bring/named";

describe("a set named after its files", () => {
  it("takes one file's name as it is", () => {
    expect(namedAfter(["koi_and-lantern.svg"])).toBe("Koi and lantern");
    expect(namedAfter(["otter.set.zip"])).toBe("Otter");
    expect(namedAfter(["fern sheet 2.jpg"])).toBe("Fern sheet 2");
  });
  it("takes what all of them begin with, without what each of them is", () => {
    expect(namedAfter(["koi-sheet-1.jpg", "koi-sheet-2.jpg"])).toBe("Koi");
    expect(namedAfter(["Moth bodies.svg", "moth wings.svg"])).toBe("Moth");
    expect(namedAfter(["sheet 1.jpg", "sheet 2.jpg"])).toBe("Sheet");
    expect(namedAfter(["moth.svg", "moth wings.svg"])).toBe("Moth");
  });
  it("takes the first one's where they have nothing in common", () => {
    expect(namedAfter(["bodies.svg", "wings.svg"])).toBe("Bodies");
    expect(namedAfter([])).toBe("");
  });
  it("leaves open what a camera has only counted", () => {
    expect(namedAfter(["IMG_0412.jpg", "IMG_0413.jpg"])).toBe("");
    expect(namedAfter(["20261130_142233.jpg"])).toBe("");
    expect(namedAfter(["DSC01234.JPG", "DSC01240.JPG"])).toBe("");
    expect(namedAfter(["img_koi.jpg"])).toBe("Img koi");
    expect(namedAfter(["moth 2026.jpg"])).toBe("Moth 2026");
  });
});
