/**
 * The changes of one build on their way to the server: sent one after another,
 * kept in this browser until each has arrived, through a lost connection and a
 * reload.
 */
import { api, data, type EditKind, type Head, Refusal } from "../../api/client";
import { kept, Store } from "../../parts/store";

export interface Waiting {
  edit_key: string;
  kind: EditKind | "undo" | "redo";
  values: Record<string, unknown>;
  on?: number;
}

export interface Conflict {
  sentence: string;
  edit: Waiting;
}

export interface Progress {
  head: Head | undefined;
  waiting: number;
  offline: boolean;
  conflict: Conflict | null;
  refusal: string | null;
}

const RETRY_MS = 1500;
const storeKey = (id: number) => `anastrata-changes-${id}`;
const freshKey = () => `${Date.now().toString(36)}-${Math.random().toString(36).slice(2, 10)}`;

export class ChangeQueue extends Store<Progress> {
  private readonly queue: Waiting[];
  /** Called before anything is drawn again, so that the new picture is under way at once. */
  private onArrived: ((head: Head) => void) | undefined;
  private busy = false;
  private retry: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly id: number,
    /** Ask the server for the whole state again; answers with where the build stands. */
    private readonly reload: () => Promise<Head | undefined>,
  ) {
    const queue = kept<Waiting[]>(storeKey(id), []);
    super({ head: undefined, waiting: queue.length, offline: false, conflict: null, refusal: null });
    this.queue = queue;
  }

  /** The server's state has arrived; an older one than we know of is passed over. */
  seen(head: Head): void {
    const known = this.snapshot().head;
    if (known && head.revision < known.revision) return;
    if (
      known?.revision !== head.revision ||
      known.picture_key !== head.picture_key ||
      known.name !== head.name
    )
      this.set({ head });
    if (this.queue.length) void this.flush();
  }

  put(kind: Waiting["kind"], values: Record<string, unknown>): void {
    // the revision the maker saw when deciding; behind earlier changes of this tab it follows theirs
    const on = this.queue.length ? undefined : this.snapshot().head?.revision;
    this.queue.push({ edit_key: freshKey(), kind, values, on });
    localStorage.setItem(storeKey(this.id), JSON.stringify(this.queue));
    void this.flush();
    // drawing "keeping" may wait; sending the change and getting its picture may not
    setTimeout(() => this.set({ refusal: null, waiting: this.queue.length }), 0);
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

  stop(): void {
    clearTimeout(this.retry);
  }

  private keep(more: Partial<Progress> = {}): void {
    if (this.queue.length) localStorage.setItem(storeKey(this.id), JSON.stringify(this.queue));
    else localStorage.removeItem(storeKey(this.id));
    this.set({ ...more, waiting: this.queue.length });
  }

  private async flush(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    clearTimeout(this.retry);
    try {
      for (let next = this.queue[0]; next; next = this.queue[0]) {
        const { head } = this.snapshot();
        if (!head) break;
        const arrived = await post(this.id, next, next.on ?? head.revision);
        this.queue.shift();
        this.onArrived?.(arrived);
        this.keep({ head: arrived, offline: false });
      }
    } catch (error) {
      await this.failed(error);
    } finally {
      this.busy = false;
    }
  }

  private async failed(error: unknown): Promise<void> {
    if (error instanceof Refusal && error.status === 0) {
      this.set({ offline: true });
      this.retry = setTimeout(() => void this.flush(), RETRY_MS);
      return;
    }
    const edit = this.queue.shift();
    this.keep();
    const head = await this.reload();
    const stale = error instanceof Refusal && error.status === 409 && edit;
    this.set({
      head: head ?? this.snapshot().head,
      offline: false,
      conflict: stale ? { sentence: error.message, edit } : null,
      refusal: stale ? null : error instanceof Error ? error.message : "That change was refused.",
    });
    if (this.queue.length) this.retry = setTimeout(() => void this.flush(), 0);
  }
}

function post(id: number, edit: Waiting, revision: number): Promise<Head> {
  const params = { path: { id } };
  if (edit.kind === "undo") return data(api.POST("/api/builds/{id}/undo", { params, body: { revision } }));
  if (edit.kind === "redo") return data(api.POST("/api/builds/{id}/redo", { params, body: { revision } }));
  const body = { revision, kind: edit.kind, values: edit.values, edit_key: edit.edit_key };
  return data(api.POST("/api/builds/{id}/edits", { params, body }));
}
