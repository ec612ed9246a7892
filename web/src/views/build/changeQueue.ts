/**
 * The changes of one colouring on their way to the server: sent one after
 * another, kept in this browser until each has arrived, through a lost
 * connection, a full disk, a session that ended, and a reload.
 */
import { freshKey } from "../../api/acts";
import { api, data, forAWhile, type Head, Refusal } from "../../api/client";
import type { LookedAt } from "../../painting/Painter";
import { Store } from "../../parts/store";
import { dropChange, keepChange, keptChanges, moment, type Waiting } from "./changeStore";

export interface Conflict {
  sentence: string;
  edit: Waiting;
}

export interface Progress {
  head: Head | undefined;
  waiting: number;
  /** Why what waits is not being taken now: a sentence, or null when it is. */
  held: string | null;
  offline: boolean;
  /** Nobody is signed in any more: what waits goes out after signing in. */
  signedOut: boolean;
  conflict: Conflict | null;
  refusal: string | null;
}

export type Post = (id: number, edit: Waiting, revision: number) => Promise<Head>;

const RETRY_MS = 1500;

export class ChangeQueue extends Store<Progress> {
  private readonly queue: Waiting[];
  /** Called before anything is drawn again, so that the new picture is under way at once. */
  private onArrived: ((head: Head) => void) | undefined;
  private busy = false;
  private retry: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly id: number,
    /** Ask the server for the whole state again; answers with where the colouring stands. */
    private readonly reload: () => Promise<Head | undefined>,
    private readonly post: Post = send,
  ) {
    const queue = keptChanges(id);
    super({
      head: undefined,
      waiting: queue.length,
      held: null,
      offline: false,
      signedOut: false,
      conflict: null,
      refusal: null,
    });
    this.queue = queue;
  }

  /** The server's state has arrived; an older one than we know of is passed over. */
  seen(head: Head): void {
    const known = this.snapshot().head;
    if (known && head.revision < known.revision) return;
    const same =
      known?.revision === head.revision && known.picture_key === head.picture_key && known.name === head.name;
    if (!same) this.set({ head });
    if (this.queue.length) void this.flush();
  }

  put(kind: Waiting["kind"], values: Record<string, unknown>): void {
    // the revision the maker saw when deciding; behind earlier changes of this tab it follows theirs
    const on = this.queue.length ? undefined : this.snapshot().head?.revision;
    const edit: Waiting = { edit_key: freshKey(), kind, values, on, at: moment() };
    this.queue.push(edit);
    keepChange(this.id, edit);
    void this.flush();
    // drawing "keeping" may wait; sending the change and getting its picture may not. What is said of an earlier
    // change goes by then; what this one was refused for, if that comes sooner, stays
    const earlier = this.snapshot().refusal;
    setTimeout(() => {
      const { refusal } = this.snapshot();
      this.set({ refusal: refusal === earlier ? null : refusal, waiting: this.queue.length });
    }, 0);
  }

  whenArrived(callback: (head: Head) => void): void {
    this.onArrived = callback;
  }

  settle(again: boolean): void {
    const { conflict } = this.snapshot();
    this.set({ conflict: null });
    if (again && conflict) this.put(conflict.edit.kind, conflict.edit.values);
  }

  forget(): void {
    this.set({ refusal: null });
  }

  /** Give up the change that is not being taken; those behind it follow. */
  letGo(): void {
    const [first] = this.queue;
    if (!first || this.busy) return;
    this.done(first);
    this.set({ waiting: this.queue.length, held: null });
    void this.flush();
  }

  stop(): void {
    clearTimeout(this.retry);
  }

  private async flush(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    clearTimeout(this.retry);
    try {
      for (let next = this.queue[0]; next; next = this.queue[0]) {
        const { head } = this.snapshot();
        if (!head) break;
        const arrived = await this.post(this.id, next, next.on ?? head.revision);
        this.done(next);
        this.onArrived?.(arrived);
        this.set({ head: arrived, waiting: this.queue.length, held: null, offline: false, signedOut: false });
      }
    } catch (error) {
      await this.failed(error);
    } finally {
      this.busy = false;
    }
  }

  private done(edit: Waiting): void {
    this.queue.shift();
    dropChange(this.id, edit);
  }

  private async failed(error: unknown): Promise<void> {
    if (!(error instanceof Refusal) || error.waits) {
      // it may be taken later: it stays in the queue and in this browser
      const status = error instanceof Refusal ? error.status : 0;
      const sentence =
        error instanceof Error && error.message ? error.message : "That change could not be sent.";
      this.set({ held: sentence, offline: status === 0, signedOut: status === 401 });
      this.retry = setTimeout(() => void this.flush(), RETRY_MS);
      return;
    }
    const edit = this.queue[0];
    if (edit) this.done(edit);
    const head = await this.reload().catch(() => undefined);
    const stale = error.status === 409 && edit;
    this.set({
      head: head ?? this.snapshot().head,
      waiting: this.queue.length,
      held: null,
      offline: false,
      signedOut: false,
      conflict: stale ? { sentence: error.message, edit } : null,
      refusal: stale ? null : error.message,
    });
    if (this.queue.length) this.retry = setTimeout(() => void this.flush(), 0);
  }
}

/** Send one change; `looked_at` is the picture on the screen, of which the answer tells what is different. */
export function send(
  id: number,
  edit: Waiting,
  revision: number,
  looked_at: LookedAt | null = null,
): Promise<Head> {
  const asked = { params: { path: { id } }, signal: forAWhile() };
  const { edit_key } = edit;
  if (edit.kind === "undo")
    return data(api.POST("/api/colourings/{id}/undo", { ...asked, body: { revision, edit_key, looked_at } }));
  if (edit.kind === "redo")
    return data(api.POST("/api/colourings/{id}/redo", { ...asked, body: { revision, edit_key, looked_at } }));
  const body = { revision, kind: edit.kind, values: edit.values, edit_key, looked_at };
  return data(api.POST("/api/colourings/{id}/edits", { ...asked, body }));
}
