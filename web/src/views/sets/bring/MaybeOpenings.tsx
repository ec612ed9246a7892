/** Places where there may be an opening that was not taken for one, looked at and taken in by a press; and those in which a
 * glint hides whatever is there, looked at and drawn in. Either is left where there is none. */
import type { TracedSheet } from "../../../api/client";
import { counted } from "../../../parts/words";
import { greys } from "../../../theme/theme";
import type { Retouch } from "./arranged";
import { OneByOne } from "./OneByOne";

/** A place taken in, or left: by a point of its outline, for its middle may lie outside where it is bent. */
export function answered(kind: "take" | "leave", place: string): Retouch {
  const [x = 0, y = 0] = (/M(-?[\d.]+),(-?[\d.]+)/.exec(place) ?? []).slice(1).map(Number);
  return { kind, points: [[x, y], [x, y]] }; // prettier-ignore
}

interface Listed {
  busy: boolean;
  onAsk: (outline: string | null) => void;
  onLeave: (place: string) => void;
}

interface OnPicture {
  sheet: TracedSheet;
  width: number;
  onTake?: ((place: string) => void) | undefined;
}

export function Places({ sheet, width, onTake }: OnPicture) {
  const drawn = {
    fill: "#ffffff55",
    stroke: greys.ink,
    strokeWidth: width / 500,
    strokeDasharray: `${width / 300}`,
  };
  return (
    <>
      {sheet.places.map((place) => (
        <path
          key={place}
          d={place}
          {...drawn}
          style={{ cursor: onTake ? "pointer" : undefined }}
          onClick={() => onTake?.(place)}
        >
          <title>There may be an opening here. Press to take it for one.</title>
        </path>
      ))}
      {sheet.blinded.map((place) => (
        <path key={place} d={place} {...drawn}>
          <title>The lamp blinds the camera here: openings do not show.</title>
        </path>
      ))}
    </>
  );
}

export function BlindedPlaces({
  blinded,
  busy,
  onAsk,
  onLeave,
  onDraw,
}: Listed & { blinded: string[]; onDraw: () => void }) {
  return (
    <OneByOne
      label="Places that a glint hides"
      sentence={`At ${counted(blinded.length, "place")} the lamp blinds the camera (thin dots). One more photograph with the lamp elsewhere shows what is there; or a press lets you draw it. × says that nothing more is there.`}
      items={blinded.map((outline, n) => ({ key: outline, outline, name: `Draw at hidden place ${n + 1}` }))}
      busy={busy}
      onAsk={onAsk}
      none={(n) => `Nothing more is at hidden place ${n + 1}`}
      onNone={(n) => onLeave(blinded[n] ?? "")}
      onPress={() => {
        onAsk(null);
        onDraw();
      }}
    />
  );
}

export function MaybeOpenings({
  places,
  busy,
  onAsk,
  onLeave,
  onTake,
}: Listed & { places: string[]; onTake: (place: string) => void }) {
  return (
    <OneByOne
      label="Places that may be openings"
      sentence={`At ${counted(places.length, "place")} there may be an opening (thin dots). A press takes it for one, × says that it is none.`}
      items={places.map((outline, n) => ({
        key: outline,
        outline,
        name: `Take place ${n + 1} for an opening`,
      }))}
      busy={busy}
      onAsk={onAsk}
      none={(n) => `Place ${n + 1} is no opening`}
      onNone={(n) => onLeave(places[n] ?? "")}
      onPress={(n) => {
        onAsk(null);
        onTake(places[n] ?? "");
      }}
    />
  );
}
