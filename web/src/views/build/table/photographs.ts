/**
 * Photographs taken at the table: small enough to keep, kept here until the house computer has them, sent once each.
 */
import { createStore, del, entries, set, type UseStore } from "idb-keyval";
import { useEffect, useState, useSyncExternalStore } from "react";
import { freshKey } from "../../../api/acts";
import { api, data, Refusal, type Table, uploadFile } from "../../../api/client";
import { Store } from "../../../parts/store";

type Taken = Table["photographs"];

export interface Waiting {
  key: string;
  making: number;
  /** Seconds since 1970. */
  at: number;
  card: number;
  /** What was done last, in words. */
  after: string;
  picture: Blob;
}

interface Progress {
  /** Not with the house computer yet. */
  waiting: Waiting[];
  /** What the house computer has; null until it has said so here. */
  taken: Taken | null;
  /** Why one is not kept. */
  held: string | null;
}

export interface Shelf {
  all: (id: number) => Promise<Waiting[]>;
  put: (id: number, one: Waiting) => Promise<void>;
  drop: (id: number, key: string) => Promise<void>;
}
export interface Sender {
  send: (id: number, one: Waiting) => Promise<Taken>;
  takeAway: (photograph: number) => Promise<unknown>;
}

const SIDE = 1600;
const RETRY_MS = 4000;

/** A picture no larger than is kept; as it is where this browser cannot read it. */
export async function shrunk(file: Blob): Promise<Blob> {
  try {
    const picture = await createImageBitmap(file);
    const scale = Math.min(1, SIDE / Math.max(picture.width, picture.height));
    const size = [Math.round(picture.width * scale), Math.round(picture.height * scale)] as const;
    const canvas = new OffscreenCanvas(...size);
    canvas.getContext("2d")?.drawImage(picture, 0, 0, ...size);
    return await canvas.convertToBlob({ type: "image/jpeg", quality: 0.86 });
  } catch {
    return file;
  }
}

export class TablePhotographs extends Store<Progress> {
  private busy = false;
  private retry: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly id: number,
    private readonly shelf: Shelf = SHELF,
    private readonly sender: Sender = SENDER,
  ) {
    super({ waiting: [], taken: null, held: null });
  }

  /** What waited here since before, and then on its way. */
  async load(): Promise<void> {
    const kept = await this.shelf.all(this.id).catch(() => []);
    const known = new Set(this.snapshot().waiting.map((w) => w.key));
    this.set({ waiting: [...kept.filter((w) => !known.has(w.key)), ...this.snapshot().waiting] });
    await this.send();
  }

  async take(file: Blob, of: Pick<Waiting, "making" | "card" | "after">): Promise<void> {
    const one = { ...of, key: freshKey(), at: Date.now() / 1000, picture: await shrunk(file) };
    this.set({ waiting: [...this.snapshot().waiting, one], held: null });
    await this.shelf
      .put(this.id, one)
      .catch(() => this.set({ held: "There is no room for it here: it is lost if the page is closed." }));
    await this.send();
  }

  async takeAway(photograph: Taken[number], shown: Taken): Promise<void> {
    try {
      await this.sender.takeAway(photograph.id);
      this.set({ taken: shown.filter((p) => p.id !== photograph.id), held: null });
    } catch (error) {
      this.set({ held: error instanceof Error ? error.message : "It could not be taken away." });
    }
  }

  stop(): void {
    clearTimeout(this.retry);
  }

  private async send(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    clearTimeout(this.retry);
    try {
      for (let one = this.snapshot().waiting[0]; one; one = this.snapshot().waiting[0]) {
        const taken = await this.sender.send(this.id, one);
        await this.gone(one, { taken });
      }
    } catch (error) {
      await this.failed(error);
    } finally {
      this.busy = false;
    }
  }

  private async failed(error: unknown): Promise<void> {
    const one = this.snapshot().waiting[0];
    const never = error instanceof Refusal && error.status !== 0 && !error.waits;
    if (never && one) {
      // what the house computer will never take is not sent for ever, and does not hold up the others
      await this.gone(one, { held: error.message });
      this.retry = setTimeout(() => void this.send(), 0);
    } else this.retry = setTimeout(() => void this.send(), RETRY_MS);
  }

  private async gone(one: Waiting, change: Partial<Progress>): Promise<void> {
    await this.shelf.drop(this.id, one.key).catch(() => undefined);
    this.set({ ...change, waiting: this.snapshot().waiting.filter((w) => w.key !== one.key) });
  }
}

let place: UseStore | undefined;
const store = () => (place ??= createStore("anastrata-photographs", "waiting"));
const SHELF: Shelf = {
  all: async (id) => {
    const found = (await entries<string, Waiting>(store())).filter(([key]) => key.startsWith(`${id} `));
    return found.map(([, one]) => one).sort((a, b) => a.at - b.at);
  },
  put: (id, one) => set(`${id} ${one.key}`, one, store()),
  drop: (id, key) => del(`${id} ${key}`, store()),
};

const SENDER: Sender = {
  send: (id, { picture, key, making, at, card, after }) =>
    uploadFile<Taken>(`/api/colourings/${id}/table/photographs`, picture, "table.jpg", {
      key,
      making: String(making),
      at: String(at),
      card: String(card),
      after,
    }),
  takeAway: (id) => data(api.DELETE("/api/table-photographs/{id}", { params: { path: { id } } })),
};

/** The photographs of a making: what waits here, and what is kept. */
export function useTablePhotographs(id: number) {
  const [photographs] = useState(() => new TablePhotographs(id));
  const seen = useSyncExternalStore(photographs.subscribe, photographs.snapshot);
  useEffect(() => {
    void photographs.load();
    const back = () => void photographs.load();
    window.addEventListener("online", back);
    return () => {
      window.removeEventListener("online", back);
      photographs.stop();
    };
  }, [photographs]);
  return { photographs, ...seen };
}
