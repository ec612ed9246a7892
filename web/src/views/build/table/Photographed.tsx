/** Photographs from the table: one is taken with inky hands, kept at once, and shown in the log beside the card. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useMemo } from "react";
import { FileButton } from "../../../parts/FileButton";
import { clock, listed, tablePhotograph } from "../../log/words";
import { BIG } from "./big";
import type { useTablePhotographs, Waiting } from "./photographs";
import type { TableHandle } from "./useTable";

interface Props {
  table: TableHandle;
  kept: ReturnType<typeof useTablePhotographs>;
}

/** What was done last, as it stands under a photograph. */
export function afterWhat(table: Pick<TableHandle, "steps" | "at">): string {
  const last = table.steps.slice(0, table.at).filter((s) => s.kind === "ink");
  const inked = last.at(-1)?.inked;
  return inked ? `After ${inked.ink_name} on ${inked.element}` : "Before the first ink";
}

export function Photographed({ table, kept }: Props) {
  const { photographs, waiting, held } = kept;
  const taken = kept.taken ?? table.table?.photographs ?? [];
  const card = table.step?.card ?? 0;
  return (
    <>
      <FileButton
        what="A photograph of the table"
        accept="image/*"
        variant="contained"
        camera
        sx={BIG}
        onFile={(file) =>
          void photographs.take(file, { making: table.table?.making ?? 1, card, after: afterWhat(table) })
        }
      >
        Take a photograph
      </FileButton>
      {held && (
        <Typography role="alert" sx={{ fontSize: 20, fontWeight: 600 }}>
          {held}
        </Typography>
      )}
      {waiting.length > 0 && (
        <Typography role="status" sx={{ fontSize: 20 }}>
          {waiting.length === 1 ? "One waits here" : `${waiting.length} wait here`} until the house computer
          has it.
        </Typography>
      )}
      {taken.length + waiting.length === 0 && (
        <Typography sx={{ fontSize: 20 }}>
          Nothing photographed yet. What you take here stands beside the card in the log, with what was done
          last.
        </Typography>
      )}
      <Box
        component="ul"
        aria-label="Photographs from the table"
        sx={{ display: "grid", gap: 1, gridTemplateColumns: "repeat(auto-fill, minmax(150px, 1fr))" }}
      >
        {taken.map((p) => (
          <Box component="li" key={p.key}>
            <Box
              component="img"
              src={listed(tablePhotograph(p.id))}
              alt={p.after}
              sx={{ width: "100%", display: "block" }}
            />
            <Typography sx={{ fontSize: 20 }}>
              {clock(p.at)}, {small(p.after)}
            </Typography>
            <Button
              aria-label={`Take away the photograph of ${clock(p.at)}`}
              disabled={table.offline}
              sx={BIG}
              onClick={() => void photographs.takeAway(p, taken)}
            >
              Take away
            </Button>
          </Box>
        ))}
        {waiting.map((one) => (
          <OneWaiting key={one.key} one={one} />
        ))}
      </Box>
    </>
  );
}

/** As it stands in the middle of a sentence; inks keep their capitals. */
const small = (words: string) => words.charAt(0).toLowerCase() + words.slice(1);

function OneWaiting({ one }: { one: Waiting }) {
  const address = useMemo(() => URL.createObjectURL(one.picture), [one.picture]);
  useEffect(() => () => URL.revokeObjectURL(address), [address]);
  return (
    <Box component="li">
      <Box
        component="img"
        src={address}
        alt={one.after}
        sx={{ width: "100%", display: "block", opacity: 0.7 }}
      />
      <Typography sx={{ fontSize: 20 }}>{clock(one.at)}, waiting</Typography>
    </Box>
  );
}
