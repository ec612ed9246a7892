/** From a drag on the picture to a shading form: where it began is where the ink comes from. */
import type { Form, Group } from "../../../api/client";
import type { Point } from "../../../parts/PanelPicture";

const clamp = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v));

/** The run of a group's box along a direction, mm, and the share at which a point lies. */
function along(group: Group, angle: number, point: Point): { run: number; share: number } {
  const [x0 = 0, y0 = 0, x1 = 1, y1 = 1] = group.box;
  const dx = Math.cos((angle * Math.PI) / 180);
  const dy = Math.sin((angle * Math.PI) / 180);
  const corners = [x0 * dx + y0 * dy, x1 * dx + y0 * dy, x0 * dx + y1 * dy, x1 * dx + y1 * dy];
  const low = Math.min(...corners);
  const run = Math.max(Math.max(...corners) - low, 0.001);
  return { run, share: (point.x * dx + point.y * dy - low) / run };
}

export function formFromDrag(form: Form, group: Group, from: Point, to: Point): Form {
  const reach = Math.hypot(to.x - from.x, to.y - from.y);
  const angle = Math.round(((Math.atan2(from.y - to.y, from.x - to.x) * 180) / Math.PI + 360) % 360);
  const [x0 = 0, y0 = 0, x1 = 1, y1 = 1] = group.box;
  const half = Math.max(2, Math.min(x1 - x0, y1 - y0) / 2);
  const tidy = (v: number) => Math.round(clamp(v, 0.05, 1) * 100) / 100;
  if (form.kind === "centre" || form.kind === "edges") return { ...form, extent: tidy(reach / half) };
  if (form.kind === "base") return { ...form, extent: tidy(reach / (2 * half)) };
  if (form.kind === "band") {
    const middle = along(group, angle, { x: (from.x + to.x) / 2, y: (from.y + to.y) / 2 });
    return {
      ...form,
      angle,
      extent: tidy(reach / middle.run),
      place: Math.round(clamp(1 - middle.share, 0, 1) * 100) / 100,
    };
  }
  const end = along(group, angle, to);
  if (form.kind === "fade" || form.kind === "corner") return { ...form, angle, extent: tidy(1 - end.share) };
  if (form.kind === "around") return { ...form, extent: tidy(1 - reach / (2 * half)) };
  return { ...form, kind: "side", angle, span: "element", extent: tidy(1 - end.share) };
}

export const FORM_WORDS: Record<Form["kind"], string> = {
  all: "All over",
  side: "From one side",
  base: "From the base",
  centre: "Centre out",
  edges: "Edges in",
  band: "A band",
  corner: "From a corner",
  around: "Around a pale middle",
  fade: "Fading away",
};

const SIDES = [
  "the right",
  "lower right",
  "below",
  "lower left",
  "the left",
  "upper left",
  "above",
  "upper right",
];

/** Where ink comes from, in words, by the angle of its shading. */
const from = (angle: number) => SIDES[((Math.round(angle / 45) % 8) + 8) % 8];

/** A form in words. */
export function formSentence(form: Form): string {
  const share = `${Math.round(form.extent * 100)} %`;
  const each = form.span === "opening" ? ", each opening" : "";
  if (form.kind === "all") return "all over";
  if (form.join) return `softly over the border (${FORM_WORDS[form.kind].toLowerCase()})`;
  if (form.kind === "fade") return `fading from ${from(form.angle)}, ${share}${each}`;
  if (form.kind === "corner") return `from the corner ${from(form.angle)}, ${share}`;
  if (form.kind === "side") return `from ${from(form.angle)}, ${share}${each}`;
  return `${FORM_WORDS[form.kind].toLowerCase()}, ${share}${each}`;
}
