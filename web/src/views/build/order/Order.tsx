/** The order of work with its reasons and times, sheet by sheet, and a picture of any moment in it. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link } from "react-router";
import type { Rung } from "../../../api/client";
import { Busy } from "../../../parts/Busy";
import { Overlays } from "../../../parts/Overlays";
import { PanelPicture } from "../../../parts/PanelPicture";
import { Trouble } from "../../../parts/Trouble";
import { useThere } from "../../../parts/useThere";
import { useShared } from "../context";
import { Desk } from "../Desk";
import { Better, Totals } from "./Better";
import { TimeLine } from "./TimeLine";
import { useOrder } from "./useOrder";
import { Visits } from "./Visits";
import { Wishes } from "./Wishes";

export function Component() {
  const { state, set, painter } = useShared();
  const work = useOrder();
  const order = useThere(work.order);
  const [chosen, setChosen] = useState<number | null>(null);
  if (!state.sequence.steps.length) return <Empty />;
  if (!order) {
    return work.error ? (
      <Trouble error={work.error} again={work.again} />
    ) : (
      <Busy what="Putting it in order" />
    );
  }
  const rungs = new Map<string, Rung>(state.elements.flatMap((e) => e.rungs.map((r) => [r.key, r])));
  const told = order.visits.flatMap((v) => v.steps.map((step, i) => ({ step, place: v.first + i })));
  const last = told.at(-1);
  const at = told.find((t) => t.place === chosen) ?? last;
  if (!at) return <Empty />;
  const before = new Set(told.filter((t) => t.place <= at.place).map((t) => t.step.pass_key));
  // the picture builds up as one card does; a batch is shown finished, its group marked
  const after = order.cards === 1 ? [...before].filter(Boolean).length : state.sequence.passes.length;
  const rung = at.step.pass_key ? rungs.get(at.step.pass_key) : undefined;
  const groups = set.sheets.flatMap((s) => s.groups);
  const marked = rung && groups.find((g) => g.element === rung.element && g.sheet === rung.sheet);
  return (
    <Desk
      columns="minmax(320px, 460px) minmax(0, 1fr)"
      above={<Totals order={order} />}
      picture={
        <PanelPicture
          painter={painter}
          picture={state.picture_key}
          after={after}
          alt={`The panel after step ${at.place + 1}: ${at.step.sentence}`}
          set={set}
          marked={marked ?? null}
        >
          <Overlays step={at.step} set={set} />
        </PanelPicture>
      }
      below={
        <Typography variant="caption" component="p" sx={{ m: 0, textAlign: "center" }}>
          {order.cards === 1 ? `After step ${at.place + 1}: ` : ""}
          {at.step.sentence}
        </Typography>
      }
    >
      <Better order={order} work={work} />
      <Wishes order={order} />
      {order.cards === 1 && (
        <TimeLine
          steps={told.map((t) => t.step)}
          rungs={rungs}
          at={told.indexOf(at)}
          onPick={(i) => setChosen(told[i]?.place ?? null)}
        />
      )}
      <Visits
        order={order}
        set={set}
        rungs={rungs}
        card={state.stock_colour.hex}
        at={at.place}
        onChoose={setChosen}
      />
    </Desk>
  );
}

function Empty() {
  const { id } = useShared();
  return (
    <Box sx={{ p: 4, maxWidth: 520 }}>
      <Typography variant="h1">No pass to put in order yet</Typography>
      <Typography sx={{ my: 2 }}>
        Give the elements their inks first. The order then follows by itself: which sheet when, what to mask,
        what to clean, what to wait for, and why.
      </Typography>
      <Button component={Link} to={`/builds/${id}/strata`} variant="contained">
        Give inks
      </Button>
    </Box>
  );
}
