/** The one client: what a refusal says, what waits, and the token that goes with every change. */
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { api, data, Refusal, uploadFile } from "../src/api/client";
import { send } from "../src/views/build/changeQueue";
import { TableLog } from "../src/views/build/table/tableLog";

const answer = (status: number, body: unknown, type = "application/json") =>
  new Response(typeof body === "string" ? body : JSON.stringify(body), {
    status,
    headers: { "content-type": type },
  });

describe("the client", () => {
  const asked = vi.fn<(request: Request) => Promise<Response>>();
  beforeEach(() => vi.stubGlobal("fetch", asked));
  afterEach(() => {
    vi.unstubAllGlobals();
    vi.restoreAllMocks();
    asked.mockReset();
    document.cookie = "csrftoken=; expires=Thu, 01 Jan 1970 00:00:00 GMT";
  });

  const refused = async () => {
    const error: unknown = await data(api.GET("/api/builds")).catch((e: unknown) => e);
    if (!(error instanceof Refusal)) throw new Error("it was not refused");
    return error;
  };

  it("hands out what was answered", async () => {
    asked.mockResolvedValue(answer(200, [{ id: 1 }]));
    expect(await data(api.GET("/api/builds"))).toEqual([{ id: 1 }]);
  });

  it("gives up what gets no answer, where it is kept to be sent again", async () => {
    const limits: AbortController[] = [];
    vi.spyOn(AbortSignal, "timeout").mockImplementation(() => {
      const limit = new AbortController();
      limits.push(limit);
      return limit.signal;
    });
    asked.mockImplementation(
      ({ signal }) =>
        new Promise((_, refuse) => signal.addEventListener("abort", () => refuse(signal.reason as Error))),
    );
    const edit = { edit_key: "k", kind: "undo", values: {}, on: undefined, at: "" } as const;
    const change = send(1, edit, 3);
    const log = new TableLog(1);
    const table = log.load();
    await vi.waitFor(() => expect(asked).toHaveBeenCalledTimes(2));
    for (const limit of limits) limit.abort();
    await expect(change).rejects.toMatchObject({ status: 0, waits: true });
    await table;
    expect(log.snapshot().error).toBeNull();
    log.stop();
  });

  it("sends a file under its name with what is said beside it", async () => {
    asked.mockResolvedValue(answer(201, { id: 3 }));
    document.cookie = "csrftoken=abc";
    const file = new File(["x"], "card.jpg", { type: "image/jpeg" });
    const post = vi.spyOn(FormData.prototype, "append");
    expect(
      await uploadFile("http://here/api/records/1/photographs", file, undefined, { around: "ivory" }),
    ).toEqual({
      id: 3,
    });
    expect(post.mock.calls.map(([name, value, called]) => [name, called ?? value])).toEqual([
      ["file", "card.jpg"],
      ["around", "ivory"],
    ]);
    expect(asked.mock.calls[0]?.[0].headers.get("X-CSRFToken")).toBe("abc");
    asked.mockResolvedValue(
      answer(400, { code: "bad_file", sentence: "That is no picture.", field: "file" }),
    );
    await expect(uploadFile("http://here/api/x", file)).rejects.toMatchObject({
      message: "That is no picture.",
      field: "file",
    });
  });

  it("carries the server's own sentence, field and revision", async () => {
    const body = {
      code: "stale",
      sentence: "This build was changed elsewhere.",
      field: "revision",
      revision: 7,
    };
    asked.mockResolvedValue(answer(409, body));
    expect(await refused()).toMatchObject({
      status: 409,
      code: "stale",
      message: "This build was changed elsewhere.",
      field: "revision",
      revision: 7,
    });
  });

  it("makes a sentence of an answer that is none of ours", async () => {
    asked.mockResolvedValue(answer(500, "<h1>oops</h1>", "text/html"));
    const error = await refused();
    expect(error.status).toBe(500);
    expect(error.message).toContain("What you had is kept");
    expect(error.message).not.toContain("<");
  });

  it("takes a gateway that finds nobody for no connection", async () => {
    for (const status of [502, 503, 504]) {
      asked.mockResolvedValue(answer(status, "bad gateway", "text/plain"));
      expect((await refused()).status).toBe(0);
    }
  });

  it("takes a lost line for no connection", async () => {
    asked.mockRejectedValue(new TypeError("failed to fetch"));
    expect(await refused()).toMatchObject({ status: 0, code: "offline" });
  });

  it("knows what may be taken later, and what never will", () => {
    const waits = (status: number) => new Refusal(status, "x", "x").waits;
    expect([0, 401, 403, 429, 500, 503, 507].map(waits)).toEqual(Array(7).fill(true));
    expect([400, 404, 405, 409, 413].map(waits)).toEqual(Array(5).fill(false));
  });

  it("reads the token afresh for every change, and sends none where it only looks", async () => {
    asked.mockImplementation(() => Promise.resolve(answer(200, {})));
    const sent = () => asked.mock.lastCall?.[0].headers.get("X-CSRFToken");
    document.cookie = "csrftoken=one";
    await api.POST("/api/drawer/undo", { body: { edit_key: "k" } });
    expect(sent()).toBe("one");
    document.cookie = "csrftoken=two%20halves";
    await api.POST("/api/drawer/undo", { body: { edit_key: "k" } });
    expect(sent()).toBe("two halves");
    await api.GET("/api/builds");
    expect(sent()).toBeNull();
  });
});
