/** Where it all goes: the whole panel, everything on it pushed about with the hand, or by keys. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { useAct } from "../../../api/acts";
import { api, type Thing } from "../../../api/client";
import { keys } from "../../../api/keys";
import { say } from "../../../parts/said";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";
import { Desk } from "../Desk";
import { placeOf } from "../paths";
import type { Point } from "./around";
import { Easel } from "./Easel";
import { Inspector } from "./Inspector";
import { type Kind, LayOn } from "./LayOn";
import { whatItIs } from "./words";

const KINDS: [Kind, string][] = [
  ["set", "A set"],
  ["mask", "A mask"],
  ["card", "Card"],
  ["words", "Words"],
  ["note", "A note"],
];

export function Component() {
  const { state, set, change } = useShared();
  const [params, setParams] = useSearchParams();
  const [asked, setAsked] = useState<Kind | null>(null);
  const [drawing, setDrawing] = useState<Point[] | null>(null);
  const chosen = set.things.find((t) => t.key === params.get("thing"));
  const known = useRef<Set<string> | null>(null);
  // something was laid on, and nothing else chosen since
  const expected = useRef(false);
  const choose = (key: string | null) => {
    expected.current = false;
    setParams(key ? { thing: key } : {}, { replace: true });
  };
  useEffect(() => {
    // what was just laid on is what the hand wants next
    const now = new Set(set.things.map((t) => t.key));
    const before = known.current;
    known.current = now;
    const fresh =
      before && now.size === before.size + 1 ? set.things.find((t) => !before.has(t.key)) : undefined;
    if (!fresh || !expected.current) return;
    expected.current = false;
    setParams({ thing: fresh.key }, { replace: true });
  }, [set.things, setParams]);
  const lay = (thing: Record<string, unknown>) => {
    setAsked(null);
    expected.current = true;
    change("add_thing", { thing });
  };
  const close = (points: Point[]) => {
    setDrawing(null);
    if (points.length < 3) return;
    const cx = points.reduce((sum, p) => sum + p[0], 0) / points.length;
    const cy = points.reduce((sum, p) => sum + p[1], 0) / points.length;
    const around = points.map(([x, y]) => [round(x - cx), round(y - cy)]);
    const shape = { kind: "outline", points: around };
    lay({
      kind: "mask",
      name: "outline",
      shape,
      place: { x: round(cx), y: round(cy) },
      wear: { way: "cover" },
    });
  };
  usePanelKeys(chosen, set.things, choose, drawing, setDrawing, close);
  return (
    <Desk
      picture={
        <Easel
          chosen={chosen}
          onChoose={choose}
          drawing={drawing}
          onPoint={(p) => setDrawing([...(drawing ?? []), p])}
          onClosed={() => drawing && close(drawing)}
        />
      }
      below={
        <Typography variant="caption" component="p" sx={{ m: 0, color: greys.quiet, textAlign: "center" }}>
          {drawing
            ? "Point by point; close it on the first point or with Enter, Escape lets it go."
            : chosen
              ? `${chosen.name}: push it with the hand, or with the arrow keys (Shift for 5 mm); M turns it over, [ and ] turn it.`
              : "Point at what lies there and push it where it belongs."}
        </Typography>
      }
    >
      {drawing && (
        <Box sx={{ display: "flex", gap: 1 }}>
          <Button variant="contained" disabled={drawing.length < 3} onClick={() => close(drawing)}>
            Close the outline
          </Button>
          <Button variant="text" onClick={() => setDrawing(null)}>
            Let it go
          </Button>
        </Box>
      )}
      <Box sx={{ display: "flex", gap: 0.75, alignItems: "center", flexWrap: "wrap" }}>
        <Typography variant="h2" sx={{ mr: 0.5 }}>
          Lay on
        </Typography>
        {KINDS.map(([kind, label]) => (
          <Button key={kind} variant="outlined" onClick={() => setAsked(kind)}>
            {label}
          </Button>
        ))}
      </Box>
      {chosen && <Inspector key={chosen.key} thing={chosen} />}
      <Lying chosen={chosen} onChoose={choose} />
      <SaidOfPlaces />
      {state.colourings.length > 1 && <OthersToo />}
      <LayOn
        kind={asked}
        onClose={() => setAsked(null)}
        onLay={lay}
        onDraw={() => {
          setAsked(null);
          setDrawing([]);
        }}
      />
    </Desk>
  );
}

const round = (v: number) => Math.round(v * 100) / 100;

/** What lies there, the topmost first; the panel itself at the bottom. */
function Lying({ chosen, onChoose }: { chosen: Thing | undefined; onChoose: (key: string) => void }) {
  const { id, state, set } = useShared();
  const strata = placeOf(state.build_id, id, "strata");
  return (
    <Paper variant="tray" sx={{ p: 0.75 }}>
      <Box component="ul" aria-label="On the panel, the topmost first" sx={{ display: "grid", gap: 0.5 }}>
        {[...set.things].reverse().map((t) => (
          <li key={t.key}>
            <ButtonBase
              aria-pressed={t.key === chosen?.key}
              onClick={() => onChoose(t.key)}
              sx={{
                width: "100%",
                justifyContent: "space-between",
                gap: 1,
                px: 1,
                minHeight: 36,
                borderRadius: 0.75,
                textAlign: "left",
                bgcolor: t.key === chosen?.key ? greys.white : "transparent",
                boxShadow: t.key === chosen?.key ? `inset 3px 0 0 ${greys.ink}` : "none",
              }}
            >
              <Box component="span" sx={{ fontWeight: 600, fontSize: 14 }}>
                {t.name}
              </Box>
              <Typography variant="caption" component="span" sx={{ color: greys.quiet }}>
                {whatItIs(t)}
              </Typography>
            </ButtonBase>
          </li>
        ))}
        <Box component="li" sx={{ display: "flex", justifyContent: "space-between", gap: 1, px: 1, py: 0.5 }}>
          <Box component="span" sx={{ fontSize: 14 }}>
            The panel, {state.stock_name}
          </Box>
          <Link to={`${strata}?element=free+ground`} style={{ fontSize: 13 }}>
            Ink its ground
          </Link>
        </Box>
      </Box>
    </Paper>
  );
}

