/**
 * Paints one colouring by looking colours up: the map says which stack a pixel
 * carries, a palette which colour that stack has. It computes no colour: every
 * palette comes from the core.
 */
import { type EditKind, type Head as BuildHead, Refusal } from "../api/client";
import { binary } from "../api/client";
import { Store } from "../parts/store";
import { fromBase64, type Part, unpack, type Unpacked } from "./unpack";

export interface Painted {
  /** Key of the picture whose colours are on the canvas; changes with every paint. */
  picture: string | null;
  /** Passes done, or null when it is finished. */
  after: number | null;
  /** Before the last pass has dried back. */
  wet: boolean;
  trying: boolean;
  turn: number;
  error: string | null;
}

export interface Wanted {
  picture: string;
  /** Passes done; null: finished. */
  after: number | null;
  wet: boolean;
}

export interface LookedAt {
  width: number;
  map: string;
  picture: string;
}

const SNAPSHOT = 8;
const SKETCH = 320;
// px wide: shown while the picture itself is on its way
const BLANK: Painted = { picture: null, after: null, wet: false, trying: false, turn: 0, error: null };

type Edits = { kind: EditKind; values: Record<string, unknown> }[];

export type Fetch = (path: string, body?: unknown) => Promise<ArrayBuffer>;

export class Painter extends Store<Painted> {
  width = 0;
  height = 0;
  private map = "";
  private numbers: Uint32Array | null = null;
  private finished: Uint32Array | null = null;
  private finishedOf = "";
  private wet = "";
  private wetShown = false;
  private shown: Uint32Array | null = null;
  private wanted: Wanted | null = null;
  private steps: { picture: string; parts: Part[]; snapshots: Uint32Array[] } | null = null;
  private stepsComing: string | null = null;
  private ask = 0;
  private tries = 0;
  /** What is being tried, until it is let go. */
  private trial: Edits | null = null;
  private image: ImageData | null = null;
  /** Lines of each stack, found at the first change after a map has come. */
  private reach: Uint16Array | null = null;
  /** Lines that the colours last shown differ on from those before; null: any. */
  private dirty: [number, number] | null = null;
  private changedFrom: Uint32Array | null = null;

  constructor(
    private readonly id: number,
    readonly px: number,
    private readonly get: Fetch = binary,
  ) {
    super(BLANK);
  }

  /** What the browser has, so that the answer to a change need only tell what is different. */
  lookedAt(): LookedAt | null {
    return this.map && this.finishedOf ? { width: this.px, map: this.map, picture: this.finishedOf } : null;
  }

  /** The answer to a change: its colours, where it brought them. */
  arrived(head: BuildHead): void {
    if (head.painting && this.finished) {
      const found = unpack(fromBase64(head.painting));
      if (found.head.map === this.map) {
        this.finished = this.finished.slice();
        lay(this.finished, found.parts[0]);
        this.dirty = this.lines(found.parts[0]);
        this.finishedOf = head.picture_key;
        this.wet = found.head.wet;
        this.steps = null;
        if (this.wanted?.after === null && !this.wanted.wet) {
          this.wanted = { ...this.wanted, picture: head.picture_key };
          this.show(this.finished, head.picture_key, null);
        }
      }
    }
  }

  /** The order of work is found: where others lie wet than was taken, the colours are asked for anew. */
  settled(picture: string, wet: string): void {
    if (this.finishedOf !== picture || !this.wet || this.wet === wet) return;
    this.finishedOf = "";
    if (this.wanted) void this.want(this.wanted);
  }

