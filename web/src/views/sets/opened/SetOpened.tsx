/** A set opened: its parts named by pointing, its measures shown where they are. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useCallback, useEffect, useRef, useState } from "react";
import { useParams } from "react-router";
import { Choices } from "../../../parts/Choices";
import { useAct } from "../../../api/acts";
import { api, data, type LayerSet } from "../../../api/client";
import { useMeasures, useSession, useSet } from "../../../api/hooks";
import { underWay } from "../../../api/jobs";
import { keys } from "../../../api/keys";
import { Busy } from "../../../parts/Busy";
import { contents, size } from "../../../parts/lengths";
import { PartByPart } from "../../../parts/PartByPart";
import { Trouble } from "../../../parts/Trouble";
import { useThere } from "../../../parts/useThere";
import { greys } from "../../../theme/theme";
import { Canvas } from "./Canvas";
import { MeasurePanel } from "./MeasurePanel";
import type { Kind, Panel } from "./measuring";
import { NamePanel } from "./NamePanel";
import { ALL, type Naming } from "./naming";
import { Overlay } from "./Overlay";
import { SheetStrip } from "./SheetStrip";
import { useSetEdits } from "./useSetEdits";

export function Component() {
  const set = useSet(Number(useParams().setId));
  const laid = useThere(set.data);
  if (set.error) return <Trouble alone error={set.error} again={() => void set.refetch()} />;
  if (!laid) return <Busy what="Laying the set out" />;
  return <Opened key={laid.id} set={laid} />;
}

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

function Opened({ set }: { set: LayerSet }) {
  const edits = useSetEdits(set);
  const [shown, setShown] = useState<number[]>(set.sheets.map((s) => s.number));
  const [chosen, setChosen] = useState<string[]>([]);
  const [cutting, setCutting] = useState(false);
  const [mode, setMode] = useState<"name" | "measure">("name");
  const [kind, setKind] = useState<Kind>("brush");
  const [asked, setAsked] = useState<number | null>(null);
  const [panel, setPanel] = useState<Panel>({
    width: Math.round(set.width_mm - 12),
    height: Math.round(set.height_mm - 12),
    dx: 0,
    dy: 0,
  });
  const nameInput = useRef<HTMLInputElement>(null);
  const measures = useMeasures(set, mode === "measure");
  const found = measures.data;
  const again = useAct(
    () => data(api.POST("/api/sets/{id}/measures", { params: { path: { id: set.id } } })),
    { changes: [keys.measures(set.id, set.revision)], otherwise: "It could not be measured." },
  );
  const numbers = set.sheets.map((s) => s.number);
  const visible = shown.filter((n) => numbers.includes(n));
  // a sheet that was just added lies on the stack
  const [known, setKnown] = useState(numbers.length);
  if (numbers.length !== known) {
    setKnown(numbers.length);
    setShown(numbers);
  }

  const choose = useCallback((keys: string[]) => {
    setCutting(false);
    setChosen(keys);
  }, []);
  const naming: Naming = {
    set,
    chosen,
    elements: set.elements,
    edit: edits.edit,
    choose,
    cut: setCutting,
    cutting,
  };
  const pick = (keys: string[], add: boolean) =>
    choose(
      add
        ? [
            ...new Set([
              ...chosen.filter((k) => !(keys.length === 1 && keys[0] === k)),
              ...keys.filter((k) => keys.length > 1 || !chosen.includes(k)),
            ]),
          ]
        : keys,
    );
  const cut = (line: [number, number][]) => {
    setCutting(false);
    void edits.edit("split", { opening: chosen[0], line });
  };
  useKeys(naming, edits, mode, nameInput);

  useEffect(() => {
    document.title = `${set.name} · Anastrata`;
  }, [set.name]);
  return (
    <Box
      sx={{
        p: { xs: 2, sm: 2.5 },
        display: "grid",
        gridTemplateColumns: { xs: "1fr", md: "minmax(0, 1fr) 320px", lg: "260px minmax(0, 1fr) 340px" },
        gap: 2.5,
        alignItems: "start",
      }}
    >
      <PartByPart>
        <Head
          set={set}
          edits={edits}
          mode={mode}
          onMode={(m) => {
            setMode(m);
            setAsked(null);
            setCutting(false);
          }}
        />
        <Box sx={{ gridColumn: { lg: 2 } }}>
          <Canvas
            set={set}
            shown={visible}
            chosen={chosen}
            cutting={cutting}
            onChoose={pick}
            onCut={cut}
            label={`Sheets ${visible.join(", ")} on top of each other`}
          >
            {mode === "measure" && (
              <Overlay
                set={set}
                measures={found?.measures}
                kind={kind}
                shown={visible}
                asked={asked}
                panel={panel}
              />
            )}
          </Canvas>
          {set.left_out.map((sentence) => (
            <Typography key={sentence} variant="caption" sx={{ display: "block", mt: 0.5 }}>
              {sentence}
            </Typography>
          ))}
        </Box>
        <Box sx={{ gridColumn: { lg: 3 } }}>
          {mode === "name" && <NamePanel naming={naming} nameInput={nameInput} />}
          {mode === "measure" &&
            (measures.error ? (
              <Trouble error={measures.error} again={() => void measures.refetch()} />
            ) : found?.job && !underWay(found.job) ? (
              <Trouble error={new Error(found.job.sentence)} again={() => again.mutate()} />
            ) : (
              <MeasurePanel
                set={set}
                measures={found?.measures}
                job={found?.job}
                kind={kind}
                onKind={(k) => {
                  setKind(k);
                  setAsked(null);
                }}
                chosen={chosen}
                asked={asked}
                onAsk={setAsked}
                panel={panel}
                onPanel={setPanel}
              />
            ))}
        </Box>
        {/* last, as it stands where there is one column: before the others it would be pushed down by them */}
        <Box
          sx={{
            gridColumn: { lg: 1 },
            gridRow: { lg: 2 },
            maxHeight: { lg: "calc(100dvh - 170px)" },
            overflow: "auto",
          }}
        >
          <SheetStrip set={set} shown={visible} onShown={setShown} edits={edits} />
        </Box>
      </PartByPart>
    </Box>
  );
}

