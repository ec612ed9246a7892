/**
 * What happens at the table: written down here at once, on its way to the server until the server has it. Events are
 * only ever added, so that two devices can both be right.
 */
import { freshKey } from "../../../api/acts";
import { api, data, forAWhile, Refusal, type Table, type TableStep } from "../../../api/client";
import { keep, kept, Store } from "../../../parts/store";
import { withTold } from "./alone";

export interface Happened {
  key: string;
  /** Seconds since 1970. */
  at: number;
  kind: string;
  body: Record<string, unknown>;
  by: string;
}

interface Progress {
  /** The last packet from the server. */
  table: Table | null;
  /** What the server has not had yet. */
  unsent: Happened[];
  offline: boolean;
  /** Why it is not being kept on the server now. */
  held: string | null;
  error: unknown;
  /** What happened last here; empty as long as nothing has. */
  last: string;
}

export interface Server {
  load: (id: number) => Promise<Table>;
  tell: (id: number, making: number, events: Happened[]) => Promise<Table>;
}

const RETRY_MS = 2000;
const AT_ONCE = 500;
const unsentKey = (id: number) => `anastrata-table-${id}`;
const lastKey = (id: number) => `anastrata-table-last-${id}`;
// the packet as it was last known: what the table opens with when there is no network

interface Kept {
  making: number;
  events: Happened[];
}

/** The name that this browser goes by. */
function device(): string {
  const known = kept<string | null>("anastrata-device", null);
  if (known) return known;
  const made = freshKey().slice(0, 20);
  keep("anastrata-device", made);
  return made;
}

/** The steps with what was done and told here since. */
export function withUnsent(steps: TableStep[], unsent: Happened[]): TableStep[] {
  if (!unsent.length) return steps;
  const back = new Set(unsent.flatMap((e) => (e.kind === "undone" ? (e.body.of as string[]) : [])));
  const done = new Map<string, Happened[]>();
  for (const event of unsent) {
    if (event.kind !== "done" || back.has(event.key)) continue;
    const step = String(event.body.step);
    done.set(step, [...(done.get(step) ?? []), event]);
  }
  const ticked = steps.map((step) => {
    const mine = done.get(step.key) ?? [];
    const before = step.done.filter((key) => !back.has(key));
    if (!mine.length && before.length === step.done.length) return step;
    const keys = [...before, ...mine.map((e) => e.key)];
    const at = before.length ? step.at : (mine[0]?.at ?? null);
    return { ...step, done: keys, at: keys.length ? at : null };
  });
  return withTold(ticked, unsent, back);
}

/** A step ticked off, as it is written down: all that the server needs to know what was really done. */
export const doneBody = (step: TableStep): Record<string, unknown> => ({
  step: step.key,
  kind: step.kind,
  card: step.card,
  minutes: step.minutes,
  masks: step.masks,
  sheet: step.sheet,
  which: step.which,
  copy: step.copy,
  who: step.who,
  pass: step.pass_key,
  serves: step.serves,
  job: step.job,
  size: step.brush,
  sentence: step.sentence.slice(0, 300),
  clock: step.clock,
});

export class TableLog extends Store<Progress> {
  private busy = false;
  private retry: ReturnType<typeof setTimeout> | undefined;
  private readonly by = device();
  /** The going that the unsent belongs to, whatever another device has begun since. */
  private making: number | null = null;

  constructor(
    private readonly id: number,
    private readonly server: Server = SERVER,
    private readonly now: () => number = Date.now,
  ) {
    super({ table: null, unsent: [], offline: false, held: null, error: null, last: "" });
  }

  async load(): Promise<void> {
    const mine = kept<Kept | null>(unsentKey(this.id), null);
    const unsent = mine?.events ?? [];
    this.making = mine?.making ?? null;
    try {
      const table = await this.server.load(this.id);
      this.have(table, unsent);
      this.set({ offline: false, held: null, error: null });
      void this.send();
    } catch (error) {
      if (!(error instanceof Refusal) || error.status !== 0) {
        this.set({ error });
        return;
      }
      const table = this.snapshot().table ?? kept<Table | null>(lastKey(this.id), null);
      if (table) this.set({ table, unsent, offline: true });
      this.again(() => this.load());
    }
  }

  /** Something happened. */
  happen(...told: { kind: string; body: Record<string, unknown> }[]): void {
    const { table, unsent } = this.snapshot();
    if (!table) return;
    const at = this.now() / 1000;
    const events = told.map((one, n) => ({ ...one, key: freshKey(), at: at + n / 1000, by: this.by }));
    this.making ??= table.making;
    this.set({ unsent: [...unsent, ...events], last: events.at(-1)?.kind ?? "" });
    this.save();
    void this.send();
  }

  done(step: TableStep): void {
    this.happen({ kind: "done", body: doneBody(step) });
  }

  /** It was not done after all. */
  takeBack(step: TableStep): void {
    if (step.done.length) this.happen({ kind: "undone", body: { of: step.done } });
  }

  /** Another going of the same colouring, with nothing done; needs the server. */
  async begin(): Promise<void> {
    const { table, unsent } = this.snapshot();
    if (!table || unsent.length) return;
    try {
      this.have(await this.server.tell(this.id, table.making + 1, []), []);
    } catch (error) {
      this.set({ held: error instanceof Refusal ? error.message : "The next card could not be begun." });
    }
  }

  stop(): void {
    clearTimeout(this.retry);
  }

  private have(table: Table, unsent: Happened[]): void {
    this.set({ table, unsent });
    keep(lastKey(this.id), table);
    this.save();
  }

  private save(): void {
    const { unsent } = this.snapshot();
    if (unsent.length && this.making !== null)
      keep(unsentKey(this.id), { making: this.making, events: unsent } satisfies Kept);
    else {
      this.making = null;
      localStorage.removeItem(unsentKey(this.id));
    }
  }

  private again(what: () => Promise<void>): void {
    clearTimeout(this.retry);
    this.retry = setTimeout(() => void what(), RETRY_MS);
  }

  private async send(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    clearTimeout(this.retry);
    try {
      for (let going = this.snapshot().unsent; going.length; going = this.snapshot().unsent) {
        const part = going.slice(0, AT_ONCE);
        const table = await this.server.tell(this.id, this.making ?? 1, part);
        const sent = new Set(part.map((e) => e.key));
        this.have(
          table,
          this.snapshot().unsent.filter((e) => !sent.has(e.key)),
        );
      }
      this.set({ offline: false, held: null });
    } catch (error) {
      await this.failed(error);
    } finally {
      this.busy = false;
    }
  }

  private async failed(error: unknown): Promise<void> {
    const sentence = error instanceof Error ? error.message : null;
    const waits = !(error instanceof Refusal) || error.waits || error.status === 0;
    this.set({ offline: !(error instanceof Refusal) || error.status === 0, held: sentence });
    if (waits) {
      this.again(() => this.send());
      return;
    }
    // what the server will never take is not sent for ever; it is said, and what stands there is shown
    this.set({ unsent: [] });
    this.save();
    await this.load();
    this.set({ held: sentence });
  }
}

const asked = (id: number) => ({ params: { path: { id } }, signal: forAWhile() });

const SERVER: Server = {
  load: (id) => data(api.GET("/api/colourings/{id}/table", asked(id))),
  tell: (id, making, events) =>
    data(api.POST("/api/colourings/{id}/table", { ...asked(id), body: { making, events } })),
};
