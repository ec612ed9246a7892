/** Where a list of inks comes in: a table, a reader's text, a palette, a drawer file. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { type DragEvent, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { type InkImport, uploadFile } from "../../../api/client";
import { FileButton } from "../../../parts/FileButton";
import { keys } from "../../../api/keys";
import { sentenceOf } from "../../../parts/words";
import { greys, signal } from "../../../theme/theme";

const KINDS: [string, string][] = [
  [
    "A table (CSV)",
    "From a spreadsheet or a shop’s list, with commas, semicolons or tabs, and decimal commas or points. You say what each column is.",
  ],
  ["A reader’s text (CGATS.17)", "CIELAB, XYZ or spectra, D50 and 2 degrees."],
  ["A palette (GPL)", "Names and screen colours, taken as a first guess."],
  ["A drawer file (JSON)", "A whole drawer as Anastrata wrote it, with cards and brushes."],
];

export function Component() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [over, setOver] = useState(false);
  const [busy, setBusy] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => {
    document.title = "Bring in inks · Anastrata";
  }, []);
  const take = async (file: File | undefined) => {
    if (!file || busy) return;
    setTrouble(null);
    if (file.size > 8_000_000)
      return setTrouble(`“${file.name}” is over 8 MB: larger than any list of inks.`);
    setBusy(file.name);
    try {
      const begun = await uploadFile<InkImport>("/api/ink-imports", file);
      queries.setQueryData(keys.inkImport(begun.id), begun);
      await navigate(`/inks/bring-in/${begun.id}`);
    } catch (error) {
      setTrouble(`${sentenceOf(error, "That file could not be read.")} Nothing was changed.`);
    } finally {
      setBusy(null);
    }
  };
  return (
    <Box sx={{ p: { xs: 2, sm: 4 }, maxWidth: 980, width: "100%", mx: "auto", display: "grid", gap: 3 }}>
      <Box>
        <Typography variant="h1">Bring in inks</Typography>
        <Typography sx={{ maxWidth: 640 }}>
          Nothing is kept before you have seen what comes of it. Pads that are here already are brought up to
          date, not doubled, and it can be undone.
        </Typography>
      </Box>
      <Box
        component="section"
        aria-label="The file"
        onDragOver={(e: DragEvent) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(e: DragEvent) => {
          e.preventDefault();
          setOver(false);
          void take(e.dataTransfer.files[0]);
        }}
        sx={{
          bgcolor: greys.sheet,
          border: `2px ${over ? "solid" : "dashed"} ${over ? signal : greys.edge}`,
          borderRadius: 1,
          p: 3,
          display: "grid",
          gap: 2,
          gridTemplateColumns: { xs: "1fr", md: "1fr 1.4fr" },
        }}
      >
        <Box>
          <Typography variant="h2">Drop the file here</Typography>
          <FileButton
            what="A list of inks"
            accept=".csv,.tsv,.txt,.cgats,.it8,.gpl,.json"
            variant="contained"
            sx={{ mt: 2 }}
            disabled={busy !== null}
            onFile={(file) => void take(file)}
          >
            Choose a file
          </FileButton>
          {busy && (
            <Typography role="status" sx={{ mt: 1 }}>
              Reading {busy} …
            </Typography>
          )}
          {trouble && (
            <Typography role="alert" sx={{ fontWeight: 600, mt: 1 }}>
              {trouble}
            </Typography>
          )}
        </Box>
        <Box component="dl" sx={{ m: 0, "& dt": { fontWeight: 620 }, "& dd": { m: 0, mb: 1, fontSize: 14 } }}>
          {KINDS.map(([name, said]) => (
            <Box key={name}>
              <dt>{name}</dt>
              <dd>{said}</dd>
            </Box>
          ))}
        </Box>
      </Box>
    </Box>
  );
}
