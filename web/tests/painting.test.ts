/** Pictures by looking up: what comes is unpacked as it was packed, and shown at the moment that is wanted. */
import { describe, expect, it, vi } from "vitest";
import type { Head as BuildHead } from "../src/api/client";
import { Painter } from "../src/painting/Painter";
import { fromBase64, unpack } from "../src/painting/unpack";

const planes = (numbers: number[]) => [0, 8, 16].flatMap((shift) => numbers.map((n) => (n >> shift) & 255));
const zigzag = (numbers: number[]) =>
  numbers.map((n, i) => n - (numbers[i - 1] ?? 0)).map((w) => (w < 0 ? -2 * w - 1 : 2 * w));
const ways = (numbers: number[]) => numbers.map((n, i) => n - (numbers[i - 1] ?? 0));

function packed(head: Record<string, unknown>, ...bytes: number[][]): Uint8Array<ArrayBuffer> {
  const told = new TextEncoder().encode(JSON.stringify(head));
  const found = new Uint8Array(4 + told.length + bytes.flat().length);
  new DataView(found.buffer).setUint32(0, told.length, true);
  found.set(told, 4);
  found.set(bytes.flat(), 4 + told.length);
  return found;
}

const HEAD = { map: "m", picture: "p", wet: "w", width: 2, height: 2, count: 3, with_map: false, rows: null };
const NUMBERS = [0, 1, 70_000, 1];
const RED = [255, 0, 0];
const GREEN = [0, 255, 0];
const BLUE = [0, 0, 255];
const whole = (head: object = {}) =>
  packed({ ...HEAD, with_map: true, ...head }, planes(zigzag([0, 1, 2, 1])), RED, GREEN, BLUE);
const pixel = ([r = 0, g = 0, b = 0]: number[]) => (r | (g << 8) | (b << 16) | 0xff000000) >>> 0;

describe("what comes", () => {
  it("has the numbers of the map and the colours of its stacks", () => {
    const found = unpack(packed({ ...HEAD, with_map: true }, planes(zigzag(NUMBERS)), RED, GREEN, BLUE));
    expect([...(found.numbers ?? [])]).toEqual(NUMBERS);
    expect([...(found.parts[0]?.colours ?? [])]).toEqual([RED, GREEN, BLUE].map(pixel));
    expect(found.parts[0]?.rows).toBeNull();
  });

  it("or only those that changed, and every moment of a build-up", () => {
    const change = unpack(packed({ ...HEAD, rows: 2 }, planes(ways([1, 2])), RED, RED));
    expect([...(change.parts[0]?.rows ?? [])]).toEqual([1, 2]);
    const up = unpack(
      packed({ ...HEAD, steps: [3, 1] }, planes(ways([0, 1, 2])), planes([2]), RED, RED, RED, BLUE),
    );
    expect(up.parts.map((p) => p.colours.length)).toEqual([3, 1]);
  });
});

