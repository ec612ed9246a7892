/** What is measured, one kind at a time: chosen here, drawn on the sheets where it is; each figure says how it came. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import TextField from "@mui/material/TextField";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { api, data, type LayerSet, type Measures } from "../../../api/client";
import { keys } from "../../../api/keys";
import { minutes } from "../../../parts/lengths";
import { greys, signal } from "../../../theme/theme";
import type { Kind, Panel } from "./measuring";
import { KINDS, mm } from "./measuring";

interface Props {
  set: LayerSet;
  measures: Measures | undefined;
  kind: Kind;
  onKind: (kind: Kind) => void;
  chosen: string[];
  asked: number | null;
  onAsk: (index: number | null) => void;
  panel: Panel;
  onPanel: (panel: Panel) => void;
}

export function MeasurePanel(props: Props) {
  const { measures, kind, onKind, set, chosen } = props;
  return (
    <Box sx={{ display: "grid", gap: 1.5 }}>
      <Box role="group" aria-label="What is measured" sx={{ display: "flex", flexWrap: "wrap", gap: 0.5 }}>
        {KINDS.map((k) => (
          <Button
            key={k.id}
            variant={kind === k.id ? "contained" : "outlined"}
            aria-pressed={kind === k.id}
            onClick={() => onKind(k.id)}
          >
            {k.label}
          </Button>
        ))}
      </Box>
      {!measures ? (
        <Typography role="status">Measuring every opening …</Typography>
      ) : (
        <>
          {chosen.length === 1 && <Asked measures={measures} opening={chosen[0] ?? ""} />}
          {kind === "brush" && <Sentence>{brushSentence(measures, set)}</Sentence>}
          {kind === "neck" && <Sentence>{neckSentence(measures)}</Sentence>}
          {kind === "bridge" && <Bridges {...props} measures={measures} />}
          {kind === "mask" && <Masks {...props} measures={measures} />}
          {kind === "slip" && <Slips {...props} measures={measures} />}
          {kind === "trim" && <Trim {...props} />}
        </>
      )}
    </Box>
  );
}

const Sentence = ({ children }: { children: string }) => <Typography>{children}</Typography>;

function brushSentence(measures: Measures, set: LayerSet): string {
  const none = measures.openings.filter((o) => !o.brush).length;
  const tight = none ? ` ${none} ${none === 1 ? "is" : "are"} too narrow for any brush.` : "";
  const work =
    set.kind === "stamp set"
      ? "A stamp is inked from the pad; brushes matter where it is inked in parts."
      : set.kind === "die-cut"
        ? `About ${minutes(measures.minutes)} of blending, off the panel, before the pieces are glued.`
        : `About ${minutes(measures.minutes)} of blending for one card, one coat through everything.`;
  return `${work}${tight} Each circle is the largest that fits; press an opening for its figures.`;
}

function neckSentence(measures: Measures): string {
  const necks = measures.openings.filter((o) => o.neck_mm !== null);
  const least = Math.min(...necks.map((o) => o.neck_mm ?? Infinity));
  return necks.length
    ? `${necks.length} openings narrow to a neck; the narrowest is ${mm(least)}. A brush that fits the wide parts must be turned on its edge there.`
    : "No opening narrows to a neck.";
}

function Asked({ measures, opening }: { measures: Measures; opening: string }) {
  const found = measures.openings.find((o) => o.key === opening);
  if (!found) return null;
  const rows: [string, string, string][] = [
    ["Area", `${found.area_mm2.toFixed(1)} mm²`, found.how.area],
    ["Widest circle", mm(found.inscribed_mm), found.how.inscribed],
    ["Narrowest neck", found.neck_mm === null ? "none" : mm(found.neck_mm), found.how.neck],
    ["Largest brush", found.brush ?? "none fits", found.how.brush],
    ["Smallest worth using", found.smallest ?? "none", found.how.smallest],
    ["To fill it", minutes(found.minutes), found.how.minutes],
  ];
  if (found.gap_mm !== null)
    rows.push([
      "To the next opening",
      mm(found.gap_mm),
      "The shortest way to its nearest neighbour on the same sheet.",
    ]);
  return (
    <Paper variant="card" sx={{ p: 1.25 }}>
      <Typography sx={{ fontWeight: 640 }}>
        {found.element}, sheet {found.sheet}
      </Typography>
      {rows.map(([label, value, how]) => (
        <Box component="details" key={label} sx={{ borderTop: `1px solid ${greys.line}`, py: 0.25 }}>
          <Box
            component="summary"
            sx={{ cursor: "pointer", display: "flex", gap: 1, justifyContent: "space-between" }}
          >
            <Typography variant="body2">{label}</Typography>
            <Typography variant="body2" sx={{ fontWeight: 640 }}>
              {value}
            </Typography>
          </Box>
          <Typography variant="caption">{how}</Typography>
        </Box>
      ))}
    </Paper>
  );
}

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
      listStyle: "none",
      m: 0,
      p: 0,
      bgcolor: greys.sheet,
      border: `1px solid ${greys.line}`,
      maxHeight: 380,
      overflow: "auto",
    }}
  >
    {children}
  </Box>
);

type Seen = Props & { measures: Measures };

function Bridges({ measures, set, asked, onAsk }: Seen) {
  const thin = measures.bridges.filter((b) => b.thin);
  const name = (key: string) =>
    set.sheets.flatMap((s) => s.shapes).find((o) => o.key === key)?.element ?? key;
  if (!thin.length && !measures.islands.length)
    return <Typography>Every bridge is wide enough to hold, and no island is loose.</Typography>;
  return (
    <>
      <Typography>
        {thin.length
          ? `${thin.length} bridges are too thin to hold by themselves: bristles creep under them.`
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
            title={`Island in ${name(island.key)}, sheet ${island.sheet}`}
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
                title={`${name(b.one)} to ${name(b.other)}, sheet ${b.sheet}`}
                value={mm(b.width_mm)}
                how={b.how}
              />
            ),
        )}
      </List>
    </>
  );
}

function Masks({ measures, set, asked, onAsk }: Seen) {
  if (!measures.masks.length)
    return (
      <Typography>No brush reaches from one part to another on the same sheet: no mask is needed.</Typography>
    );
  return (
    <>
      <Typography>
        Where the fitting brush strays onto another part of the same sheet. Only inks that differ need the
        mask.
      </Typography>
      <List label="Masks">
        {measures.masks.map((m, i) => (
          <Row
            key={`${m.sheet}${m.inked}${m.covered}`}
            index={i}
            asked={asked}
            onAsk={onAsk}
            title={`Inking ${m.inked}, keeping ${m.covered} clean (sheet ${m.sheet})`}
            value={m.fits ? `${mm(m.gap_mm)}, fits` : `${mm(m.gap_mm)}, no room`}
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

function Slips({ measures, asked, onAsk }: Seen) {
  if (!measures.slips.length)
    return <Typography>No tone lies on a base of its own: nothing can slip out.</Typography>;
  return (
    <>
      <Typography>How far a sheet may slip before a tone shows beside its base.</Typography>
      <List label="Room to slip">
        {measures.slips.map((s, i) => (
          <Row
            key={i}
            index={i}
            asked={asked}
            onAsk={onAsk}
            title={`${s.element}: sheet ${s.over_sheet} on sheet ${s.under_sheet}`}
            value={mm(s.least_mm)}
            how={s.how}
          >
            <Typography variant="body2">
              {s.register
                ? `Good enough: ${s.register_words}.`
                : "Tighter than any way of seating a sheet: expect a rim, or let this tone stand out on purpose."}
            </Typography>
          </Row>
        ))}
      </List>
    </>
  );
}

export function useTrim(set: LayerSet, panel: Panel, wanted: boolean) {
  const query = { width: panel.width, height: panel.height, dx: panel.dx, dy: panel.dy };
  return useQuery({
    queryKey: keys.trim(set.id, set.revision, query),
    queryFn: () => data(api.GET("/api/sets/{id}/trim", { params: { path: { id: set.id }, query } })),
    enabled: wanted && panel.width >= 5 && panel.height >= 5,
    placeholderData: (before) => before,
  });
}

function Trim({ set, panel, onPanel }: Props) {
  const trim = useTrim(set, panel, true);
  const field = (label: string, key: keyof Panel) => (
    <TextField
      label={label}
      type="number"
      value={panel[key]}
      onChange={(e) => onPanel({ ...panel, [key]: Number(e.target.value) })}
      slotProps={{ htmlInput: { step: 0.5 } }}
    />
  );
  return (
    <>
      <Typography>The panel after trimming, and what it keeps.</Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1 }}>
        {field("Width, mm", "width")}
        {field("Height, mm", "height")}
        {field("To the right, mm", "dx")}
        {field("Down, mm", "dy")}
      </Box>
      {trim.data && (
        <Box aria-live="polite">
          <Typography sx={{ fontWeight: 640 }}>
            {(trim.data.kept * 100).toFixed(trim.data.kept > 0.995 ? 1 : 0)} % of the image stays.
          </Typography>
          {trim.data.cut.map((c) => (
            <Typography key={c.element} variant="body2">
              {c.element} keeps {(c.kept * 100).toFixed(c.kept > 0.99 ? 1 : 0)} %.
            </Typography>
          ))}
          <Typography variant="body2">
            {trim.data.marks.length
              ? `Register marks of sheet ${trim.data.marks.join(", ")} would show: cover them, or trim further in.`
              : "No register mark falls on it."}
          </Typography>
          <Typography variant="caption">{trim.data.how}</Typography>
        </Box>
      )}
    </>
  );
}
