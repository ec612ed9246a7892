/** What the build says of each main address: the scripts behind its views, once each, without those of the frame. */
import { describe, expect, it, vi } from "vitest";
import main from "../ahead.json";
import { firstPage } from "../firstPage";

interface Part {
  type: "chunk" | "asset";
  fileName: string;
  isEntry?: boolean;
  facadeModuleId?: string | null;
  imports?: string[];
  dynamicImports?: string[];
  source?: string;
}
type Place = { address: string; scripts: string[]; asks: string[] };

const views = [...new Set(main.flatMap((place) => place.views))];
const chunk = (fileName: string, imports: string[], more: Partial<Part> = {}): Part => ({
  type: "chunk",
  fileName,
  imports,
  dynamicImports: [],
  isEntry: false,
  facadeModuleId: null,
  ...more,
});

/** A build in which every view has a script of its own, and some that it shares. */
function bundle(without?: string): Record<string, Part> {
  const parts = [
    chunk("frame.js", ["react.js"], { isEntry: true, dynamicImports: ["app.js"] }),
    chunk("react.js", []),
    // brought in by the first script itself, and it brings in every view
    chunk("app.js", ["styles.js", "frame.js"], { dynamicImports: views.map((view) => `${view}.js`) }),
    chunk("styles.js", []),
    chunk("field.js", ["react.js", "label.js"]),
    // two that import each other, as bundlers leave them
    chunk("label.js", ["field.js"]),
    ...views
      .filter((view) => view !== without)
      .map((view) =>
        chunk(`${view}.js`, ["frame.js", "styles.js", "field.js"], {
          facadeModuleId: `/any/where/src/views/${view}.tsx`,
        }),
      ),
  ];
  return Object.fromEntries(parts.map((part) => [part.fileName, part]));
}

function told(parts: Record<string, Part>): Place[] {
  const emitFile = vi.fn<(file: { source: string }) => void>();
  const made = firstPage().generateBundle as unknown as (
    this: object,
    options: object,
    parts: object,
  ) => void;
  made.call({ emitFile }, {}, parts);
  return JSON.parse(emitFile.mock.calls[0]?.[0].source ?? "[]") as Place[];
}

describe("the first page", () => {
  it("names what each view needs, once, and nothing that the frame brings", () => {
    const places = told(bundle());
    expect(places.map((place) => place.address)).toEqual(main.map((place) => place.address));
    for (const [n, place] of places.entries()) {
      const own = main[n]?.views.map((view) => `${view}.js`) ?? [];
      const shared = own.length ? ["field.js", "label.js"] : [];
      expect([...place.scripts].sort()).toEqual([...own, ...shared].sort());
      expect(place.asks).toEqual(main[n]?.asks);
    }
  });

  it("ends the build where a view is not there", () => {
    const gone = views[0] ?? "";
    expect(() => told(bundle(gone))).toThrow(`There is no view ${gone}`);
  });

  it("links to the pieces that the first script brings in, each once, and to no view", () => {
    const { handler } = firstPage().transformIndexHtml as unknown as {
      handler: (html: string, context: object) => string;
    };
    const html = '<head><script src="/static/frame.js"></script></head>';
    const linked = handler(html, { bundle: bundle() }).match(/<link[^>]*>/g);
    expect(linked).toEqual(
      ["react.js", "app.js", "styles.js"].map(
        (file) => `<link rel="modulepreload" crossorigin href="/static/${file}">`,
      ),
    );
  });

  it("has its styles in it, and keeps a link to what it does not know", () => {
    const { handler } = firstPage().transformIndexHtml as unknown as {
      handler: (html: string, context: object) => string;
    };
    const styles = {
      "assets/own.css": { type: "asset", fileName: "assets/own.css", source: "@font-face{}" },
    };
    const other = '<link rel="stylesheet" crossorigin href="/static/assets/other.css">';
    const html = `<head><link rel="stylesheet" crossorigin href="/static/assets/own.css">${other}</head>`;
    expect(handler(html, { bundle: styles })).toBe(`<head><style>@font-face{}</style>${other}</head>`);
    expect(Object.keys(styles)).toEqual([]);
  });

  it("asks only for what takes the one number of its address", () => {
    for (const { address, asks } of main) {
      const numbers = address.match(/\(\\d\+\)/g)?.length ?? 0;
      expect(numbers).toBe(asks.some((ask) => ask.includes("$1")) ? 1 : 0);
      expect(asks.every((ask) => ask.startsWith("/api/") && !ask.includes("$2"))).toBe(true);
    }
  });
});
