/** What can be laid on the panel: a set, a mask, a piece of card, words, a note. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import ButtonBase from "@mui/material/ButtonBase";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { SetSummary, Thing } from "../../../api/client";
import { useSet, useSets } from "../../../api/hooks";
import { Choices } from "../../../parts/Choices";
import { SetPreview } from "../../../parts/SetPreview";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";
import { FRESH } from "./words";

export type Kind = "set" | "mask" | "card" | "words" | "note";

interface Props {
  kind: Kind | null;
  onClose: () => void;
  onLay: (thing: Record<string, unknown>) => void;
  onDraw: () => void;
}

const TITLES: Record<Kind, string> = {
  set: "Lay a set on the panel",
  mask: "Lay a mask on the panel",
  card: "Lay a piece of card on the panel",
  words: "A greeting in words of your own",
  note: "A note of what cannot be predicted",
};

export function LayOn({ kind, onClose, onLay, onDraw }: Props) {
  return (
    <Dialog open={kind !== null} onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="lay-on-title">
      <DialogTitle id="lay-on-title">{kind && TITLES[kind]}</DialogTitle>
      {kind === "set" && <Sets onLay={onLay} />}
      {kind === "mask" && <Masks onLay={onLay} onDraw={onDraw} />}
      {kind === "card" && <Cards onLay={onLay} />}
      {kind === "words" && <Words onLay={onLay} />}
      {kind === "note" && <Note onLay={onLay} />}
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Not now
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Sets({ onLay }: Pick<Props, "onLay">) {
  const sets = useSets();
  const { state } = useShared();
  const [opened, setOpened] = useState<SetSummary | null>(null);
  const lay = (set: SetSummary, sheet?: number) =>
    onLay({
      kind: "set",
      set_id: set.id,
      ...(sheet === undefined ? {} : { sheets: [sheet] }),
      ...(set.kind === "die-cut" ? { card: { stock: state.stock } } : {}),
    });
  if (opened) return <Sheets set={opened} onLay={(sheet) => lay(opened, sheet)} />;
  return (
    <DialogContent>
      <Typography variant="body2" sx={{ mb: 1.5 }}>
        It lies in the middle first; push it where it belongs. The pieces of a die-cut are card: each covers
        what is under it.
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
        {sets.data?.map((s) => (
          <ButtonBase
            key={s.id}
            onClick={() => (s.sheet_count > 1 && s.kind !== "die-cut" ? setOpened(s) : lay(s))}
            sx={{
              p: 1,
              border: `1px solid ${greys.line}`,
              borderRadius: 1,
              display: "grid",
              gap: 0.5,
              "&:hover": { bgcolor: greys.white },
            }}
          >
            <SetPreview set={s} height={104} />
            <Typography variant="caption">{s.name}</Typography>
          </ButtonBase>
        ))}
      </Box>
    </DialogContent>
  );
}

/** All of a set, or one of its sheets: one greeting of many, a bank of cloud. */
function Sheets({ set, onLay }: { set: SetSummary; onLay: (sheet?: number) => void }) {
  const opened = useSet(set.id);
  return (
    <DialogContent>
      <Typography variant="body2" sx={{ mb: 1.5 }}>
        All of {set.name}, or one {set.nouns.one} of it?
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75 }}>
        <Tile label="All of it" what={`${set.sheet_count} ${set.nouns.many}`} onClick={() => onLay()} />
        {opened.data?.sheets.map((s) => (
          <Tile
            key={s.number}
            label={`${s.number} ${s.name}`}
            what={`${s.openings} ${s.openings === 1 ? set.nouns.shape : set.nouns.shapes}`}
            onClick={() => onLay(s.number)}
          />
        ))}
      </Box>
    </DialogContent>
  );
}

function Tile({ label, what, onClick }: { label: string; what: string; onClick: () => void }) {
  return (
    <ButtonBase
      onClick={onClick}
      sx={{
        px: 1.5,
        py: 1,
        border: `1px solid ${greys.ink}`,
        borderRadius: 1,
        display: "grid",
        justifyItems: "start",
        textAlign: "left",
        minHeight: 44,
        "&:hover": { bgcolor: greys.white },
      }}
    >
      <Typography variant="body2" sx={{ fontWeight: 620 }}>
        {label}
      </Typography>
      {what && (
        <Typography variant="caption" sx={{ color: greys.quiet }}>
          {what}
        </Typography>
      )}
    </ButtonBase>
  );
}

function Fresh({ groups, onLay }: { groups: string[]; onLay: Props["onLay"] }) {
  const { state, set } = useShared();
  const at = { width: set.width_mm, height: set.height_mm, stock: state.stock };
  return groups.map((group) => (
    <Box key={group} sx={{ mb: 2 }}>
      <Typography variant="h3" sx={{ mb: 0.75 }}>
        {group}
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75 }}>
        {FRESH[group]?.map((f) => (
          <Tile key={f.label} label={f.label} what={f.what} onClick={() => onLay(f.thing(at))} />
        ))}
      </Box>
    </Box>
  ));
}

