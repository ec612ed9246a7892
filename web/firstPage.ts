/**
 * What the first page needs without another round to the server: its few styles stand in it, and `ahead.json` says
 * which views and answers belong to each of the main addresses (all that match one; $1 is the number in brackets), so
 * that the page can name them as it is sent.
 */
import type { Plugin, Rolldown } from "vite";
import main from "./ahead.json" with { type: "json" };

export function firstPage(): Plugin {
  return {
    name: "first-page",
    apply: "build",
    enforce: "post",
    transformIndexHtml: {
      order: "post",
      handler: (html, { bundle }) =>
        html
          .replace(/<link rel="stylesheet"[^>]*href="\/static\/([^"]+)">/g, (link, file: string) => {
            const found = bundle?.[file];
            if (!bundle || found?.type !== "asset") return link;
            // nobody asks for it any more
            delete bundle[file];
            return `<style>${String(found.source)}</style>`;
          })
          .replace("</head>", (end) => linksTo([...started(chunksOf(bundle))], html) + end),
    },
    generateBundle(_, bundle) {
      const chunks = chunksOf(bundle);
      const first = started(chunks);
      const places = main.map(({ address, views, asks }) => {
        const files = views.flatMap((view) => {
          const own = chunks.find((chunk) => chunk.facadeModuleId?.endsWith(`/src/views/${view}.tsx`));
          if (!own) throw new Error(`There is no view ${view}; ahead.json names it.`);
          return [...needed(chunks, own)];
        });
        return { address, scripts: [...new Set(files)].filter((file) => !first.has(file)), asks };
      });
      this.emitFile({ type: "asset", fileName: "ahead.json", source: JSON.stringify(places) });
    },
  };
}

const chunksOf = (bundle: Rolldown.OutputBundle | undefined) =>
  Object.values(bundle ?? {}).filter((part) => part.type === "chunk");

/** What every address starts with: the first script, and what it brings in piece by piece. */
function started(chunks: Rolldown.OutputChunk[]): Set<string> {
  const entry = chunks.find((chunk) => chunk.isEntry);
  const pieces = entry?.dynamicImports.map((file) => chunks.find((chunk) => chunk.fileName === file)) ?? [];
  return new Set([entry, ...pieces].flatMap((chunk) => [...needed(chunks, chunk)]));
}

/** Links to those files that the page does not name yet. */
const linksTo = (files: string[], html: string) =>
  files
    .filter((file) => !html.includes(`/static/${file}"`))
    .map((file) => `<link rel="modulepreload" crossorigin href="/static/${file}">`)
    .join("");

/** The files of a chunk and of all that it imports. */
function needed(chunks: Rolldown.OutputChunk[], chunk: Rolldown.OutputChunk | undefined): Set<string> {
  const found = new Set<string>();
  const wanted = chunk ? [chunk.fileName] : [];
  for (let file = wanted.pop(); file; file = wanted.pop()) {
    if (found.has(file)) continue;
    found.add(file);
    wanted.push(...(chunks.find((own) => own.fileName === file)?.imports ?? []));
  }
  return found;
}
