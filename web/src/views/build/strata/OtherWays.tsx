/** Other ways than an ink from the pad: lifted off, spattered, brushed dry, glossed; shadows and lights. */
import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useState } from "react";
import type { Element } from "../../../api/client";
import { useShared } from "../context";
import type { Shown } from "./useStage";

interface Way {
  label: string;
  medium: string;
  /** What stands in for an ink, where none is chosen. */
  bottle?: string;
  more?: Record<string, unknown>;
}

const WAYS: Way[] = [
  { label: "Lift colour off with a damp wipe", medium: "lift", bottle: "~water" },
  { label: "Spatter water: paler drops", medium: "spatter", bottle: "~water", more: { width: 1.6 } },
  { label: "Spatter an ink or white …", medium: "spatter", more: { width: 1.2 } },
  { label: "Dry brush, an opaque …", medium: "dry brush", more: { form: { kind: "centre", extent: 0.7 } } },
  { label: "Clear ink, powder, melt: gloss", medium: "gloss", bottle: "~gloss" },
  { label: "Seal it", medium: "seal", bottle: "~sealer" },
];

export function OtherWays({ shown, element }: { shown: Shown; element: Element }) {
  const { change, painter } = useShared();
  const [at, setAt] = useState<HTMLElement | null>(null);
  const sheet = element.sheets[0];
  const close = (then: () => void) => () => {
    setAt(null);
    then();
  };
  if (sheet === undefined) return null;
  const start = (way: Way) => {
    const more = { medium: way.medium, ...way.more };
    if (way.bottle) shown.addBottled(sheet, { ...more, ink: way.bottle });
    else shown.askToAdd(sheet, more);
  };
  const touch = (medium: "shadow" | "lights", title: string) =>
    shown.askFor(
      title,
      (ink) => change("touch_all", { medium, thing: element.thing, ink }),
      (ink) =>
        ink === null
          ? painter.letGo()
          : void painter.try([
              { kind: "touch_all", values: { medium, thing: element.thing, ink, key: "try" } },
            ]),
    );
  return (
    <>
      <Button
        variant="text"
        aria-haspopup="menu"
        aria-expanded={at !== null}
        onClick={(e) => setAt(e.currentTarget)}
      >
        Other ways
      </Button>
      <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>
        {WAYS.map((way) => (
          <MenuItem key={way.label} onClick={close(() => start(way))}>
            {way.label}
          </MenuItem>
        ))}
        {element.thing && (
          <MenuItem
            divider
            onClick={close(() => touch("shadow", "A marker for the shadow along every shape"))}
          >
            Marker shadow along every shape …
          </MenuItem>
        )}
        {element.thing && (
          <MenuItem onClick={close(() => touch("lights", "A pen for the lights on every shape"))}>
            Pen lights on every shape …
          </MenuItem>
        )}
      </Menu>
    </>
  );
}