/** A mask that is cut from what lies there: on the line, a hair inside it. */
function fromThing(thing: Thing, way: "cover" | "window" | "sheet") {
  const shape = {
    kind: way === "sheet" ? "sheet" : "part",
    of: thing.key,
    allowance: way === "cover" ? -0.2 : 0,
  };
  const names = { cover: "cut-out of", window: "window of", sheet: "inverse of" };
  return {
    kind: "mask",
    name: `${names[way]} ${thing.name}`.slice(0, 54),
    shape,
    wear: { way: way === "window" ? "window" : "cover" },
  };
}

function Masks({ onLay, onDraw }: Pick<Props, "onLay" | "onDraw">) {
  const { set } = useShared();
  const [windows, covers] = Object.keys(FRESH);
  const sources = set.things.filter((t) => t.kind === "set" || t.kind === "words");
  return (
    <DialogContent>
      <Fresh groups={[windows ?? ""]} onLay={onLay} />
      <Fresh groups={[covers ?? ""]} onLay={onLay} />
      <Typography variant="h3" sx={{ mb: 0.75 }}>
        From what lies there
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, mb: 2 }}>
        {sources.map((t) => (
          <Box key={t.key} sx={{ display: "flex", gap: 0.75, flexWrap: "wrap" }}>
            <Tile
              label={`Cut out ${t.name}`}
              what="laid over itself, a hair inside the line"
              onClick={() => onLay(fromThing(t, "cover"))}
            />
            <Tile
              label={`Only on ${t.name}`}
              what="a window of its outline"
              onClick={() => onLay(fromThing(t, "window"))}
            />
            {t.kind === "set" && (
              <Tile
                label="The sheet's own plastic"
                what="only its openings take ink"
                onClick={() => onLay(fromThing(t, "sheet"))}
              />
            )}
          </Box>
        ))}
        <Tile label="Draw an outline" what="point by point on the panel" onClick={onDraw} />
      </Box>
    </DialogContent>
  );
}

function Cards({ onLay }: Pick<Props, "onLay">) {
  const own = Object.keys(FRESH)[2] ?? "";
  return (
    <DialogContent>
      <Fresh groups={[own]} onLay={onLay} />
      <Typography variant="body2">
        A stamped or stencilled image becomes a piece of its own too: choose it on the panel, and cut it out
        there.
      </Typography>
    </DialogContent>
  );
}

function Words({ onLay }: Pick<Props, "onLay">) {
  const [text, setText] = useState("Thank you");
  const [hand, setHand] = useState<"script" | "print">("script");
  const lay = () => text.trim() && onLay({ kind: "words", name: "greeting", words: { text, size: 9, hand } });
  return (
    <DialogContent>
      <Typography variant="body2" sx={{ mb: 1.5 }}>
        They stand in for a stamp of yours, true to size. Whether they can be read is judged by their colour.
      </Typography>
      <TextField
        autoFocus
        fullWidth
        multiline
        label="Words"
        value={text}
        onChange={(e) => setText(e.target.value)}
        slotProps={{ htmlInput: { maxLength: 120 } }}
      />
      <Box sx={{ display: "flex", gap: 1.5, mt: 1.5, alignItems: "center" }}>
        <Choices
          label="Lettering"
          value={hand}
          options={[
            ["script", "Script"],
            ["print", "Print"],
          ]}
          onChoose={setHand}
        />
        <Box sx={{ flex: 1 }} />
        <Button variant="contained" disabled={!text.trim()} onClick={lay}>
          Lay it on
        </Button>
      </Box>
    </DialogContent>
  );
}

function Note({ onLay }: Pick<Props, "onLay">) {
  const [text, setText] = useState("");
  const lay = () =>
    text.trim() && onLay({ kind: "note", name: text.slice(0, 40), note: { text, thickness: 1.5 } });
  return (
    <DialogContent>
      <Typography variant="body2" sx={{ mb: 1.5 }}>
        A gem, a thread, a folder's texture: it has a place and a thickness, and no colour that can be
        predicted.
      </Typography>
      <Box sx={{ display: "flex", gap: 1.5 }}>
        <TextField
          autoFocus
          fullWidth
          label="What is it?"
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => e.key === "Enter" && lay()}
          slotProps={{ htmlInput: { maxLength: 200 } }}
        />
        <Button variant="contained" disabled={!text.trim()} onClick={lay}>
          Lay it on
        </Button>
      </Box>
    </DialogContent>
  );
}
