/** Where the maker is at the table: kept on the server, and here until the server has it. */
import { api, data, Refusal, type Table } from "../../../api/client";
import { kept, Store } from "../../../parts/store";

export interface Place {
  signature: string;
  step: number;
  ticks: string[];
  wait_started: string | null;
}

interface Progress {
  place: Place | null;
  changed: boolean;
  offline: boolean;
  error: unknown;
}

const RETRY_MS = 2000;
const storeKey = (id: number) => `anastrata-table-${id}`;
const placeOf = (t: Table): Place => ({
  signature: t.signature,
  step: t.step,
  ticks: t.ticks,
  wait_started: t.wait_started ?? null,
});

export class TablePlace extends Store<Progress> {
  private unsent: Place | null = null;
  private busy = false;
  private retry: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly id: number) {
    super({ place: null, changed: false, offline: false, error: null });
  }

  async load(): Promise<void> {
    try {
      const found = await data(api.GET("/api/builds/{id}/table", { params: { path: { id: this.id } } }));
      const mine = kept<Place | null>(storeKey(this.id), null);
      const own = mine && mine.signature === found.signature ? mine : null;
      this.set({ place: own ?? placeOf(found), changed: found.changed, offline: false, error: null });
      if (own) this.put(own);
    } catch (error) {
      if (error instanceof Refusal && error.status === 0)
        this.retry = setTimeout(() => void this.load(), RETRY_MS);
      else this.set({ error });
    }
  }

  put(change: Partial<Place>): void {
    const { place } = this.snapshot();
    if (!place) return;
    const fresh = { ...place, ...change };
    this.unsent = fresh;
    localStorage.setItem(storeKey(this.id), JSON.stringify(fresh));
    this.set({ place: fresh });
    void this.send();
  }

  stop(): void {
    clearTimeout(this.retry);
  }

  private async send(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    clearTimeout(this.retry);
    try {
      for (let wanted = this.unsent; wanted; wanted = this.unsent) {
        await api.PUT("/api/builds/{id}/table", { params: { path: { id: this.id } }, body: wanted });
        if (this.unsent === wanted) {
          this.unsent = null;
          localStorage.removeItem(storeKey(this.id));
        }
      }
      this.set({ offline: false });
    } catch (error) {
      if (error instanceof Refusal && error.status === 0) {
        this.set({ offline: true });
        this.retry = setTimeout(() => void this.send(), RETRY_MS);
      } else {
        // the order has changed under us: ask where we stand now
        this.unsent = null;
        localStorage.removeItem(storeKey(this.id));
        await this.load();
        this.set({ changed: true });
      }
    } finally {
      this.busy = false;
    }
  }
}
