/** What happens at the table: kept here at once, sent once, joined with what others did. */
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Refusal, type Table, type TableStep } from "../src/api/client";
import { clocksOf, dryAt, shown } from "../src/views/build/table/clocks";
import { type Happened, type Server, TableLog, withUnsent } from "../src/views/build/table/tableLog";

const step = (key: string, more: Partial<TableStep> = {}) =>
  ({
    key,
    kind: "ink",
    card: 1,
    minutes: 1,
    masks: [],
    sentence: key,
    done: [],
    at: null,
    ...more,
  }) as unknown as TableStep;

/** A server that keeps events by their keys, as ours does. */
class Workshop implements Server {
  events = new Map<string, Happened>();
  making = 1;
  down = false;
  answersLost = false;
  refuses = false;
  calls = 0;
  table(): Table {
    const all = [...this.events.values()];
    const steps = withUnsent(
      ["a", "b", "c", "d"].map((key) => step(key)),
      all,
    );
    return {
      making: this.making,
      changed: false,
      cards: [],
      notes: [],
      questions: [],
      steps,
    } as unknown as Table;
  }
  load = () =>
    this.down ? Promise.reject(new Refusal(0, "offline", "gone")) : Promise.resolve(this.table());
  tell: Server["tell"] = (_id, making, events) => {
    this.calls += 1;
    if (this.down) return Promise.reject(new Refusal(0, "offline", "gone"));
    if (this.refuses) return Promise.reject(new Refusal(400, "bad_value", "Nobody knows that kind of step."));
    if (making > this.making) {
      this.making = making;
      this.events.clear();
    }
    for (const event of events) this.events.set(event.key, event);
    if (this.answersLost) return Promise.reject(new Refusal(0, "offline", "gone"));
    return Promise.resolve(this.table());
  };
  open = async () => {
    const log = new TableLog(7, this);
    await log.load();
    return log;
  };
}

const settled = () => vi.advanceTimersByTimeAsync(10_000);
const stands = (log: TableLog) => {
  const { table, unsent } = log.snapshot();
  return withUnsent(table?.steps ?? [], unsent).map((s) => s.done.length > 0);
};
const at = (log: TableLog, n: number) => {
  const { table, unsent } = log.snapshot();
  return withUnsent(table?.steps ?? [], unsent)[n] as TableStep;
};

describe("the log of the table", () => {
  let workshop: Workshop;
  beforeEach(() => {
    vi.useFakeTimers();
    localStorage.clear();
    workshop = new Workshop();
  });
  afterEach(() => vi.useRealTimers());

  it("shows a step done at once, and sends it once", async () => {
    const log = await workshop.open();
    log.done(at(log, 0));
    log.done(at(log, 1));
    expect(stands(log)).toEqual([true, true, false, false]);
    await settled();
    expect(workshop.events.size).toBe(2);
    expect(log.snapshot().unsent).toEqual([]);
    expect(localStorage.getItem("anastrata-table-7")).toBeNull();
  });

  it("keeps everything without a connection, through a restart, and sends it when it is back", async () => {
    const log = await workshop.open();
    workshop.down = true;
    for (const n of [0, 1, 2]) log.done(at(log, n));
    await settled();
    expect(log.snapshot().offline).toBe(true);
    log.stop();
    const again = await workshop.open();
    expect(stands(again)).toEqual([true, true, true, false]);
    workshop.down = false;
    await settled();
    expect(workshop.events.size).toBe(3);
    expect(again.snapshot().offline).toBe(false);
  });

  it("doubles nothing when an answer is lost", async () => {
    const log = await workshop.open();
    workshop.answersLost = true;
    log.done(at(log, 0));
    await settled();
    workshop.answersLost = false;
    await settled();
    expect(workshop.events.size).toBe(1);
    expect(workshop.calls).toBeGreaterThan(1);
  });

  it("joins two devices: neither loses what the other did", async () => {
    const [one, other] = [await workshop.open(), await workshop.open()];
    workshop.down = true;
    one.done(at(one, 0));
    one.done(at(one, 1));
    other.done(at(other, 0));
    other.done(at(other, 2));
    await settled();
    workshop.down = false;
    await settled();
    await one.load();
    await other.load();
    expect(stands(one)).toEqual([true, true, true, false]);
    expect(stands(other)).toEqual(stands(one));
    // taken back by who knows both: gone for both
    one.takeBack(at(one, 0));
    await settled();
    await other.load();
    expect(stands(other)).toEqual([false, true, true, false]);
  });

  it("sends what belongs to a going to that going, whatever was begun meanwhile", async () => {
    const log = await workshop.open();
    workshop.down = true;
    log.done(at(log, 0));
    await settled();
    log.stop();
    workshop.down = false;
    workshop.making = 2;
    const told = vi.spyOn(workshop, "tell");
    await workshop.open();
    await settled();
    expect(told.mock.calls[0]?.[1]).toBe(1);
  });

  it("says why something is never taken, and does not send it for ever", async () => {
    const log = await workshop.open();
    workshop.refuses = true;
    log.done(at(log, 0));
    await settled();
    const { calls } = workshop;
    await settled();
    expect(workshop.calls).toBe(calls);
    expect(log.snapshot().held).toContain("Nobody knows");
    expect(log.snapshot().unsent).toEqual([]);
  });

  it("begins another card only when all is sent", async () => {
    const log = await workshop.open();
    log.done(at(log, 0));
    await settled();
    await log.begin();
    expect(stands(log)).toEqual([false, false, false, false]);
    expect(log.snapshot().table?.making).toBe(2);
  });
});

describe("clocks", () => {
  it("run from when a thing was done, and a wait ends with the thing that it is for", () => {
    const inked = step("a", {
      done: ["k"],
      at: 100,
      clock: "ink:1:p1",
      dries: 2,
      element: "moon",
    } as Partial<TableStep>);
    const open = step("b", { clock: "ink:1:p2", dries: 2 } as Partial<TableStep>);
    const clocks = clocksOf([inked, open], { sheets: [], things: [] });
    expect(clocks).toEqual([{ name: "ink:1:p1", what: "moon", card: 1, dry: 220 }]);
    expect(dryAt(step("w", { kind: "wait", clock: "ink:1:p1" } as Partial<TableStep>), clocks)).toBe(220);
    expect(dryAt(step("w", { kind: "wait", clock: "sheet:3" } as Partial<TableStep>), clocks)).toBeNull();
  });

  it("are read as minutes and seconds", () => {
    expect([shown(-3), shown(9.2), shown(61)]).toEqual(["0:00", "0:10", "1:01"]);
  });
});
