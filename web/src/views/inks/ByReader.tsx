/** The colour reader: readings of a dab averaged, with those named that do not belong. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api, data, type Ink, type Readings, uploadFile } from "../../api/client";
import { FileButton } from "../../parts/FileButton";
import { sentenceOf } from "../../parts/words";
import { greys } from "../../theme/theme";
import type { Found } from "./AddSwatch";

interface Props {
  ink: Ink;
  stock: string;
  coats: number;
  onFound: (found: Found | null) => void;
  onTrouble: (sentence: string | null) => void;
}

export function ByReader({ ink, stock, coats, onFound, onTrouble }: Props) {
  const [read, setRead] = useState<Readings | null>(null);
  const [doing, setDoing] = useState<string | null>(null);
  const run = async (what: string, ask: () => Promise<Readings | null>) => {
    if (doing) return;
    setDoing(what);
    onTrouble(null);
    try {
      const found = await ask();
      setRead(found);
      onFound(
        found && {
          lab: found.lab,
          how: "reader",
          spread: found.spread,
          shown: found.colour.hex,
          said: `L* ${found.colour.lab.map((v) => v.toFixed(1)).join("  ")}, readings ${found.spread.toFixed(2)} apart.`,
        },
      );
    } catch (error) {
      onTrouble(sentenceOf(error, "The reader does not answer."));
    } finally {
      setDoing(null);
    }
  };
  const press = () =>
    run("Reading five times", () =>
      data(api.POST("/api/reader", { body: { ink: ink.id, stock, coats, times: 5 } })),
    );
  const tile = () => run("Reading the white tile", () => api.POST("/api/reader/tile").then(() => null));
  const file = (picked: File) => run("Reading the file", () => uploadFile<Readings>("/api/readings", picked));
  return (
    <Box sx={{ display: "grid", gap: 1.25 }}>
      <Typography variant="body2">
        Put the reader flat on the dry dab, away from its edge, and read it at five places. Without one, the
        stand-in reader that ships with Anastrata reads what the drawer knows, with the noise and drift of a
        real one; a real one’s program writes CGATS text.
      </Typography>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        <Button variant="outlined" disabled={doing !== null} onClick={() => void press()}>
          Read it five times
        </Button>
        <Button variant="outlined" disabled={doing !== null} onClick={() => void tile()}>
          Read the white tile
        </Button>
        <FileButton
          what="Readings as CGATS text"
          accept=".txt,.cgats,.it8,.ti3,text/plain"
          disabled={doing !== null}
          onFile={(picked) => void file(picked)}
        >
          Readings from a file
        </FileButton>
      </Box>
      {doing && (
        <Typography role="status" variant="body2">
          {doing} …
        </Typography>
      )}
      {read && !doing && (
        <>
          <Box component="ol" aria-label="Readings" sx={{ display: "flex", gap: 0.75, flexWrap: "wrap" }}>
            {read.readings.map((r, i) => (
              <Box
                component="li"
                key={i}
                sx={{ width: 62, fontSize: 12, textAlign: "center", opacity: r.left_out ? 0.65 : 1 }}
              >
                <Box
                  sx={{
                    height: 26,
                    borderRadius: 0.5,
                    bgcolor: r.colour.hex,
                    border: r.left_out ? `2px dashed ${greys.ink}` : "none",
                  }}
                />
                {r.left_out ? "left out" : `off ${r.off.toFixed(2)}`}
              </Box>
            ))}
          </Box>
          {read.remarks.map((r) => (
            <Typography key={r} variant="body2" sx={{ fontWeight: 600 }}>
              {r}
            </Typography>
          ))}
        </>
      )}
    </Box>
  );
}
