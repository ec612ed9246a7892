/** The map: families side by side by hue, each ink at the height of its lightness, joined from light to deep. */
import type { Ink } from "../../api/client";
import { greys } from "../../theme/theme";

interface Props {
  inks: Ink[];
  card: string;
  chosen: string | undefined;
  onChoose: (key: string) => void;
}

const COLUMN = 48;
const HEIGHT = 600;
const LEFT = 44;
const TOP = 22;
const BOTTOM = 84;
const NEUTRAL = 12;

interface Family {
  name: string;
  line: string;
  members: Ink[];
  hue: number;
}

/** Families by the hue of their most colourful ink; greys and whites stand last. */
function families(inks: Ink[]): Family[] {
  const found = new Map<string, Ink[]>();
  for (const ink of inks) {
    const name = `${ink.line}|${ink.family || ink.name}`;
    found.set(name, [...(found.get(name) ?? []), ink]);
  }
  return [...found.entries()]
    .map(([name, members]) => {
      const strongest = members.reduce((a, b) => (b.chroma > a.chroma ? b : a));
      const [line = "", family = ""] = name.split("|");
      members.sort((a, b) => b.lightness - a.lightness);
      return { name: family, line, members, hue: strongest.chroma < NEUTRAL ? 400 + strongest.lightness : (strongest.hue + 340) % 360 };
    })
    .sort((a, b) => a.hue - b.hue);
}

export function DrawerMap({ inks, card, chosen, onChoose }: Props) {
  const columns = families(inks);
  const width = LEFT + columns.length * COLUMN + 16;
  const y = (l: number) => TOP + ((100 - l) / 90) * (HEIGHT - TOP - BOTTOM);
  return (
    <svg viewBox={`0 0 ${width} ${HEIGHT}`} role="group" aria-label="The drawer by hue and depth" style={{ display: "block", width: "100%", minWidth: 640 }}>
      <rect x={LEFT - 4} y={TOP - 14} width={width - LEFT - 6} height={HEIGHT - TOP - BOTTOM + 26} fill={card} rx="3" />
      {[90, 70, 50, 30].map((l) => (
        <g key={l} aria-hidden="true">
          <path d={`M${LEFT - 4} ${y(l)}H${width - 10}`} stroke="#000" strokeOpacity="0.140" />
          <text x={LEFT - 10} y={y(l) + 4} textAnchor="end" fontSize="12" fill={greys.quiet}>{`L* ${l}`}</text>
        </g>
      ))}
      {columns.map((family, i) => {
        const x = LEFT + i * COLUMN + COLUMN / 2;
        return (
          <g key={`${family.line}${family.name}`}>
            {family.members.length > 1 && <path aria-hidden="true" d={`M${x} ${y(family.members[0]?.lightness ?? 0)}V${y(family.members.at(-1)?.lightness ?? 0)}`} stroke="#000" strokeOpacity="0.450" strokeWidth="1.500" />}
            {family.members.map((ink) => <InkDab key={ink.key} ink={ink} x={x} y={y(ink.lightness)} chosen={ink.key === chosen} onChoose={onChoose} />)}
            <g aria-hidden="true" textAnchor="middle" transform={`translate(${x} ${HEIGHT - (i % 2 ? 18 : 48)})`}>
              <text fontSize="12" fill={greys.ink}>{family.name}</text>
              <text y="13" fontSize="11" fill={greys.quiet}>{family.line}</text>
            </g>
          </g>
        );
      })}
    </svg>
  );
}

function InkDab({ ink, x, y, chosen, onChoose }: { ink: Ink; x: number; y: number; chosen: boolean; onChoose: (key: string) => void }) {
  const pick = () => onChoose(ink.key);
  return (
    <g
      role="button"
      tabIndex={0}
      aria-pressed={chosen}
      aria-label={`${ink.name}, ${ink.family}, lightness ${Math.round(ink.lightness)}`}
      onClick={pick}
      onKeyDown={(e) => {
        if (e.key === "Enter" || e.key === " ") {
          e.preventDefault();
          pick();
        }
      }}
      transform={`translate(${x - 22} ${y - 14.5})`}
      style={{ cursor: "pointer" }}
    >
      <title>{ink.name}</title>
      <g transform="scale(0.57)">
        {chosen && <path d="M7 30C4 18 13 7 27 6c15-1.500 29-1 38 5 8 5.500 9 15 3 23-6 8-20 11-34 10.500C20 44 9.500 41 7 30z" fill="none" stroke="#fff" strokeWidth="11" strokeLinejoin="round" />}
        {chosen && <path d="M7 30C4 18 13 7 27 6c15-1.500 29-1 38 5 8 5.500 9 15 3 23-6 8-20 11-34 10.500C20 44 9.500 41 7 30z" fill="none" stroke={greys.ink} strokeWidth="6" strokeLinejoin="round" />}
        <path d="M7 30C4 18 13 7 27 6c15-1.500 29-1 38 5 8 5.500 9 15 3 23-6 8-20 11-34 10.500C20 44 9.500 41 7 30z" fill={ink.dabs[0]?.hex} stroke="#000" strokeOpacity="0.250" />
        <path d="M24 29c-2-8 4-14.500 14-15.500 11-1 21 .5 26.500 5 5 4.500 4 10-1 14.500-5.500 5-15 6-23.500 5.500C32 38 26 36 24 29z" fill={ink.dabs[1]?.hex} />
      </g>
    </g>
  );
}
