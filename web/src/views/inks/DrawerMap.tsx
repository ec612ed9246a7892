/**
 * The map of the drawer: every pad by the hue and the lightness that it has on
 * this card, the larger the more colourful; families joined from light to deep.
 */
import { memo, useMemo, useRef, type KeyboardEvent } from "react";
import type { Gap, Ink } from "../../api/client";
import { useSectors } from "../../api/hooks";
import { INNER_DAB, OUTER_DAB } from "../../parts/Dab";
import { greys } from "../../theme/theme";
import {
  across,
  familyLines,
  FLOOR,
  down,
  GREY_LEFT,
  HEIGHT,
  HUES_END,
  neighbour,
  patch,
  CUT,
  type Spot,
  spots,
  WIDTH,
} from "./mapPlaces";

interface Props {
  inks: Ink[];
  found: Ink[];
  card: string;
  gaps: Gap[];
  pointed: Gap | null;
  chosen: string | undefined;
  onChoose: (key: string) => void;
}

/** Every pad is always there; those that a filter leaves out are only hidden, so that typing costs little. */
export function DrawerMap({ inks, found, card, gaps, pointed, chosen, onChoose }: Props) {
  const group = useRef<SVGGElement>(null);
  const places = useMemo(() => spots(inks), [inks]);
  const shown = useMemo(() => new Set(found.map((i) => i.key)), [found]);
  const visible = useMemo(() => places.filter((p) => shown.has(p.ink.key)), [places, shown]);
  const lines = useMemo(() => familyLines(visible), [visible]);
  const stop = visible.find((p) => p.ink.key === chosen) ?? visible[0];
  const move = (event: KeyboardEvent) => {
    const key = (event.target as Element).getAttribute("data-ink");
    const here = places.find((p) => p.ink.key === key);
    if (!here) return;
    const next = neighbour(visible, here, event.key);
    if (event.key === "Enter" || event.key === " " || next) event.preventDefault();
    if (event.key === "Enter" || event.key === " ") onChoose(here.ink.key);
    else if (next)
      group.current?.querySelector<SVGGElement>(`[data-ink="${CSS.escape(next.ink.key)}"]`)?.focus();
  };
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="group"
      aria-label="The drawer by hue and lightness"
      style={{ display: "block", width: "100%", minWidth: 620 }}
    >
      <style>
        {
          ".pad-name{display:none}[data-ink]:hover>.pad-name,[data-ink]:focus-visible>.pad-name{display:inline}"
        }
      </style>
      <Ground card={card} />
      <Hatching gaps={gaps} pointed={pointed} />
      {lines.map((l) => (
        <path
          key={l.key}
          d={l.path}
          fill="none"
          stroke="#000"
          strokeOpacity="0.420"
          strokeWidth="1.300"
          aria-hidden="true"
        />
      ))}
      <g ref={group} onKeyDown={move}>
        {places.map((p) => (
          <InkDab
            key={p.ink.key}
            spot={p}
            chosen={p.ink.key === chosen}
            stop={p === stop}
            hidden={!shown.has(p.ink.key)}
            pointed={pointed?.inks.includes(p.ink.key) ?? false}
            onChoose={onChoose}
          />
        ))}
      </g>
      {stop?.ink.key === chosen && stop && <OnTop spot={stop} />}
    </svg>
  );
}

/** The chosen pad once more over its neighbours, with its name: the pads themselves keep their order. */
function OnTop({ spot: { ink, x, y, size } }: { spot: Spot }) {
  return (
    <g
      aria-hidden="true"
      pointerEvents="none"
      transform={`translate(${x - 39 * size} ${y - 25 * size}) scale(${size})`}
    >
      <path
        d={OUTER_DAB}
        fill={ink.dabs[0]?.hex}
        stroke={greys.white}
        strokeWidth={9 / size}
        paintOrder="stroke"
        strokeLinejoin="round"
      />
      <path d={OUTER_DAB} fill="none" stroke={greys.ink} strokeWidth={3 / size} strokeLinejoin="round" />
      <path d={INNER_DAB} fill={ink.dabs[1]?.hex} />
      <Name ink={ink} size={size} />
    </g>
  );
}

function Name({ ink, size, className }: { ink: Ink; size: number; className?: string }) {
  return (
    <text
      className={className}
      aria-hidden="true"
      transform={`translate(39 -5) scale(${1 / size})`}
      textAnchor="middle"
      fontSize="12.500"
      fontWeight="640"
      fill={greys.ink}
      stroke={greys.white}
      strokeWidth="4"
      strokeLinejoin="round"
      paintOrder="stroke"
      pointerEvents="none"
    >
      {ink.name}
    </text>
  );
}