/** What there is to say about where things lie. */
function SaidOfPlaces() {
  const { state } = useShared();
  const said = state.findings.filter((f) => f.subject.kind === "panel" && !f.left);
  return said.map((f) => (
    <Paper key={f.key} variant="warning" role="note">
      <Typography variant="body2" sx={{ fontWeight: 620 }}>
        {f.sentence}
      </Typography>
      <Typography variant="caption">{f.reason}</Typography>
    </Paper>
  ));
}

function OthersToo() {
  const { id, state } = useShared();
  const act = useAct(() => api.POST("/api/colourings/{id}/lay-out-others", { params: { path: { id } } }), {
    changes: [keys.colourings, keys.builds],
    then: () => say({ sentence: "The other colourings lie as this one now." }),
  });
  return (
    <Box>
      <Button variant="text" disabled={act.isPending} onClick={() => act.mutate()}>
        Lay out the other {state.colourings.length - 1} as here
      </Button>
    </Box>
  );
}

/** Arrow keys push, brackets turn, M turns over, page keys lift, Delete takes off. */
function usePanelKeys(
  chosen: Thing | undefined,
  things: Thing[],
  choose: (key: string | null) => void,
  drawing: Point[] | null,
  setDrawing: (points: Point[] | null) => void,
  close: (points: Point[]) => void,
) {
  const { change } = useShared();
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      const target = event.target instanceof HTMLElement ? event.target : null;
      if (target?.matches("input, textarea, select, [role=combobox], [role=option], [role=menuitem]")) return;
      if (event.ctrlKey || event.metaKey) return;
      if (drawing) {
        if (event.key === "Enter") close(drawing);
        else if (event.key === "Escape") setDrawing(null);
        else if (event.key === "Backspace") setDrawing(drawing.slice(0, -1));
        else return;
        event.preventDefault();
        return;
      }
      if (event.key === "n" || event.key === "N") {
        const at = things.findIndex((t) => t.key === chosen?.key);
        choose(things[(at + 1) % Math.max(1, things.length)]?.key ?? null);
        return;
      }
      if (!chosen) return;
      const step = event.shiftKey ? 5 : 0.5;
      const by: Record<string, [number, number]> = {
        ArrowLeft: [-step, 0],
        ArrowRight: [step, 0],
        ArrowUp: [0, -step],
        ArrowDown: [0, step],
      };
      const turn = chosen.place.turn;
      if (by[event.key]) change("move_thing", { thing: chosen.key, by: by[event.key] });
      else if (event.key === "[" || event.key === "]")
        change("move_thing", {
          thing: chosen.key,
          turn: turn + (event.key === "]" ? 1 : -1) * (event.shiftKey ? 15 : 1),
        });
      else if (event.key === "m" || event.key === "M")
        change("move_thing", { thing: chosen.key, mirrored: !chosen.place.mirrored });
      else if (event.key === "PageUp" || event.key === "PageDown")
        change("raise_thing", { thing: chosen.key, by: event.key === "PageUp" ? 1 : -1 });
      else if (event.key === "Delete" || event.key === "Backspace")
        change("remove_thing", { thing: chosen.key });
      else if (event.key === "Escape") choose(null);
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  });
}
