/** What can be done to the chosen pass, on the core sample itself. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { Choices } from "../../../parts/Choices";
import type { Form, Rung } from "../../../api/client";
import { greys } from "../../../theme/theme";
import { command, printed, type Stage } from "./commands";
import { FormPicker } from "./FormPicker";
import type { Shown } from "./useStage";
import { Tool, Ways } from "./Ways";

const HANDS: Rung["hand"][] = ["light", "medium", "heavy"];

function Do({
  id,
  stage,
  children,
  label,
}: {
  id: string;
  stage: Stage;
  children: React.ReactNode;
  label?: string;
}) {
  const own = command(id);
  const name = label ?? own.label;
  return (
    <Tooltip title={`${name} (${printed(own.keys)})`}>
      <span>
        <IconButton
          aria-label={name}
          disabled={!own.enabled(stage)}
          onClick={(e) => {
            e.stopPropagation();
            own.perform(stage);
          }}
          sx={{ width: 30, height: 30, border: `1px solid ${greys.line}`, fontSize: 16, lineHeight: 1 }}
        >
          {children}
        </IconButton>
      </span>
    </Tooltip>
  );
}

export type AskFor = Shown["askFor"];

export function RungEditor({ rung, stage, askFor }: { rung: Rung; stage: Stage; askFor: AskFor }) {
  const setForm = (form: Partial<Form>) => stage.change("set_form", { pass: rung.key, form });
  return (
    <Box sx={{ display: "grid", gap: 0.6, mt: 0.25 }} onClick={(e) => e.stopPropagation()}>
      <Box sx={{ display: "flex", gap: 0.5, alignItems: "center", flexWrap: "wrap" }}>
        <Tooltip title={`Swap the ink (${printed(command("swap").keys)})`}>
          <Button variant="contained" onClick={stage.openDrawer}>
            Swap ink
          </Button>
        </Tooltip>
        <Button
          variant="outlined"
          disabled={!rung.lighter}
          onClick={() => command("lighten").perform(stage)}
          title={rung.lighter ?? undefined}
        >
          Lighten
        </Button>
        <Button
          variant="outlined"
          disabled={!rung.deeper}
          onClick={() => command("deepen").perform(stage)}
          title={rung.deeper ?? undefined}
        >
          Deepen
        </Button>
        <Box sx={{ display: "flex", gap: 0.5, ml: "auto" }}>
          <Do id="up" stage={stage}>
            ↑
          </Do>
          <Do id="down" stage={stage}>
            ↓
          </Do>
          <Do id="remove" stage={stage}>
            ×
          </Do>
        </Box>
      </Box>
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: "wrap" }}>
        <Box sx={{ display: "flex", gap: 0.5, alignItems: "center" }}>
          <Do id="less" stage={stage}>
            −
          </Do>
          <Typography variant="body2" sx={{ minWidth: 52, textAlign: "center" }}>
            {rung.coats > 1 ? `${rung.coats} coats` : "1 coat"}
          </Typography>
          <Do id="more" stage={stage}>
            +
          </Do>
        </Box>
        <Choices
          label="Hand"
          value={rung.hand}
          options={HANDS.map((hand) => [hand, hand] as const)}
          onChoose={(hand) => stage.change("set_hand", { pass: rung.key, hand })}
          button={{ px: 1 }}
        />
        <Tool rung={rung} stage={stage} />
      </Box>
      <FormPicker rung={rung} onForm={setForm} />
      <Ways rung={rung} stage={stage} askFor={askFor} />
      <HowCome rung={rung} onStandIn={() => command("stand-in").perform(stage)} />
    </Box>
  );
}

/** Where the colour comes from, in one line. */
function HowCome({ rung, onStandIn }: { rung: Rung; onStandIn: () => void }) {
  const main = rung.places[0];
  if (!main) return null;
  const under = main.under.map((u) => `${u.ink_name} × ${u.coats}`).join(", ");
  const share = main.share < 0.95 ? ` on ${Math.round(main.share * 100)} % of it` : "";
  return (
    <Typography variant="caption" sx={{ color: greys.quiet }}>
      {under ? `Here over ${under}${share}` : `Here on bare card${share}`}; it moves the colour by{" "}
      {rung.change.toFixed(0)} (CIEDE2000).
      {rung.here.in_gamut ? " " : " A screen cannot show it quite this strong. "}
      <Box
        component="button"
        type="button"
        title={`Which pad does its work here (${printed(command("stand-in").keys)})`}
        onClick={onStandIn}
        sx={{
          border: 0,
          p: 0,
          bgcolor: "transparent",
          font: "inherit",
          fontWeight: 620,
          color: greys.ink,
          textDecoration: "underline",
          cursor: "pointer",
          minHeight: 24,
        }}
      >
        Stand-in
      </Box>
    </Typography>
  );
}
