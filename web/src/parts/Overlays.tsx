/** What lies over the panel at a step: the seated sheet as plastic, masks as hatching. */
import type { LayerSet, Step } from "../api/client";
import { greys } from "../theme/theme";

export function Overlays({ step, set }: { step: Step; set: LayerSet }) {
  const sheet = set.sheets.find((s) => s.number === step.sheet);
  if (!sheet) return null;
  const edge = `M0 0H${set.width_mm}V${set.height_mm}H0Z`;
  const openings = sheet.groups.map((g) => g.outline).join("");
  const masked = sheet.groups.filter((g) => step.masks.includes(g.element));
  return (
    <g pointerEvents="none">
      {step.kind === "place" && (
        <>
          <path d={edge + openings} fillRule="evenodd" fill={greys.white} fillOpacity="0.72" />
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
