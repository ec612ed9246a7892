/** The table's place: two devices, no connection, an order that changed. */
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Refusal, type Table } from "../src/api/client";
import { type Server, TablePlace } from "../src/views/build/table/tablePlace";

class Workshop implements Server {
  now: Table = { signature: "s1", revision: 0, step: 0, ticks: [], wait_started: null, changed: false };
  down = false;
  received: number[] = [];
  load = () => (this.down ? Promise.reject(new Refusal(0, "offline", "gone")) : Promise.resolve(this.now));
  answersLost = false;
  private keys = new Set<string>();
  put: Server["put"] = (_id, place, key) => {
    if (this.down) return Promise.reject(new Refusal(0, "offline", "gone"));
    if (this.keys.has(key)) return Promise.resolve(this.now);
    if (place.signature !== this.now.signature || place.revision !== this.now.revision)
      return Promise.reject(new Refusal(409, "stale", "This table was changed elsewhere: step 4."));
    this.received.push(place.step);
    this.keys.add(key);
    this.now = { ...this.now, ...place, revision: (this.now.revision ?? 0) + 1 };
    if (this.answersLost) return Promise.reject(new Refusal(0, "offline", "gone"));
    return Promise.resolve(this.now);
  };
  open = async () => {
    const place = new TablePlace(7, this);
    await place.load();
    return place;
  };
}

const settled = () => vi.advanceTimersByTimeAsync(10_000);

describe("the place at the table", () => {
  let workshop: Workshop;
  beforeEach(() => {
    vi.useFakeTimers();
    localStorage.clear();
    workshop = new Workshop();
  });
  afterEach(() => vi.useRealTimers());

  it("goes on step by step, each on the revision of the one before", async () => {
    const place = await workshop.open();
    for (const step of [1, 2, 3]) {
      place.put({ step });
      await settled();
    }
    expect(workshop.now.step).toBe(3);
    expect(place.snapshot().elsewhere).toBeNull();
  });

  it("quick presses end at the last one", async () => {
    const place = await workshop.open();
    for (const step of [1, 2, 3, 4]) place.put({ step });
    await settled();
    expect(workshop.now.step).toBe(4);
  });

  it("is kept here without a connection, through a reload, and sent when it is back", async () => {
    const place = await workshop.open();
    workshop.down = true;
    place.put({ step: 2, ticks: ["water"] });
    await settled();
    expect(place.snapshot().offline).toBe(true);
    place.stop();
    workshop.down = false;
    const again = await workshop.open();
    await settled();
    expect(again.snapshot().place).toMatchObject({ step: 2, ticks: ["water"] });
    expect(workshop.now.step).toBe(2);
  });

  it("a step whose answer was lost is made once, and is nobody else's", async () => {
    const place = await workshop.open();
    workshop.answersLost = true;
    place.put({ step: 1 });
    await vi.advanceTimersByTimeAsync(10);
    workshop.answersLost = false;
    await settled();
    expect(workshop.received).toEqual([1]);
    expect(place.snapshot()).toMatchObject({ elsewhere: null, offline: false, place: { step: 1 } });
  });

  it("a reload right after a tick loses neither the step nor the tick", async () => {
    const place = await workshop.open();
    workshop.answersLost = true;
    place.put({ step: 2 });
    place.put({ ticks: ["lantern"] });
    await vi.advanceTimersByTimeAsync(10);
    place.stop();
    workshop.answersLost = false;
    const again = await workshop.open();
    await settled();
    expect(again.snapshot()).toMatchObject({ elsewhere: null, place: { step: 2, ticks: ["lantern"] } });
    expect(workshop.now).toMatchObject({ step: 2, ticks: ["lantern"] });
    expect(localStorage.getItem("anastrata-table-7")).toBeNull();
  });

  it("a reload does not overrule a step made elsewhere after a lost answer", async () => {
    const place = await workshop.open();
    workshop.answersLost = true;
    place.put({ step: 2 });
    await vi.advanceTimersByTimeAsync(10);
    place.stop();
    workshop.answersLost = false;
    workshop.now = { ...workshop.now, step: 5, revision: 2 };
    const again = await workshop.open();
    await settled();
    expect(again.snapshot().place?.step).toBe(5);
    expect(workshop.now.step).toBe(5);
  });

  it("a second device is told, and nobody is overruled without a word", async () => {
    const [one, two] = [await workshop.open(), await workshop.open()];
    one.put({ step: 3 });
    await settled();
    two.put({ step: 1 });
    await settled();
    expect(workshop.now.step).toBe(3);
    expect(two.snapshot().elsewhere).toContain("changed elsewhere");
    expect(two.snapshot().place?.step).toBe(3);
    two.put({ step: 4 });
    await settled();
    expect(workshop.now.step).toBe(4);
  });

  it("what waited here is let go when the order has changed meanwhile", async () => {
    const place = await workshop.open();
    workshop.down = true;
    place.put({ step: 2 });
    await settled();
    place.stop();
    workshop.down = false;
    workshop.now = { ...workshop.now, signature: "s2", step: 1, changed: true };
    const again = await workshop.open();
    expect(again.snapshot()).toMatchObject({ changed: true, place: { step: 1 } });
    expect(localStorage.getItem("anastrata-table-7")).toBeNull();
  });

  it("opens without a connection where it last stood, goes on, and is all there when it is back", async () => {
    const first = await workshop.open();
    first.put({ step: 3 });
    await settled();
    first.stop();
    workshop.down = true;
    const alone = await workshop.open();
    expect(alone.snapshot().place?.step).toBe(3);
    for (const step of [4, 5, 6]) alone.put({ step });
    await settled();
    alone.stop();
    const again = await workshop.open();
    expect(again.snapshot().place?.step).toBe(6);
    again.put({ ticks: ["reeds"] });
    workshop.down = false;
    await settled();
    expect([workshop.now.step, workshop.now.ticks]).toEqual([6, ["reeds"]]);
    expect(again.snapshot().elsewhere).toBeNull();
  });

  it("a lost answer, a reload without a connection and more steps: nothing is lost or nobody else's", async () => {
    const first = await workshop.open();
    workshop.answersLost = true;
    first.put({ step: 1 });
    await vi.advanceTimersByTimeAsync(10);
    first.stop();
    workshop.answersLost = false;
    workshop.down = true;
    const alone = await workshop.open();
    alone.put({ step: 2 });
    await settled();
    workshop.down = false;
    await settled();
    expect(workshop.now.step).toBe(2);
    expect(workshop.received).toEqual([1, 2]);
    expect(alone.snapshot().elsewhere).toBeNull();
  });

  it("a fault on the server keeps the place and tries again", async () => {
    const place = await workshop.open();
    const real = workshop.put;
    workshop.put = () => Promise.reject(new Refusal(500, "fault", "Something went wrong on our side."));
    place.put({ step: 1 });
    await vi.advanceTimersByTimeAsync(10);
    expect(place.snapshot()).toMatchObject({ held: "Something went wrong on our side.", offline: false });
    workshop.put = real;
    await settled();
    expect(workshop.now.step).toBe(1);
    expect(place.snapshot().held).toBeNull();
  });
});
