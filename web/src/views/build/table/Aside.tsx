/** What is not simply the next step: it went wrong, it was done otherwise, it is left out, a note, how she likes her table. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useId, useState } from "react";
import type { State, TableStep } from "../../../api/client";
import { Choices } from "../../../parts/Choices";
import { BIG, Label, PadChoice } from "./big";
import { Photographed } from "./Photographed";
import { useTablePhotographs } from "./photographs";
import { type Manner, MANNERS } from "./manner";
import type { TableHandle } from "./useTable";
import { WentWrong } from "./WentWrong";

interface Props {
  id: number;
  open: boolean;
  onClose: () => void;
  table: TableHandle;
  state: State;
  manner: Manner;
  onManner: (name: keyof Manner) => void;
}

type Page = "" | "wrong" | "otherwise" | "note" | "photographs" | "manner";

export function Aside({ id, open, onClose, table, state, manner, onManner }: Props) {
  const [page, setPage] = useState<Page>("");
  const close = () => {
    setPage("");
    onClose();
  };
  const { step } = table;
  const kept = useTablePhotographs(id);
  const pass = step?.inked ? step : undefined;
  const { told } = table;
  const titles: Record<Page, string> = {
    "": "At this step",
    wrong: "What went wrong?",
    otherwise: `How was ${pass?.inked?.ink_name ?? "it"} laid?`,
    note: "A note",
    photographs: "Photographs",
    manner: "Your table",
  };
  return (
    <Dialog open={open} onClose={close} fullWidth maxWidth="sm" aria-label={titles[page]}>
      <Box sx={{ p: 2.5, display: "grid", gap: 1.5 }}>
        <Typography variant="h1" component="h2" sx={{ fontSize: 28 }}>
          {titles[page]}
        </Typography>
        {page === "" && (
          <>
            <Button variant="contained" sx={BIG} onClick={() => setPage("wrong")}>
              Something went wrong
            </Button>
            <Button variant="outlined" sx={BIG} disabled={!pass} onClick={() => setPage("otherwise")}>
              I do it otherwise
            </Button>
            <Button
              variant="outlined"
              sx={BIG}
              disabled={!pass}
              onClick={() => {
                if (pass)
                  table.log.happen({ kind: "skipped", body: { card: pass.card, pass: pass.pass_key } });
                close();
              }}
            >
              Leave this pass out{pass ? `: ${pass.inked?.ink_name} on ${pass.inked?.element}` : ""}
            </Button>
            {told && (
              <Button
                variant="outlined"
                sx={BIG}
                onClick={() => {
                  table.log.happen({ kind: "undone", body: { of: told.keys } });
                  close();
                }}
              >
                Take back: {told.sentence}
              </Button>
            )}
            <Button variant="outlined" sx={BIG} onClick={() => setPage("note")}>
              Write a note
            </Button>
            <Button variant="outlined" sx={BIG} onClick={() => setPage("photographs")}>
              Take a photograph
            </Button>
            <Button variant="outlined" sx={BIG} onClick={() => setPage("manner")}>
              Sound, voice, left hand, type
            </Button>
          </>
        )}
        {page === "wrong" && <WentWrong id={id} table={table} card={state.stock_colour.hex} onDone={close} />}
        {page === "otherwise" && pass && <Otherwise step={pass} table={table} state={state} onDone={close} />}
        {page === "photographs" && <Photographed table={table} kept={kept} />}
        {page === "note" && <Note table={table} onDone={close} />}
        {page === "manner" &&
          MANNERS.map(([name, label]) => (
            <Button
              key={name}
              role="switch"
              aria-checked={manner[name]}
              variant={manner[name] ? "contained" : "outlined"}
              sx={BIG}
              onClick={() => {
                if (name === "sound" && !manner.sound && "Notification" in window)
                  void Notification.requestPermission();
                onManner(name);
              }}
            >
              {label}
            </Button>
          ))}
        <Button sx={{ minHeight: 64, fontSize: 20 }} onClick={page ? () => setPage("") : close}>
          {page ? "Back to the choices" : "Go on"}
        </Button>
      </Box>
    </Dialog>
  );
}

const HANDS = ["light", "medium", "heavy"] as const;
type Hand = (typeof HANDS)[number];

/** Another pad, more coats, another hand: what is really laid, so that the picture and the rest follow it. */
function Otherwise({
  step,
  table,
  state,
  onDone,
}: {
  step: TableStep;
  table: TableHandle;
  state: State;
  onDone: () => void;
}) {
  const inked = step.inked;
  const [coats, setCoats] = useState(inked?.coats ?? 1);
  const [hand, setHand] = useState<Hand>((inked?.hand ?? "medium") as Hand);
  const [ink, setInk] = useState(inked?.ink ?? "");
  const [brush, setBrush] = useState("");
  if (!inked) return null;
  const pads = table.table?.pull.pads ?? [];
  const used = state.brushes.find((b) => b.label === inked.brush_label)?.key ?? "";
  const changed =
    (brush && brush !== used) || coats !== inked.coats || hand !== inked.hand || ink !== inked.ink;
  return (
    <>
      <Label>Pad</Label>
      <PadChoice pads={pads} value={ink} onChoose={setInk} />
      <Label>Coats</Label>
      <Choices
        apart
        label="Coats"
        value={String(coats)}
        options={[1, 2, 3, 4, 5, 6].map((n) => [String(n), String(n)] as const)}
        onChoose={(n) => setCoats(Number(n))}
        button={{ minHeight: 64, minWidth: 64, fontSize: 20 }}
      />
      <Label>Tool</Label>
      <Choices
        apart
        label="Tool"
        value={brush || used}
        options={state.brushes.map((b) => [b.key, b.label] as const)}
        onChoose={setBrush}
        button={{ minHeight: 64, fontSize: 20 }}
      />
      <Label>Hand</Label>
      <Choices
        apart
        label="Hand"
        value={hand}
        options={HANDS.map((h) => [h, h] as const)}
        onChoose={setHand}
        button={{ minHeight: 64, minWidth: 96, fontSize: 20 }}
      />
      <Button
        variant="contained"
        disabled={!changed}
        sx={{ minHeight: 72, fontSize: 22 }}
        onClick={() => {
          const how = {
            ...(coats !== inked.coats ? { coats } : {}),
            ...(hand !== inked.hand ? { hand } : {}),
            ...(ink !== inked.ink ? { ink } : {}),
            ...(brush && brush !== used ? { brush } : {}),
          };
          table.log.happen({ kind: "otherwise", body: { card: step.card, pass: step.pass_key, ...how } });
          onDone();
        }}
      >
        That is how it is laid
      </Button>
    </>
  );
}

function Note({ table, onDone }: { table: TableHandle; onDone: () => void }) {
  const [text, setText] = useState("");
  const field = useId();
  const notes = table.table?.notes ?? [];
  return (
    <Box
      component="form"
      sx={{ display: "grid", gap: 1.5 }}
      onSubmit={(event) => {
        event.preventDefault();
        if (!text.trim()) return;
        const card = table.step?.card ?? 0;
        table.log.happen({ kind: "note", body: { text: text.trim(), card } });
        onDone();
      }}
    >
      {/* above it: in its rim it would be small */}
      <Typography component="label" htmlFor={field} sx={{ fontSize: 20 }}>
        What is worth remembering
      </Typography>
      <TextField
        id={field}
        value={text}
        onChange={(e) => setText(e.target.value)}
        multiline
        minRows={3}
        slotProps={{ htmlInput: { maxLength: 2000, style: { fontSize: 20 } } }}
      />
      {notes.map((note) => (
        <Typography key={note.key} sx={{ fontSize: 20 }}>
          {note.text}
        </Typography>
      ))}
      <Button type="submit" variant="contained" disabled={!text.trim()} sx={{ minHeight: 72, fontSize: 22 }}>
        Keep it
      </Button>
    </Box>
  );
}
