/** A colouring as a palette: out as GPL, CSV or JSON, and in again. */
import MenuItem from "@mui/material/MenuItem";
import { useRef } from "react";
import { useAct } from "../../api/acts";
import { type Schemas, uploadFile } from "../../api/client";
import { say } from "../../parts/said";
import { useShared } from "./context";

const OUT = [
  ["gpl", "Palette for drawing programs (GPL)"],
  ["csv", "Table of its inks (CSV)"],
  ["json", "Everything of its inks (JSON)"],
  ["pdf", "Strip to print (PDF)"],
] as const;

export function PaletteItems({ onDone }: { onDone: () => void }) {
  const { id, change } = useShared();
  const input = useRef<HTMLInputElement>(null);
  const bring = useAct(
    (file: File) => uploadFile<Schemas["Palette"]>(`/api/colourings/${id}/palette`, file),
    {
      otherwise: "That palette could not be read.",
      then: (found) => {
        if (found.edits.length) change("several", { edits: found.edits });
        const done = found.edits.length ? "The palette is on." : "Nothing of that palette fits this panel.";
        say({ sentence: [done, ...found.remarks.slice(0, 3)].join(" ") });
        onDone();
      },
    },
  );
  return (
    <>
      {OUT.map(([kind, label]) => (
        <MenuItem
          key={kind}
          component="a"
          href={`/api/colourings/${id}/palette.${kind}`}
          download
          onClick={onDone}
        >
          {label}
        </MenuItem>
      ))}
      <MenuItem onClick={() => input.current?.click()}>
        Bring in a palette …
        <input
          ref={input}
          type="file"
          accept=".csv,.json"
          hidden
          aria-label="A palette to bring in"
          onClick={(e) => e.stopPropagation()}
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) bring.mutate(file);
            e.target.value = "";
          }}
        />
      </MenuItem>
    </>
  );
}
