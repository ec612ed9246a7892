/** Photographs from the table: kept here until the house computer has them, each sent once. */
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Refusal, type Table } from "../src/api/client";
import {
  type Sender,
  type Shelf,
  shrunk,
  TablePhotographs,
  type Waiting,
} from "../src/views/build/table/photographs";
import { afterWhat } from "../src/views/build/table/Photographed";

const picture = new Blob(["jpeg"], { type: "image/jpeg" });
const of = { making: 1, card: 2, after: "After Campion on koi" };
const gone = new Refusal(0, "offline", "gone");

class Cupboard implements Shelf {
  held = new Map<string, Waiting>();
  full = false;
  all = (id: number) =>
    Promise.resolve([...this.held].filter(([k]) => k.startsWith(`${id} `)).map(([, one]) => one));
  put = (id: number, one: Waiting) => {
    if (this.full) return Promise.reject(new Error("no room"));
    this.held.set(`${id} ${one.key}`, one);
    return Promise.resolve();
  };
  drop = (id: number, key: string) => {
    this.held.delete(`${id} ${key}`);
    return Promise.resolve();
  };
}

class House implements Sender {
  has: Waiting[] = [];
  refuses: Error | null = null;
  send = (_: number, one: Waiting) => {
    if (this.refuses) return Promise.reject(this.refuses);
    if (!this.has.some((w) => w.key === one.key)) this.has.push(one);
    return Promise.resolve(this.kept());
  };
  takeAway = (id: number) => {
    if (this.refuses) return Promise.reject(this.refuses);
    this.has.splice(id - 1, 1);
    return Promise.resolve();
  };
  kept = () =>
    this.has.map((w, n) => ({
      id: n + 1,
      key: w.key,
      at: w.at,
      card: w.card,
      after: w.after,
    })) as Table["photographs"];
}

describe("photographs from the table", () => {
  let cupboard: Cupboard;
  let house: House;
  beforeEach(() => {
    vi.useFakeTimers();
    cupboard = new Cupboard();
    house = new House();
  });
  afterEach(() => vi.useRealTimers());
  const open = () => new TablePhotographs(6, cupboard, house);

  it("go to the house computer and are no longer kept here", async () => {
    const mine = open();
    await mine.take(picture, of);
    expect(house.has).toMatchObject([{ ...of, picture }]);
    expect(mine.snapshot()).toMatchObject({ waiting: [], held: null });
    expect(mine.snapshot().taken).toMatchObject([{ after: of.after, card: 2 }]);
    expect(cupboard.held.size).toBe(0);
  });

  it("wait here without a network, through a page closed and opened, and go once it is back", async () => {
    house.refuses = gone;
    const mine = open();
    await mine.take(picture, of);
    await mine.take(picture, { ...of, after: "After Lichen on koi" });
    mine.stop();
    expect([house.has.length, cupboard.held.size]).toEqual([0, 2]);
    house.refuses = null;
    const again = open();
    await again.load();
    expect(house.has.map((w) => w.after)).toEqual([of.after, "After Lichen on koi"]);
    expect(again.snapshot().waiting).toEqual([]);
    expect(cupboard.held.size).toBe(0);
  });

  it("are tried again by themselves", async () => {
    house.refuses = gone;
    const mine = open();
    await mine.take(picture, of);
    house.refuses = null;
    await vi.advanceTimersByTimeAsync(5000);
    expect(house.has.length).toBe(1);
  });

  it("that the house computer will never take do not hold up the others, and it is said why", async () => {
    house.refuses = gone;
    const mine = open();
    await mine.take(new Blob(["no picture"]), of);
    await mine.take(picture, of);
    const [bad] = mine.snapshot().waiting;
    const real = house.send;
    house.refuses = null;
    house.send = (id, one) =>
      one.key === bad?.key
        ? Promise.reject(new Refusal(400, "bad_file", "That is no picture."))
        : real(id, one);
    await mine.load();
    await vi.advanceTimersByTimeAsync(1);
    expect(house.has.length).toBe(1);
    expect(mine.snapshot()).toMatchObject({ waiting: [], held: "That is no picture." });
    expect(cupboard.held.size).toBe(0);
  });

  it("of other tables stay where they are", async () => {
    await cupboard.put(7, { ...of, key: "other", at: 1, picture });
    await open().load();
    expect([house.has.length, cupboard.held.size]).toEqual([0, 1]);
  });

  it("are sent although there is no room to keep them, and that is said", async () => {
    cupboard.full = true;
    house.refuses = gone;
    const mine = open();
    await mine.take(picture, of);
    expect(mine.snapshot().held).toContain("no room");
    house.refuses = null;
    await vi.advanceTimersByTimeAsync(5000);
    expect(house.has.length).toBe(1);
  });

  it("are taken away, or it is said why not", async () => {
    const mine = open();
    await mine.take(picture, of);
    const shown = house.kept();
    const [first] = shown;
    if (!first) throw new Error("nothing kept");
    house.refuses = new Refusal(404, "not_found", "That is no longer here.");
    await mine.takeAway(first, shown);
    expect(mine.snapshot().held).toBe("That is no longer here.");
    house.refuses = null;
    await mine.takeAway(first, shown);
    expect(mine.snapshot()).toMatchObject({ taken: [], held: null });
  });

  it("stay as they are where the browser cannot make them smaller", async () => {
    expect(await shrunk(picture)).toBe(picture);
  });
});

describe("what stands under one", () => {
  const ink = (name: string) => ({ kind: "ink", inked: { ink_name: name, element: "koi" } });
  it("is what was laid last", () => {
    const steps = [{ kind: "place" }, ink("Campion"), { kind: "wait" }, ink("Lichen")] as never;
    expect(afterWhat({ steps, at: 3 })).toBe("After Campion on koi");
    expect(afterWhat({ steps, at: 1 })).toBe("Before the first ink");
  });
});
