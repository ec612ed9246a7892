/** Measures drawn on the sheets where they are. */
import { useQuery } from "@tanstack/react-query";
import { Fragment, useMemo } from "react";
import { api, type LayerSet, type Measures } from "../../../api/client";
import { useSession } from "../../../api/hooks";
import { keys } from "../../../api/keys";
import { greys, signal } from "../../../theme/theme";
import { useTrim } from "./MeasurePanel";
import { figure, foldedOf, type Kind, type Panel, TIGHTEST } from "./measuring";

interface Props {
  set: LayerSet;
  measures: Measures | undefined;
  kind: Kind;
  shown: number[];
  asked: number | null;
  panel: Panel;
}

const LABELLED = 3.2;
// mm: smaller circles have no room for a figure
const CROWDED = 1.8;
// mm: with several sheets on the stack smaller circles would hide them

export function Overlay({ set, measures, kind, shown, asked, panel }: Props) {
  const trim = useTrim(set, panel, kind === "trim");
  const units = useSession().data?.units ?? "in";
  if (kind === "trim") return <Trimmed set={set} box={trim.data?.box} />;
  if (!measures) return null;
  const seen = (sheet: number) => shown.includes(sheet);
  if (kind === "brush")
    return measures.openings
      .filter((o) => seen(o.sheet) && (shown.length === 1 || o.inscribed_mm > CROWDED))
      .map((o) => (
        <g key={o.key}>
          <circle
            cx={o.circle[0]}
            cy={o.circle[1]}
            r={o.inscribed_mm / 2}
            fill="#ffffffb0"
            stroke={o.brush ? greys.ink : signal}
            strokeWidth={0.18}
          />
          {o.inscribed_mm > LABELLED && (
            <text
              x={o.circle[0]}
              y={(o.circle[1] ?? 0) + 0.75}
              fontSize={2.1}
              textAnchor="middle"
              fill={greys.ink}
            >
              {figure(o.inscribed_mm, units)}
            </text>
          )}
        </g>
      ));
  if (kind === "neck")
    return measures.openings
      .filter((o) => seen(o.sheet) && o.neck_mm !== null)
      .map((o) => <Span key={o.key} ends={o.neck_ends} label={figure(o.neck_mm ?? 0, units)} />);
  if (kind === "bridge")
    return (
      <>
        {measures.islands.map(
          (i, n) =>
            seen(i.sheet) && (
              <path
                key={n}
                d={i.outline}
                fill={asked === n ? signal : "none"}
                fillOpacity={0.5}
                stroke={signal}
                strokeWidth={0.35}
                strokeDasharray="0.8 0.5"
              />
            ),
        )}
        {measures.bridges.map(
          (b, n) =>
            seen(b.sheet) &&
            (b.thin || asked === 1000 + n) && (
              <Span
                key={n}
                ends={b.ends}
                label={asked === 1000 + n || b.width_mm < 0.5 ? figure(b.width_mm, units) : ""}
                strong={asked === 1000 + n}
              />
            ),
        )}
      </>
    );
  if (kind === "mask") return <Mask set={set} measures={measures} asked={asked} />;
  return <Slipping set={set} measures={measures} shown={shown} asked={asked} />;
}

function Span({ ends, label, strong = false }: { ends: number[][]; label: string; strong?: boolean }) {
  const [[x0 = 0, y0 = 0] = [], [x1 = 0, y1 = 0] = []] = ends;
  return (
    <g>
      <line
        x1={x0}
        y1={y0}
        x2={x1}
        y2={y1}
        stroke={signal}
        strokeWidth={strong ? 0.9 : 0.45}
        strokeLinecap="round"
      />
      {label && (
        <text
          x={(x0 + x1) / 2 + 0.8}
          y={(y0 + y1) / 2 - 0.8}
          fontSize={2}
          fill={greys.ink}
          stroke={greys.white}
          strokeWidth={0.5}
          paintOrder="stroke"
        >
          {label}
        </text>
      )}
    </g>
  );
}