  /** Show a moment of a picture; asks the core for what is not here. */
  async want(wanted: Wanted): Promise<void> {
    this.wanted = wanted;
    // what is still on its way for an earlier wish is no longer shown when it comes
    this.ask += 1;
    const turn = this.ask;
    const { tries } = this;
    const now = this.snapshot();
    const there = now.picture === wanted.picture && now.after === wanted.after && !now.trying;
    if (there && !wanted.wet && !this.wetShown && this.finishedOf === wanted.picture) {
      if (now.error) this.set({ error: null });
      return;
    }
    if (this.finished && this.finishedOf === wanted.picture && !wanted.wet) {
      this.wetShown = false;
      if (wanted.after === null) {
        this.show(this.finished, wanted.picture, null);
        return;
      }
      if (this.steps?.picture === wanted.picture) {
        this.show(this.after(wanted.after), wanted.picture, wanted.after);
        return;
      }
    }
    try {
      // what lies elsewhere is shown small first: a sixth of the pixels, there in a fifth of the time
      if (this.numbers && wanted.after === null && !wanted.wet) {
        const path = `/api/colourings/${this.id}/painting?sketch=1&width=${SKETCH}`;
        const small = unpack(await this.get(path));
        if (turn !== this.ask) return;
        if (small.numbers && small.parts[0]) {
          const { width, height } = small.head;
          this.show(small.parts[0].colours, small.head.picture, null, false);
          this.other = { numbers: small.numbers, width, height };
          this.set({ turn: this.snapshot().turn + 1 });
        }
      }
      const found = await this.fetchMoment(wanted);
      if (turn !== this.ask) return;
      this.take(found, wanted);
      // what was pointed at while this was on its way is pointed at still
      if (this.trial && this.tries !== tries) void this.try(this.trial);
      if (wanted.after !== null && !wanted.wet) void this.foresee(wanted.picture);
    } catch (error) {
      if (turn === this.ask)
        this.set({ error: error instanceof Refusal ? error.message : "The picture did not come." });
    }
  }

  /** Ask once more for what did not come. */
  again(): void {
    this.set({ error: null });
    if (this.wanted) void this.want(this.wanted);
  }

  /** Have all moments at hand, so that the build-up can be scrubbed without waiting. */
  async foresee(picture: string): Promise<void> {
    if (this.steps?.picture === picture || this.stepsComing === picture) return;
    this.stepsComing = picture;
    try {
      const bytes = await this.get(`/api/colourings/${this.id}/build-up?width=${this.px}`);
      const found = unpack(bytes);
      if (found.head.map !== this.map || found.head.picture !== picture) return;
      this.steps = { picture, parts: found.parts, snapshots: [] };
      const { wanted } = this;
      if (wanted?.picture === picture && wanted.after !== null && !wanted.wet)
        this.show(this.after(wanted.after), picture, wanted.after);
    } catch {
      // the single moments are still asked for one by one
    } finally {
      this.stepsComing = null;
    }
  }

  /** A change looked at before it is made. */
  async try(edits: Edits): Promise<void> {
    this.trial = edits;
    this.tries += 1;
    const turn = this.tries;
    try {
      const body = { edits, width: this.px, map: this.map };
      const found = unpack(await this.get(`/api/colourings/${this.id}/try`, body));
      if (turn !== this.tries || !this.finished) return;
      if (found.head.map === this.map && !found.numbers) {
        const colours = this.finished.slice();
        lay(colours, found.parts[0]);
        this.show(colours, this.finishedOf, null, true);
      } else if (found.numbers && found.parts[0]) {
        this.other = { numbers: found.numbers, width: found.head.width, height: found.head.height };
        this.show(found.parts[0].colours, this.finishedOf, null, true);
      }
    } catch {
      // what cannot be tried is simply not shown
    }
  }

  /** Back to what is there. */
  letGo(): void {
    this.trial = null;
    this.tries += 1;
    this.other = null;
    if (this.snapshot().trying && this.wanted) void this.want(this.wanted);
  }

  /** The first and the last line on which any of these stacks lies. */
  private lines(part: Part | undefined): [number, number] | null {
    if (!part?.rows || !this.numbers) return null;
    if (!this.reach) {
      const reach = new Uint16Array(2 * (this.finished?.length ?? 0));
      for (let i = this.numbers.length - 1; i >= 0; i -= 1)
        reach[2 * (this.numbers[i] ?? 0)] = (i / this.width) | 0;
      for (let i = 0; i < this.numbers.length; i += 1)
        reach[2 * (this.numbers[i] ?? 0) + 1] = (i / this.width) | 0;
      this.reach = reach;
    }
    let low = this.height;
    let high = 0;
    for (const row of part.rows) {
      low = Math.min(low, this.reach[2 * row] ?? 0);
      high = Math.max(high, this.reach[2 * row + 1] ?? 0);
    }
    return low <= high ? [low, high + 1] : null;
  }

