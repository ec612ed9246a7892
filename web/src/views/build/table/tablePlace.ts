/** Where the maker is at the table: kept on the server, and here until the server has it. */
import { freshKey } from "../../../api/acts";
import { api, data, Refusal, type Table } from "../../../api/client";
import { keep, kept, Store } from "../../../parts/store";

export interface Place {
  signature: string;
  /** The revision of the table that this was decided on. */
  revision: number;
  step: number;
  ticks: string[];
  wait_started: string | null;
}

interface Progress {
  place: Place | null;
  /** The order has changed since this place was kept. */
  changed: boolean;
  offline: boolean;
  /** Moved on from another device meanwhile: its words. */
  elsewhere: string | null;
  /** Why it is not being kept on the server now. */
  held: string | null;
  error: unknown;
}

export interface Server {
  load: (id: number) => Promise<Table>;
  put: (id: number, place: Place, edit_key: string) => Promise<Table>;
}

/** A place on its way to the server. Sent again after a lost answer it has the same key, so it is made once. */
interface Flight {
  place: Place;
  key: string;
}

interface Waiting {
  place: Place;
  flight: Flight | null;
}

const RETRY_MS = 2000;
const storeKey = (id: number) => `anastrata-table-${id}`;
const lastKey = (id: number) => `anastrata-table-last-${id}`;
// where the table stood when it was last known: what it opens at without a network

const placeOf = (t: Table): Place => ({
  signature: t.signature,
  revision: t.revision ?? 0,
  step: t.step,
  ticks: t.ticks,
  wait_started: t.wait_started ?? null,
});

export class TablePlace extends Store<Progress> {
  private unsent: Place | null = null;
  private flight: Flight | null = null;
  private busy = false;
  private retry: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly id: number,
    private readonly server: Server = SERVER,
  ) {
    super({ place: null, changed: false, offline: false, elsewhere: null, held: null, error: null });
  }

  async load(): Promise<void> {
    try {
      const found = await this.server.load(this.id);
      const own = await this.own(found);
      this.flight = this.unsent = null;
      this.set({
        place: own ?? placeOf(found),
        changed: found.changed,
        offline: false,
        held: null,
        error: null,
      });
      keep(lastKey(this.id), own ?? placeOf(found));
      if (own) this.put(own);
      else localStorage.removeItem(storeKey(this.id));
    } catch (error) {
      if (!(error instanceof Refusal) || error.status !== 0) {
        this.set({ error });
        return;
      }
      this.openAlone();
      this.again(() => this.load());
    }
  }

  /** Without a network: at what waits here, or where it was last known to stand. */
  private openAlone(): void {
    if (this.snapshot().place) return;
    const mine = kept<Waiting | null>(storeKey(this.id), null);
    const place = mine?.place ?? kept<Place | null>(lastKey(this.id), null);
    if (!place) return;
    // what was on its way when the page was left goes first, with its own key: it may have arrived or not
    this.flight = mine?.flight ?? null;
    if (mine && JSON.stringify(mine.flight?.place) !== JSON.stringify(mine.place)) this.unsent = mine.place;
    this.set({ place, offline: true });
  }

  /** What waits here, as long as neither the order nor the place has moved on without it. */
  private async own(found: Table): Promise<Place | null> {
    const mine = kept<Waiting | null>(storeKey(this.id), null);
    if (!mine?.place || mine.place.signature !== found.signature) return null;
    const now = found.revision ?? 0;
    const { flight } = mine;
    if (!flight) return mine.place.revision === now ? mine.place : null;
    if (flight.place.revision !== now && flight.place.revision !== now - 1) return null;
    // its answer never came: it may have arrived or not, and with its key it is made once either way
    const answer = await this.server.put(this.id, flight.place, flight.key).catch((error: unknown) => {
      if (error instanceof Refusal && !error.waits) return null;
      throw error;
    });
    const mineAlone = answer?.revision === flight.place.revision + 1;
    return mineAlone ? { ...mine.place, revision: flight.place.revision + 1 } : null;
  }

  put(change: Partial<Omit<Place, "revision" | "signature">>): void {
    const { place } = this.snapshot();
    if (!place) return;
    const fresh = { ...place, ...change };
    this.unsent = fresh;
    this.keep();
    this.set({ place: fresh, elsewhere: null });
    keep(lastKey(this.id), fresh);
    void this.send();
  }

  stop(): void {
    clearTimeout(this.retry);
  }

  private keep(): void {
    const place = this.unsent ?? this.flight?.place;
    if (place) keep(storeKey(this.id), { place, flight: this.flight } satisfies Waiting);
    else localStorage.removeItem(storeKey(this.id));
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
      for (let flight = this.nextFlight(); flight; flight = this.nextFlight()) {
        const answer = await this.server.put(this.id, flight.place, flight.key);
        this.arrived(answer);
      }
      this.set({ offline: false, held: null });
    } catch (error) {
      await this.failed(error);
    } finally {
      this.busy = false;
    }
  }

  private nextFlight(): Flight | null {
    if (!this.flight && this.unsent) {
      const revision = this.snapshot().place?.revision ?? this.unsent.revision;
      this.flight = { place: { ...this.unsent, revision }, key: freshKey() };
      this.unsent = null;
      this.keep();
    }
    return this.flight;
  }

  private arrived(answer: Table): void {
    const { place } = this.snapshot();
    const revision = answer.revision ?? place?.revision ?? 0;
    this.flight = null;
    if (place) {
      this.set({ place: { ...place, revision } });
      keep(lastKey(this.id), { ...place, revision });
    }
    if (this.unsent) this.unsent = { ...this.unsent, revision };
    this.keep();
  }

  private async failed(error: unknown): Promise<void> {
    if (!(error instanceof Refusal) || error.waits) {
      const sentence = error instanceof Error ? error.message : null;
      this.set({ offline: !(error instanceof Refusal) || error.status === 0, held: sentence });
      this.again(() => this.send());
      return;
    }
    // the order or the place has moved on without us: stand where it stands now, and say so
    this.unsent = this.flight = null;
    localStorage.removeItem(storeKey(this.id));
    await this.load();
    this.set({ elsewhere: error.message });
  }
}

const SERVER: Server = {
  load: (id) => data(api.GET("/api/colourings/{id}/table", { params: { path: { id } } })),
  put: (id, place, edit_key) =>
    data(api.PUT("/api/colourings/{id}/table", { params: { path: { id } }, body: { ...place, edit_key } })),
};
