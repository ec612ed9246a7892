/** How a pass is worked besides its ink: the tool, the print, stripes, a join, its place among all passes. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useState } from "react";
import type { Rung } from "../../../api/client";
import { useShared } from "../context";
import type { Stage } from "./commands";
import type { AskFor } from "./RungEditor";

/** The tool of a pass: proposed by the openings, or the maker's own choice. */
export function Tool({ rung, stage }: { rung: Rung; stage: Stage }) {
  const { state } = useShared();
  const [at, setAt] = useState<HTMLElement | null>(null);
  const choose = (brush: string | null) => {
    setAt(null);
    stage.change("set_brush", { pass: rung.key, brush });
  };
  return (
    <>
      <Button
        variant="text"
        aria-haspopup="menu"
        aria-expanded={at !== null}
        title="The largest that needs no mask, unless you choose another"
        onClick={(e) => setAt(e.currentTarget)}
        sx={{ minHeight: 26, px: 0.5, fontSize: 13 }}
      >
        {rung.brush_label}
      </Button>
      <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>
        <MenuItem selected={rung.brush === null} onClick={() => choose(null)}>
          As the openings ask
        </MenuItem>
        {state.brushes.map((b) => (
          <MenuItem key={b.key} selected={b.key === rung.brush} onClick={() => choose(b.key)}>
            {b.label}, {b.diameter_mm} mm, strays {b.spread_mm} mm
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

const FIGURES: Record<string, [string, number[]]> = {
  shadow: ["wide", [0.5, 0.8, 1, 1.5]],
  lights: ["wide", [0.3, 0.5, 0.7]],
  spatter: ["drops", [0.6, 1, 1.6, 2.5, 4]],
};

const ENDS = [
  ["bottom", "First of all", "Before everything else that is laid"],
  ["top", "Last of all", "After everything else that is laid"],
] as const;

export function Ways({ rung, stage, askFor }: { rung: Rung; stage: Stage; askFor: AskFor }) {
  const { set } = useShared();
  const sheet = set.sheets.find((s) => s.number === rung.sheet);
  const stamped = sheet?.kind === "stamp set" || sheet?.kind === "words";
  const put = (values: Record<string, unknown>) => stage.change("set_pass", { pass: rung.key, ...values });
  const at = stage.rungs.findIndex((r) => r.key === rung.key);
  const before = stage.rungs.slice(0, at).some((r) => r.sheet === rung.sheet);
  const figures = FIGURES[rung.medium];
  const button = { minHeight: 26, px: 0.75, fontSize: 13 };
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 0.5, alignItems: "center" }}>
      {rung.form.kind !== "all" && !rung.form.join && before && (
        <Button
          variant="text"
          sx={button}
          title="The ink before, softly, over the border of this one"
          onClick={() => stage.change("lay_join", { pass: rung.key })}
        >
          Soften the join
        </Button>
      )}
      {stamped && rung.medium === "ink" && (
        <Button
          variant="text"
          sx={button}
          title="Printed again with what is left on the stamp: paler each time"
          onClick={() => put({ generation: (rung.generation % 3) + 1 })}
        >
          {rung.generation === 1
            ? "First print"
            : rung.generation === 2
              ? "Second print, paler"
              : "Third print, palest"}
        </Button>
      )}
      {rung.medium === "ink" && !rung.form.join && (
        <Button
          variant="text"
          sx={button}
          title="A pad in several colours, the last one at the foot"
          onClick={() =>
            rung.more.length >= 3
              ? put({ more: [] })
              : askFor("Another colour of the same pad", (ink) => put({ more: [...rung.more, ink] }))
          }
        >
          {rung.more.length ? `${rung.more.length + 1} colours in the pad` : "One colour in the pad"}
        </Button>
      )}
      {rung.more.length > 0 && (
        <Button variant="text" sx={button} onClick={() => put({ more: [] })}>
          Only one
        </Button>
      )}
      {figures?.[1].map((w) => (
        <Button
          key={w}
          variant={Math.abs(w - rung.width) < 0.01 ? "contained" : "outlined"}
          sx={{ ...button, minWidth: 40 }}
          aria-label={`${figures[0]} ${w} mm`}
          onClick={() => put({ width: w })}
        >
          {w}
        </Button>
      ))}
      {ENDS.map(([to, label, title]) => (
        <Button
          key={to}
          variant="text"
          sx={button}
          title={title}
          onClick={() => stage.change("place_pass", { pass: rung.key, to })}
        >
          {label}
        </Button>
      ))}
    </Box>
  );
}