describe("the painter", () => {
  const paint = (painter: Painter) => {
    const out: number[] = [];
    const context = {
      createImageData: (width: number, height: number) => ({
        width,
        height,
        data: new Uint8ClampedArray(4 * width * height),
      }),
      putImageData: (image: ImageData) => out.push(...new Uint32Array(image.data.buffer)),
    };
    const canvas = { width: 0, height: 0, getContext: () => context } as unknown as HTMLCanvasElement;
    return painter.paint(canvas) ? out : null;
  };
  const answering = (answers: Uint8Array<ArrayBuffer>[]) =>
    vi.fn(async () => (answers.shift() ?? whole()).buffer);

  it("looks every pixel up", async () => {
    const painter = new Painter(1, 800, answering([whole()]));
    expect(paint(painter)).toBeNull();
    await painter.want({ picture: "p", after: null, wet: false });
    expect(paint(painter)).toEqual([RED, GREEN, BLUE, GREEN].map(pixel));
    expect(painter.lookedAt()).toEqual({ width: 800, map: "m", picture: "p" });
  });

  it("leaves a canvas as it is while there is nothing to paint: an opaque one would be black", () => {
    const getContext = vi.fn();
    expect(new Painter(1, 800, answering([])).paint({ getContext } as unknown as HTMLCanvasElement)).toBe(
      false,
    );
    expect(getContext).not.toHaveBeenCalled();
  });

  it("takes the colours that come with the answer to a change, and asks for nothing", async () => {
    const get = answering([whole()]);
    const painter = new Painter(1, 800, get);
    await painter.want({ picture: "p", after: null, wet: false });
    const change = packed({ ...HEAD, picture: "q", rows: 1 }, planes([1]), BLUE);
    const painting = btoa(String.fromCharCode(...change));
    expect(fromBase64(painting)).toEqual(change);
    painter.arrived({ picture_key: "q", painting } as BuildHead);
    expect(paint(painter)).toEqual([RED, BLUE, BLUE, BLUE].map(pixel));
    await painter.want({ picture: "q", after: null, wet: false });
    expect(get).toHaveBeenCalledTimes(1);
    painter.settled("q", "w");
    expect(get).toHaveBeenCalledTimes(1);
    painter.settled("q", "another");
    expect(get).toHaveBeenCalledTimes(2);
  });

  it("goes to any moment and back without asking again", async () => {
    const up = packed(
      { ...HEAD, steps: [3, 1, 1] },
      planes(ways([0, 1, 2])),
      planes([1]),
      planes([2]),
      RED,
      RED,
      RED,
      GREEN,
      BLUE,
    );
    const one = packed(HEAD, RED, GREEN, RED);
    const get = answering([whole(), one, up]);
    const painter = new Painter(1, 800, get);
    await painter.want({ picture: "p", after: null, wet: false });
    await painter.want({ picture: "p", after: 1, wet: false });
    await vi.waitFor(() => expect(get).toHaveBeenCalledTimes(3));
    await vi.waitFor(() => expect(painter.snapshot().after).toBe(1));
    for (const [after, third] of [
      [0, RED],
      [2, BLUE],
      [1, RED],
    ] as const) {
      await painter.want({ picture: "p", after, wet: false });
      expect(paint(painter)?.[2]).toBe(pixel([...third]));
    }
    expect(get).toHaveBeenCalledTimes(3);
  });

  it("shows a change before it is made, and lets it go", async () => {
    const change = packed({ ...HEAD, rows: 1 }, planes([0]), BLUE);
    const painter = new Painter(1, 800, answering([whole(), change]));
    await painter.want({ picture: "p", after: null, wet: false });
    await painter.try([{ kind: "set_stock", values: { stock: "kraft" } }]);
    expect(painter.snapshot().trying).toBe(true);
    expect(paint(painter)?.[0]).toBe(pixel(BLUE));
    painter.letGo();
    expect(paint(painter)?.[0]).toBe(pixel(RED));
  });

  it("goes on showing what is tried when a picture comes that was on its way", async () => {
    const late: ((bytes: ArrayBuffer) => void)[] = [];
    const get = vi.fn(() => new Promise<ArrayBuffer>((resolve) => late.push(resolve)));
    const answer = async (bytes: Uint8Array<ArrayBuffer>) => {
      late.shift()?.(bytes.buffer);
      await vi.waitFor(() => Promise.resolve());
    };
    const change = () => packed({ ...HEAD, rows: 1 }, planes([0]), BLUE);
    const painter = new Painter(1, 800, get);
    const first = painter.want({ picture: "p", after: null, wet: false });
    await answer(whole());
    await first;
    // the small one, then the whole one, which is still on its way when another card is pointed at
    const second = painter.want({ picture: "q", after: null, wet: false });
    await answer(whole({ picture: "q" }));
    const tried = painter.try([{ kind: "set_stock", values: { stock: "kraft" } }]);
    const whole_ = late.shift();
    await answer(change());
    await tried;
    expect(painter.snapshot().trying).toBe(true);
    whole_?.(whole({ picture: "q" }).buffer);
    await second;
    await answer(change());
    await vi.waitFor(() => {
      expect(painter.snapshot()).toMatchObject({ trying: true, picture: "q" });
    });
    painter.letGo();
    expect(painter.snapshot()).toMatchObject({ trying: false, picture: "q" });
    expect(paint(painter)?.[0]).toBe(pixel(RED));
  });

  it("shows a small picture first where things lie elsewhere", async () => {
    const get = answering([whole(), whole({ map: "small" }), whole({ map: "n", picture: "q" })]);
    const painter = new Painter(1, 800, get);
    await painter.want({ picture: "p", after: null, wet: false });
    await painter.want({ picture: "q", after: null, wet: false });
    expect(get.mock.calls.map((c) => String((c as unknown[])[0]).includes("sketch"))).toEqual([
      false,
      true,
      false,
    ]);
    expect(painter.lookedAt()?.map).toBe("n");
  });

  it("shows what is wanted last, however late what was wanted before comes", async () => {
    const late: ((bytes: ArrayBuffer) => void)[] = [];
    const get = vi.fn(() => new Promise<ArrayBuffer>((resolve) => late.push(resolve)));
    const painter = new Painter(1, 800, get);
    const first = painter.want({ picture: "p", after: null, wet: false });
    late[0]?.(whole().buffer);
    await first;
    const other = painter.want({ picture: "p", after: 1, wet: false });
    await painter.want({ picture: "p", after: null, wet: false });
    late[1]?.(packed(HEAD, BLUE, BLUE, BLUE).buffer);
    await other;
    expect(painter.snapshot().after).toBeNull();
    expect(paint(painter)).toEqual([RED, GREEN, BLUE, GREEN].map(pixel));
  });

  it("no longer says that a picture did not come once another moment of it is shown", async () => {
    const get = vi.fn().mockResolvedValueOnce(whole().buffer).mockRejectedValue(new Error("away"));
    const painter = new Painter(1, 800, get);
    await painter.want({ picture: "p", after: null, wet: false });
    await painter.want({ picture: "p", after: 1, wet: false });
    expect(painter.snapshot().error).toBe("The picture did not come.");
    await painter.want({ picture: "p", after: null, wet: false });
    expect(painter.snapshot().error).toBeNull();
  });

  it("says when no picture comes", async () => {
    const painter = new Painter(1, 800, () => Promise.reject(new Error("away")));
    await painter.want({ picture: "p", after: null, wet: false });
    expect(painter.snapshot().error).toBe("The picture did not come.");
  });

  it("asks once more for what did not come", async () => {
    const answers = [Promise.reject(new Error("away")), Promise.resolve(whole().buffer)];
    const painter = new Painter(1, 800, () => answers.shift() ?? Promise.reject(new Error("once too often")));
    await painter.want({ picture: "p", after: null, wet: false });
    painter.again();
    expect(painter.snapshot().error).toBeNull();
    await vi.waitFor(() => expect(painter.snapshot().picture).toBe("p"));
  });
});