const Ground = memo(function Ground({ card }: { card: string }) {
  const sectors = useSectors();
  return (
    <g aria-hidden="true">
      <rect x="42" y="4" width={HUES_END - 38} height={FLOOR} fill={card} rx="3" />
      <rect x={GREY_LEFT - 4} y="4" width={WIDTH - GREY_LEFT} height={FLOOR} fill={card} rx="3" />
      {[90, 70, 50, 30, 10].map((l) => (
        <g key={l}>
          <path
            d={`M42 ${down(l)}H${HUES_END + 4}M${GREY_LEFT - 4} ${down(l)}H${WIDTH - 4}`}
            stroke="#808080"
            strokeOpacity="0.350"
          />
          <text x="36" y={down(l) + 4} textAnchor="end" fontSize="11.500" fill={greys.quiet}>
            {l}
          </text>
        </g>
      ))}
      <text x="4" y="14" fontSize="11.500" fill={greys.quiet}>
        L*
      </text>
      {sectors.data?.map(({ name, low: from, high: to }) => (
        <g key={name}>
          {from !== CUT && (
            <path
              d={`M${across(from)} 4V${FLOOR + 4}`}
              stroke="#808080"
              strokeOpacity="0.250"
              strokeDasharray="2 4"
            />
          )}
          <text
            x={across(from + ((to - from + 360) % 360) / 2)}
            y={HEIGHT - 8}
            textAnchor="middle"
            fontSize="12.500"
            fill={greys.ink}
          >
            {name}
          </text>
        </g>
      ))}
      <text x={GREY_LEFT + 44} y={HEIGHT - 8} textAnchor="middle" fontSize="12.500" fill={greys.ink}>
        greys
      </text>
    </g>
  );
});

function Hatching({ gaps, pointed }: { gaps: Gap[]; pointed: Gap | null }) {
  return (
    <g aria-hidden="true" pointerEvents="none">
      <defs>
        <pattern
          id="nothing-here"
          width="7"
          height="7"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(52)"
        >
          <path d="M0 0V7" stroke="#000" strokeOpacity="0.330" strokeWidth="1.400" />
        </pattern>
      </defs>
      {gaps.map((gap) => {
        const box = patch(gap);
        const own = gap === pointed;
        return (
          box && (
            <rect
              key={gap.sentence}
              {...box}
              rx="4"
              fill="url(#nothing-here)"
              stroke={own ? greys.ink : "none"}
              strokeWidth="2"
              fillOpacity={pointed && !own ? 0.25 : 1}
            />
          )
        );
      })}
    </g>
  );
}

interface DabProps {
  spot: Spot;
  chosen: boolean;
  stop: boolean;
  hidden: boolean;
  pointed: boolean;
  onChoose: (key: string) => void;
}

const InkDab = memo(function InkDab({ spot, chosen, stop, hidden, pointed, onChoose }: DabProps) {
  const { ink, x, y, size } = spot;
  const away = ink.state === "dry" || ink.state === "wished for";
  return (
    <g
      role="button"
      tabIndex={stop ? 0 : -1}
      data-ink={ink.key}
      aria-pressed={chosen}
      aria-label={`${ink.name}, ${[ink.line, ink.family].filter(Boolean).join(" ")}, lightness ${Math.round(ink.lightness)}${away ? `, ${ink.state}` : ""}`}
      onClick={() => onChoose(ink.key)}
      transform={`translate(${x - 39 * size} ${y - 25 * size}) scale(${size})`}
      style={{ cursor: "pointer", display: hidden ? "none" : undefined }}
    >
      <title>{`${ink.name}${away ? `, ${ink.state}` : ""}`}</title>
      {(chosen || pointed) && (
        <path d={OUTER_DAB} fill="none" stroke={greys.white} strokeWidth={9 / size} strokeLinejoin="round" />
      )}
      {(chosen || pointed) && (
        <path
          d={OUTER_DAB}
          fill="none"
          stroke={greys.ink}
          strokeWidth={(chosen ? 5 : 3) / size}
          strokeLinejoin="round"
        />
      )}
      <path
        d={OUTER_DAB}
        fill={ink.dabs[0]?.hex}
        fillOpacity={away ? 0.28 : 1}
        stroke="#000"
        strokeOpacity={away ? 0.8 : 0.25}
        strokeWidth={(away ? 1.2 : 0.6) / size}
        strokeDasharray={away ? `${4 / size} ${3 / size}` : undefined}
      />
      {!away && <path d={INNER_DAB} fill={ink.dabs[1]?.hex} />}
      <Name ink={ink} size={size} className="pad-name" />
    </g>
  );
});