interface HeadProps {
  set: LayerSet;
  edits: ReturnType<typeof useSetEdits>;
  mode: "name" | "measure";
  onMode: (mode: "name" | "measure") => void;
}

function Head({ set, edits, mode, onMode }: HeadProps) {
  const units = useSession().data?.units ?? "in";
  return (
    <Box sx={{ gridColumn: "1 / -1", display: "flex", alignItems: "center", gap: 1.5, flexWrap: "wrap" }}>
      <Box sx={{ flex: "1 1 260px" }}>
        <Typography variant="h1">{set.name}</Typography>
        <Typography variant="body2">
          {contents(set)}, {size(set.width_mm, set.height_mm, units)}
        </Typography>
      </Box>
      <Choices
        label="What to do"
        value={mode}
        options={[
          ["name", "Name the parts"],
          ["measure", "Measure"],
        ]}
        onChoose={onMode}
      />
      <Box sx={{ display: "flex", gap: 0.5 }}>
        <Button
          variant="outlined"
          disabled={!set.undo}
          title={set.undo ? `Undo: ${set.undo}` : undefined}
          onClick={() => void edits.undo()}
        >
          Undo
        </Button>
        <Button
          variant="outlined"
          disabled={!set.redo}
          title={set.redo ? `Redo: ${set.redo}` : undefined}
          onClick={() => void edits.redo()}
        >
          Redo
        </Button>
      </Box>
      <Box sx={{ display: "flex", gap: 0.5, borderLeft: `1px solid ${greys.line}`, pl: 1.5 }}>
        <Button component="a" variant="text" href={`/api/sets/${set.id}/drawing.svg`} download>
          SVG
        </Button>
        <Button component="a" variant="text" href={`/api/sets/${set.id}/bundle.zip`} download>
          Bundle
        </Button>
      </Box>
    </Box>
  );
}

/** Keys while naming: one letter each, numbers for the parts, Enter for the name, Escape to let go. */
function useKeys(
  naming: Naming,
  edits: ReturnType<typeof useSetEdits>,
  mode: string,
  nameInput: React.RefObject<HTMLInputElement | null>,
) {
  const latest = useRef({ naming, edits, mode });
  useEffect(() => {
    latest.current = { naming, edits, mode };
  });
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const { naming: n, edits: e, mode: m } = latest.current;
      if (event.key === "Escape") {
        n.choose([]);
        if (typing(event.target)) (event.target as HTMLElement).blur();
        return;
      }
      if (typing(event.target) || event.altKey) return;
      const key = event.key.toLowerCase();
      if (event.ctrlKey || event.metaKey) {
        if (key !== "z" && key !== "y") return;
        event.preventDefault();
        void (key === "y" || event.shiftKey ? e.redo() : e.undo());
        return;
      }
      if (m !== "name") return;
      const number = Number(event.key);
      const element = n.elements[number - 1];
      if (number >= 1 && number <= 9 && element && n.chosen.length)
        return void n.edit("move", { openings: n.chosen, element });
      if (event.key === "Enter" && n.chosen.length && !(event.target instanceof HTMLButtonElement)) {
        event.preventDefault();
        nameInput.current?.focus();
        return;
      }
      const found = ALL.find((c) => c.key === key);
      if (found?.enabled(n)) {
        event.preventDefault();
        found.perform(n);
      }
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [nameInput]);
}
