/** The edit queue: what is kept, in what order it is sent, and what may never be dropped. */
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { type Head, Refusal } from "../src/api/client";
import { ChangeQueue, type Post } from "../src/views/build/changeQueue";
import { keptChanges } from "../src/views/build/changeStore";

const head = (revision: number): Head => ({
  id: 5,
  build_id: 2,
  name: "Card",
  colouring: "First colouring",
  revision,
  set_id: 1,
  set_change: 0,
  picture_key: `k${revision}`,
  undo: null,
  redo: null,
});

/** A server of one colouring: edits by key, each made once, on the revision that stands. */
class Server {
  revision = 1;
  made: string[] = [];
  answers: (Error | null)[] = [];
  post: Post = (_id, edit, revision) => {
    const refusal = this.answers.shift();
    if (refusal) return Promise.reject(refusal);
    if (!this.made.includes(edit.edit_key)) {
      if (revision !== this.revision)
        return Promise.reject(new Refusal(409, "stale", "This build was changed elsewhere.", "revision"));
      this.made.push(edit.edit_key);
      this.revision += 1;
    }
    return Promise.resolve(head(this.revision));
  };
  queue = (id = 5) => {
    const queue = new ChangeQueue(id, () => Promise.resolve(head(this.revision)), this.post);
    queue.seen(head(this.revision));
    return queue;
  };
}

const settled = () => vi.advanceTimersByTimeAsync(20_000);

describe("the queue of changes", () => {
  let server: Server;
  beforeEach(() => {
    vi.useFakeTimers();
    localStorage.clear();
    server = new Server();
  });
  afterEach(() => vi.useRealTimers());

  it("sends changes one after another, each on top of the one before", async () => {
    const queue = server.queue();
    for (const n of [1, 2, 3]) queue.put("set_cards", { cards: n });
    expect(keptChanges(5)).toHaveLength(3);
    await settled();
    expect(server.made).toHaveLength(3);
    expect(queue.snapshot()).toMatchObject({ waiting: 0, held: null, conflict: null });
    expect(keptChanges(5)).toHaveLength(0);
  });

  for (const [name, refusal] of [
    ["no connection", new Refusal(0, "offline", "The workshop computer does not answer.")],
    ["a session that has ended", new Refusal(401, "not_authenticated", "Sign in first.")],
    ["a fault on the server", new Refusal(500, "fault", "Something went wrong on our side.")],
    ["a full disk", new Refusal(507, "disk_full", "The disk of the workshop computer is full.")],
    ["a page too old to be trusted", new Refusal(403, "forbidden", "Load it again.")],
  ] as const) {
    it(`drops nothing at ${name}, says so, and goes on when it is over`, async () => {
      const queue = server.queue();
      server.answers = [refusal, refusal];
      queue.put("set_cards", { cards: 4 });
      queue.put("set_cards", { cards: 5 });
      await vi.advanceTimersByTimeAsync(10);
      expect(queue.snapshot().held).toBe(refusal.message);
      expect(queue.snapshot().signedOut).toBe(refusal.status === 401);
      expect(keptChanges(5)).toHaveLength(2);
      await settled();
      expect(server.made).toHaveLength(2);
      expect(queue.snapshot()).toMatchObject({ waiting: 0, held: null, offline: false, signedOut: false });
    });
  }

  it("keeps a change through a lost answer without making it twice", async () => {
    const queue = server.queue();
    const real = server.post;
    let lost = true;
    const flaky = new ChangeQueue(
      5,
      () => Promise.resolve(head(server.revision)),
      async (...args) => {
        const answer = await real(...args);
        if (lost) {
          lost = false;
          throw new Refusal(0, "offline", "gone");
        }
        return answer;
      },
    );
    queue.stop();
    flaky.seen(head(1));
    flaky.put("undo", {});
    await settled();
    expect(server.revision).toBe(2);
    expect(flaky.snapshot()).toMatchObject({ conflict: null, waiting: 0 });
  });

  it("two tabs offline keep both changes, and none is lost without a word", async () => {
    const [one, two] = [server.queue(), server.queue()];
    const gone = new Refusal(0, "offline", "gone");
    server.answers = [gone, gone];
    one.put("set_cards", { cards: 4 });
    two.put("set_hand", { pass: "p", hand: "light" });
    await vi.advanceTimersByTimeAsync(10);
    expect(keptChanges(5).map((e) => e.kind)).toEqual(["set_cards", "set_hand"]);
    await settled();
    expect(server.made).toHaveLength(1);
    const told = [one, two].filter((q) => q.snapshot().conflict !== null);
    expect(told).toHaveLength(1);
    told[0]?.settle(true);
    await settled();
    expect(server.made).toHaveLength(2);
    expect(keptChanges(5)).toHaveLength(0);
  });

  it("a tab that is opened later sends what an earlier one left, in the order it was made", async () => {
    const gone = new Refusal(0, "offline", "gone");
    server.answers = [gone];
    const first = server.queue();
    first.put("set_cards", { cards: 4 });
    vi.setSystemTime(Date.now() + 5);
    first.put("set_cards", { cards: 5 });
    await vi.advanceTimersByTimeAsync(1);
    first.stop();
    const later = server.queue();
    await settled();
    expect(server.made).toHaveLength(2);
    expect(later.snapshot().waiting).toBe(0);
  });

  it("colourings do not see one another's changes", () => {
    server.answers = [new Refusal(0, "offline", "gone")];
    server.queue(5).put("set_cards", { cards: 4 });
    expect(keptChanges(55)).toHaveLength(0);
    expect(keptChanges(5)).toHaveLength(1);
  });

  it("what is refused for good is told and lets the next one through", async () => {
    const queue = server.queue();
    server.answers = [new Refusal(400, "bad_value", "A pass takes 1 to 6 coats.", "coats")];
    queue.put("set_coats", { pass: "p", coats: 70 });
    queue.put("set_cards", { cards: 2 });
    await settled();
    expect(server.made).toHaveLength(1);
    expect(keptChanges(5)).toHaveLength(0);
  });

  it("a change that is never taken can be let go, and those behind it follow", async () => {
    const queue = server.queue();
    const fault = new Refusal(500, "fault", "on our side");
    server.answers = [fault];
    queue.put("set_cards", { cards: 4 });
    queue.put("set_cards", { cards: 5 });
    await vi.advanceTimersByTimeAsync(10);
    queue.letGo();
    await settled();
    expect(server.made).toHaveLength(1);
    expect(queue.snapshot()).toMatchObject({ waiting: 0, held: null });
  });

  it("damaged leftovers in the store are passed over", () => {
    localStorage.setItem("anastrata-changes-5/x", "{not json");
    localStorage.setItem("anastrata-changes-5/y", JSON.stringify({ kind: "undo" }));
    expect(keptChanges(5)).toEqual([]);
  });

  it("an older state that arrives late does not set the head back", () => {
    const queue = server.queue();
    queue.seen(head(9));
    queue.seen(head(3));
    expect(queue.snapshot().head?.revision).toBe(9);
  });
});
