/** What is asked while the first screen's script is on the way: under the keys that the screens ask by, and nothing more. */
import { QueryClient } from "@tanstack/react-query";
import { afterEach, describe, expect, it, vi } from "vitest";
import { ahead } from "../src/ahead";
import { keys } from "../src/api/keys";

afterEach(() => vi.unstubAllGlobals());

async function asked(path: string) {
  const addresses: string[] = [];
  vi.stubGlobal("fetch", (request: Request) => {
    addresses.push(new URL(request.url).pathname);
    return Promise.resolve(new Response(JSON.stringify({ name: "ada" }), { headers: { "Content-Type": "application/json" } })); // prettier-ignore
  });
  const queries = new QueryClient();
  ahead(path, queries);
  await vi.waitFor(() => {
    if (queries.isFetching()) throw new Error("under way");
  });
  return { addresses, queries };
}

describe("asked ahead", () => {
  it.each([
    ["/", keys.builds, "/api/builds"],
    ["/sets", keys.sets, "/api/sets"],
    ["/sets/7", keys.set(7), "/api/sets/7"],
    ["/builds/2/colourings/31", keys.colouring(31), "/api/colourings/31"],
    ["/builds/2/colourings/31/materials", keys.colouring(31), "/api/colourings/31", "/api/stocks"],
    ["/builds/2/colourings/31/table", keys.colouring(31), "/api/colourings/31"],
  ])("%s", async (path, key, ...own) => {
    const { addresses, queries } = await asked(path);
    expect(addresses.sort()).toEqual([...own, "/api/session"].sort());
    expect(queries.getQueryData(key)).toEqual({ name: "ada" });
    expect(queries.getQueryData(keys.session)).toEqual({ name: "ada" });
  });

  it("asks for the drawer and the cards in one go", async () => {
    const { addresses, queries } = await asked("/inks");
    expect(addresses.sort()).toEqual(["/api/inks", "/api/session", "/api/stocks"]);
    expect(queries.getQueryData(keys.inks())).toEqual({ name: "ada" });
  });

  it("asks who is here at any other address", async () => {
    expect((await asked("/log/4")).addresses).toEqual(["/api/session"]);
  });
});
