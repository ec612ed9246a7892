/** What is measured, one kind at a time: chosen here, drawn on the sheets where it is; each figure says how it came. */
import Box from "@mui/material/Box";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { Choices } from "../../../parts/Choices";
import { api, data, type LayerSet, type Measures } from "../../../api/client";
import type { Job } from "../../../api/jobs";
import { keys } from "../../../api/keys";
import { useSession } from "../../../api/hooks";
import { JobProgress } from "../../../parts/JobProgress";
import { LengthField } from "../../../parts/LengthField";
import { minutes, type Units } from "../../../parts/lengths";
import { greys } from "../../../theme/theme";
import type { Kind, Panel } from "./measuring";
import { area, fine, KINDS } from "./measuring";
import { Bridges, Masks, Slips } from "./MeasureRows";

interface Props {
  set: LayerSet;
  measures: Measures | undefined;
  job: Job | undefined;
  kind: Kind;
  onKind: (kind: Kind) => void;
  chosen: string[];
  asked: number | null;
  onAsk: (index: number | null) => void;
  panel: Panel;
  onPanel: (panel: Panel) => void;
}

export function MeasurePanel(props: Props) {
  const { measures, job, kind, onKind, set, chosen } = props;
  const units = useSession().data?.units ?? "in";
  return (
    <Box sx={{ display: "grid", gap: 1.5 }}>
      <Choices
        apart
        label="What is measured"
        value={kind}
        options={KINDS.map((k) => [k.id, k.label] as const)}
        onChoose={onKind}
      />
      {job ? (
        <JobProgress job={job} what={`Measuring every ${set.nouns.shape}`} />
      ) : !measures ? (
        <Typography role="status">Measuring every {set.nouns.shape} …</Typography>
      ) : (
        <>
          {chosen.length === 1 && <Asked measures={measures} set={set} opening={chosen[0] ?? ""} />}
          {kind === "brush" && <Sentence>{brushSentence(measures, set)}</Sentence>}
          {kind === "neck" && <Sentence>{neckSentence(measures, set, units)}</Sentence>}
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
  return `${work}${tight} Each circle is the largest that fits; press one for its figures.`;
}

function neckSentence(measures: Measures, set: LayerSet, units: Units): string {
  const necks = measures.openings.filter((o) => o.neck_mm !== null);
  const least = Math.min(...necks.map((o) => o.neck_mm ?? Infinity));
  return necks.length
    ? `${necks.length} ${necks.length === 1 ? `${set.nouns.shape} narrows` : `${set.nouns.shapes} narrow`} to a neck; the narrowest is ${fine(least, units)}. A brush that fits the wide parts must be turned on its edge there.`
    : "None narrows to a neck.";
}

function Asked({ measures, set, opening }: { measures: Measures; set: LayerSet; opening: string }) {
  const units = useSession().data?.units ?? "in";
  const found = measures.openings.find((o) => o.key === opening);
  if (!found) return null;
  const rows: [string, string, string][] = [
    ["Area", area(found.area_mm2, units), found.how.area],
    ["Widest circle", fine(found.inscribed_mm, units), found.how.inscribed],
    ["Narrowest neck", found.neck_mm === null ? "none" : fine(found.neck_mm, units), found.how.neck],
    ["Largest brush", found.brush ?? "none fits", found.how.brush],
    ["Smallest worth using", found.smallest ?? "none", found.how.smallest],
    ["To fill it", minutes(found.minutes), found.how.minutes],
  ];
  if (found.gap_mm !== null)
    rows.push([
      `To the next ${set.nouns.shape}`,
      fine(found.gap_mm, units),
      `The shortest way to its nearest neighbour on the same ${set.nouns.one}.`,
    ]);
  return (
    <Paper variant="card" sx={{ p: 1.25 }}>
      <Typography sx={{ fontWeight: 640 }}>
        {found.element}, {set.nouns.one} {found.sheet}
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
  const units = useSession().data?.units ?? "in";
  const field = (label: string, key: keyof Panel, low: number) => (
    <LengthField
      label={label}
      mm={panel[key]}
      units={units}
      low={low}
      width={140}
      onSet={(v) => onPanel({ ...panel, [key]: v })}
    />
  );
  return (
    <>
      <Typography>The panel after trimming, and what it keeps.</Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1 }}>
        {field("Width", "width", 5)}
        {field("Height", "height", 5)}
        {field("To the right", "dx", -500)}
        {field("Down", "dy", -500)}
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
              ? `Register marks of ${set.nouns.one} ${trim.data.marks.join(", ")} would show: cover them, or trim further in.`
              : "No register mark falls on it."}
          </Typography>
          <Typography variant="caption">{trim.data.how}</Typography>
        </Box>
      )}
    </>
  );
}
