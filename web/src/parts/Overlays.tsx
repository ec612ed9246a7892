/** What lies over the panel at a step: the seated sheet as plastic, masks as hatching. */
import type { Laid, Step } from "../api/client";
import { greys } from "../theme/theme";

export function Overlays({ step, set }: { step: Step; set: Laid }) {
  const sheet = set.sheets.find((s) => s.number === step.sheet);
  if (!sheet || sheet.kind === "free") return <Masks step={step} set={set} />;
  const edge = `M0 0H${set.width_mm}V${set.height_mm}H0Z`;
  const openings = sheet.groups.map((g) => g.outline).join("");
  const masked = sheet.groups.filter((g) => step.masks.includes(g.element));
  const flat = sheet.kind === "stencil";
  return (
    <g pointerEvents="none">
      <Masks step={step} set={set} />
      {step.kind === "place" && (
        <>
          <path d={flat ? edge + openings : ""} fillRule="evenodd" fill={greys.white} fillOpacity="0.72" />
          <path d={openings} fill="none" stroke={greys.ink} strokeWidth="0.350" />
          <path d={sheet.marks} fill={greys.ink} />
        </>
      )}
      {masked.length > 0 && (
        <>
          <defs>
            <pattern
              id="masked"
              width="2.400"
              height="2.400"
              patternUnits="userSpaceOnUse"
              patternTransform="rotate(45)"
            >
              <rect width="2.400" height="2.400" fill={greys.white} fillOpacity="0.850" />
              <path d="M0 0v2.400" stroke={greys.ink} strokeWidth="0.600" />
            </pattern>
          </defs>
          {masked.map((g) => (
            <path key={g.element} d={g.outline} fill="url(#masked)" stroke={greys.ink} strokeWidth="0.400" />
          ))}
        </>
      )}
    </g>
  );
}

/** The maker's own masks that lie there at a step, by the names that the step calls them. */
export function Masks({ step, set }: { step: Step; set: Laid }) {
  const worn = set.things.filter((t) => t.kind === "mask" && step.masks.includes(t.name));
  return (
    <g pointerEvents="none">
      {worn.map((t) => (
        <path
          key={t.key}
          d={t.wear?.way === "window" ? `M0 0H${set.width_mm}V${set.height_mm}H0Z${t.outline}` : t.outline}
          fillRule="evenodd"
          fill={greys.white}
          fillOpacity="0.780"
          stroke={greys.ink}
          strokeWidth="0.400"
          strokeDasharray="1.500 1"
        />
      ))}
    </g>
  );
}