  /** Paint on a canvas, all of it or only the lines that a change touched; false where there is nothing yet. */
  paint(canvas: HTMLCanvasElement, whole = true): boolean {
    const numbers = this.other?.numbers ?? this.numbers;
    const colours = this.shown;
    if (!numbers || !colours) return false;
    // from here on it is opaque, and black until it is painted
    const context = canvas.getContext("2d", { alpha: false });
    if (!context) return false;
    const width = this.other?.width ?? this.width;
    const height = this.other?.height ?? this.height;
    if (canvas.width !== width || canvas.height !== height) {
      canvas.width = width;
      canvas.height = height;
    }
    if (this.image?.width !== width || this.image.height !== height)
      this.image = context.createImageData(width, height);
    const pixels = new Uint32Array(this.image.data.buffer);
    const [low, high] = (!whole && this.dirty) || [0, height];
    for (let i = low * width; i < high * width; i += 1) pixels[i] = colours[numbers[i] ?? 0] ?? 0;
    context.putImageData(this.image, 0, 0, 0, low, width, high - low);
    return true;
  }

  /** A tried change may need another map; the own one stays. */
  private other: { numbers: Uint32Array; width: number; height: number } | null = null;

  private async fetchMoment(wanted: Wanted): Promise<Unpacked> {
    const after = wanted.after === null ? "" : `&after=${wanted.after}`;
    const wet = wanted.wet ? "&wet=1" : "";
    const known = this.numbers ? `&map=${this.map}` : "";
    return unpack(
      await this.get(`/api/colourings/${this.id}/painting?width=${this.px}${known}${after}${wet}`),
    );
  }

  private take(found: Unpacked, wanted: Wanted): void {
    const { head, numbers, parts } = found;
    if (numbers) {
      this.numbers = numbers;
      this.reach = null;
      this.map = head.map;
      this.width = head.width;
      this.height = head.height;
      this.finished = null;
      this.finishedOf = "";
      this.steps = null;
    }
    const colours = parts[0]?.colours;
    if (!colours) return;
    if (wanted.after === null && !wanted.wet) {
      this.finished = colours;
      this.finishedOf = head.picture;
      this.wet = head.wet;
    }
    this.other = null;
    this.wetShown = wanted.wet;
    this.show(colours, head.picture, wanted.after);
  }

  private after(count: number): Uint32Array {
    const steps = this.steps;
    if (!steps) return this.shown ?? new Uint32Array();
    const last = Math.min(count, steps.parts.length - 1);
    let from = Math.min(Math.floor(last / SNAPSHOT), steps.snapshots.length - 1);
    let colours = from >= 0 ? (steps.snapshots[from] ?? new Uint32Array()).slice() : new Uint32Array();
    let at = from >= 0 ? from * SNAPSHOT : -1;
    while (at < last) {
      at += 1;
      const part = steps.parts[at];
      if (at === 0) colours = part?.colours.slice() ?? colours;
      else lay(colours, part);
      if (at % SNAPSHOT === 0 && at / SNAPSHOT === steps.snapshots.length) {
        steps.snapshots.push(colours.slice());
        from += 1;
      }
    }
    return colours;
  }

  private show(colours: Uint32Array, picture: string, after: number | null, trying = false): void {
    if (!trying) this.other = null;
    // only a change of what was on the canvas leaves the other lines as they are
    if (this.shown === null || this.changedFrom !== this.shown || colours !== this.finished)
      this.dirty = null;
    this.shown = colours;
    this.changedFrom = colours === this.finished ? colours : null;
    const wet = this.wetShown;
    this.set({ picture, after, wet, trying, turn: this.snapshot().turn + 1, error: null });
  }
}

function lay(colours: Uint32Array, part: Part | undefined): void {
  if (!part) return;
  if (!part.rows) {
    colours.set(part.colours);
    return;
  }
  for (let i = 0; i < part.rows.length; i += 1) colours[part.rows[i] ?? 0] = part.colours[i] ?? 0;
}