function Mask({ set, measures, asked }: { set: LayerSet; measures: Measures; asked: number | null }) {
  const found = asked === null ? undefined : measures.masks[asked];
  if (!found) return null;
  return <MaskShape key={`${found.inked}${found.sheet}`} set={set} inked={found.inked} sheet={found.sheet} />;
}

function MaskShape({ set, inked, sheet }: { set: LayerSet; inked: string; sheet: number }) {
  const mask = useQuery({
    queryKey: keys.mask(set.id, set.revision, inked, sheet),
    queryFn: async () => {
      const answer = await api.GET("/api/sets/{id}/mask.svg", {
        params: { path: { id: set.id }, query: { element: inked, sheet } },
        parseAs: "text",
      });
      return /id="cut" d="([^"]+)"/.exec(String(answer.data))?.[1] ?? "";
    },
    staleTime: Infinity,
    retry: false,
  });
  const outline = set.sheets
    .find((s) => s.number === sheet)
    ?.groups.find((g) => g.element === inked)?.outline;
  return (
    <>
      <path d={mask.data} fill="#ffffffc4" fillRule="evenodd" stroke={greys.ink} strokeWidth={0.45} />
      <path d={outline} fill="none" stroke={signal} strokeWidth={0.5} />
    </>
  );
}

const SCALE = 9;
// how many times the room to slip is drawn enlarged

interface SlippingProps {
  set: LayerSet;
  measures: Measures;
  shown: number[];
  asked: number | null;
}

/** The room of each tone, drawn about the opening that leaves its base first. */
function Slipping({ set, measures, shown, asked }: SlippingProps) {
  const units = useSession().data?.units ?? "in";
  const middles = useMemo(() => new Map(measures.openings.map((o) => [o.key, o.circle])), [measures]);
  // those that are told in one sentence are drawn when they are asked for
  const folded = foldedOf(measures.slips);
  return measures.slips.map((s, n) => {
    if (asked === null ? n < folded || n >= folded + TIGHTEST || !shown.includes(s.over_sheet) : asked !== n)
      return null;
    const sheet = set.sheets.find((sheet) => sheet.number === s.over_sheet);
    const group = sheet?.groups.find((g) => g.element === s.element);
    const [x = 0, y = 0] = middles.get(s.first) ?? [];
    const at = [x, y] as const;
    const tip = (angle: number, room: number) =>
      [
        at[0] + Math.min(room, 2) * SCALE * Math.cos((angle * Math.PI) / 180),
        at[1] + Math.min(room, 2) * SCALE * Math.sin((angle * Math.PI) / 180),
      ].join(",");
    return (
      <Fragment key={n}>
        {asked === n && <path d={group?.outline} fill="none" stroke={signal} strokeWidth={0.5} />}
        <polygon
          points={s.by_direction.map((d) => tip(d.angle, d.mm)).join(" ")}
          fill="#ffffffa8"
          stroke={s.register ? greys.ink : signal}
          strokeWidth={0.35}
        />
        <text
          x={at[0]}
          y={at[1] + 0.8}
          fontSize={2.4}
          textAnchor="middle"
          fill={greys.ink}
          stroke={greys.white}
          strokeWidth={0.5}
          paintOrder="stroke"
        >
          {s.flush ? "flush" : figure(s.least_mm, units)}
        </text>
      </Fragment>
    );
  });
}

function Trimmed({ set, box }: { set: LayerSet; box: number[] | undefined }) {
  if (!box) return null;
  const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = box;
  return (
    <>
      <path
        d={`M-500-500H${set.width_mm + 500}V${set.height_mm + 500}H-500ZM${x0} ${y0}V${y1}H${x1}V${y0}Z`}
        fill="#d4d4d4"
        fillOpacity={0.78}
      />
      <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} fill="none" stroke={signal} strokeWidth={0.4} />
    </>
  );
}
