/** What is measured between parts, row by row: bridges, masks, slips; a press shows where it is. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { LayerSet, Measures } from "../../../api/client";
import { greys, signal } from "../../../theme/theme";
import { useSession } from "../../../api/hooks";
import { counted } from "../../../parts/words";
import { fine, foldedOf, TIGHTEST } from "./measuring";

interface RowProps {
  index: number;
  asked: number | null;
  onAsk: (index: number | null) => void;
  title: string;
  value: string;
  how: string;
  children?: React.ReactNode;
}

function Row({ index, asked, onAsk, title, value, how, children }: RowProps) {
  const open = asked === index;
  return (
    <Box
      component="li"
      sx={{
        borderBottom: `1px solid ${greys.line}`,
        borderLeft: `4px solid ${open ? signal : "transparent"}`,
      }}
    >
      <ButtonBase
        aria-expanded={open}
        onClick={() => onAsk(open ? null : index)}
        sx={{
          width: "100%",
          display: "flex",
          gap: 1,
          justifyContent: "space-between",
          textAlign: "left",
          px: 1,
          py: 0.75,
        }}
      >
        <Typography variant="body2">{title}</Typography>
        <Typography variant="body2" sx={{ fontWeight: 640, whiteSpace: "nowrap" }}>
          {value}
        </Typography>
      </ButtonBase>
      {open && (
        <Box sx={{ px: 1, pb: 1 }}>
          <Typography variant="caption" sx={{ display: "block", mb: children ? 0.75 : 0 }}>
            {how}
          </Typography>
          {children}
        </Box>
      )}
    </Box>
  );
}

const List = ({ label, children }: { label: string; children: React.ReactNode }) => (
  <Box
    component="ul"
    aria-label={label}
    sx={{
      bgcolor: greys.sheet,
      border: `1px solid ${greys.line}`,
      maxHeight: 380,
      overflow: "auto",
    }}
  >
    {children}
  </Box>
);

interface Seen {
  set: LayerSet;
  measures: Measures;
  asked: number | null;
  onAsk: (index: number | null) => void;
}

export function Bridges({ measures, set, asked, onAsk }: Seen) {
  const units = useSession().data?.units ?? "in";
  const thin = measures.bridges.filter((b) => b.thin);
  const name = (key: string) =>
    set.sheets.flatMap((s) => s.shapes).find((o) => o.key === key)?.element ?? key;
  if (!thin.length && !measures.islands.length)
    return <Typography>Every bridge is wide enough to hold, and no island is loose.</Typography>;
  return (
    <>
      <Typography>
        {thin.length
          ? `${counted(thin.length, "bridge")} ${thin.length === 1 ? "is" : "are"} too thin to hold by ${thin.length === 1 ? "itself" : "themselves"}: bristles creep under.`
          : "Every bridge is wide enough to hold."}
        {measures.islands.length > 0 &&
          ` ${measures.islands.length} ${measures.islands.length === 1 ? "island is" : "islands are"} held by nothing.`}
      </Typography>
      <List label="Thin bridges and islands">
        {measures.islands.map((island, i) => (
          <Row
            key={`i${i}`}
            index={i}
            asked={asked}
            onAsk={onAsk}
            title={`Island in ${name(island.key)}, ${set.nouns.one} ${island.sheet}`}
            value="loose"
            how={island.how}
          />
        ))}
        {measures.bridges.map(
          (b, i) =>
            b.thin && (
              <Row
                key={i}
                index={1000 + i}
                asked={asked}
                onAsk={onAsk}
                title={`${name(b.one)} to ${name(b.other)}, ${set.nouns.one} ${b.sheet}`}
                value={fine(b.width_mm, units)}
                how={b.how}
              />
            ),
        )}
      </List>
    </>
  );
}

export function Masks({ measures, set, asked, onAsk }: Seen) {
  const units = useSession().data?.units ?? "in";
  if (!measures.masks.length)
    return (
      <Typography>
        No brush reaches from one part to another on the same {set.nouns.one}: no mask is needed.
      </Typography>
    );
  return (
    <>
      <Typography>
        Where the fitting brush strays onto something else of the same {set.nouns.one}. Only inks that differ
        need the mask.
      </Typography>
      <List label="Masks">
        {measures.masks.map((m, i) => (
          <Row
            key={`${m.sheet}${m.inked}${m.covered}`}
            index={i}
            asked={asked}
            onAsk={onAsk}
            title={`Inking ${m.inked}, keeping ${m.covered} clean (${set.nouns.one} ${m.sheet})`}
            value={m.fits ? `${fine(m.gap_mm, units)}, fits` : `${fine(m.gap_mm, units)}, no room`}
            how={m.how}
          >
            <Button
              variant="outlined"
              component="a"
              download
              href={`/api/sets/${set.id}/mask.svg?element=${encodeURIComponent(m.inked)}&sheet=${m.sheet}`}
            >
              Mask to cut (SVG)
            </Button>
          </Row>
        ))}
      </List>
    </>
  );
}

export function Slips({ measures, set, asked, onAsk }: Seen) {
  const units = useSession().data?.units ?? "in";
  const [all, setAll] = useState(false);
  const [level, setLevel] = useState(false);
  if (!measures.slips.length)
    return <Typography>No tone lies on a base of its own: nothing can slip out.</Typography>;
  const folded = foldedOf(measures.slips);
  const rest = measures.slips.length - folded - TIGHTEST;
  const row = (s: Measures["slips"][number], i: number) => (
    <Row
      key={i}
      index={i}
      asked={asked}
      onAsk={onAsk}
      title={`${s.element}: ${set.nouns.one} ${s.over_sheet} on ${set.nouns.one} ${s.under_sheet}`}
      value={s.flush ? "flush" : fine(s.least_mm, units)}
      how={s.how}
    >
      <Typography variant="body2">
        {s.register
          ? `Good enough: ${s.register_words}.`
          : "Tighter than any way of seating it: expect a rim, or let this tone stand out on purpose."}
      </Typography>
    </Row>
  );
  return (
    <>
      <Typography>How far a {set.nouns.one} may slip before a tone shows beside its base.</Typography>
      {folded > 0 && (
        <Box>
          <Typography variant="body2">
            {folded} tones are drawn flush with the edge of what they lie on, and have no room: whatever the{" "}
            {set.nouns.one} slips by shows as a thin rim. Seat it as exactly as you can.
          </Typography>
          <Button variant="text" aria-expanded={level} sx={{ ml: -1 }} onClick={() => setLevel(!level)}>
            {level ? "Fold them" : "Show them"}
          </Button>
          {level && <List label="Flush tones">{measures.slips.slice(0, folded).map(row)}</List>}
        </Box>
      )}
      {measures.slips.length > folded && (
        <List label="Room to slip">
          {measures.slips
            .slice(folded, all ? undefined : folded + TIGHTEST)
            .map((s, i) => row(s, folded + i))}
        </List>
      )}
      {rest > 0 && (
        <Button variant="text" aria-expanded={all} sx={{ justifySelf: "start" }} onClick={() => setAll(!all)}>
          {all ? "Fold the rest" : `${rest} more, with as much room or more`}
        </Button>
      )}
    </>
  );
}
