/** What is wished of the order: what is put first, who helps, what is done in the waits, when it must be ready. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { OrderOfWork } from "../../../api/client";
import { minutes } from "../../../parts/lengths";
import { Select } from "../../../parts/Select";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";
import { Twice } from "./Twice";

const FIRST = [
  ["time", "least time"],
  ["placements", "sheet by sheet"],
  ["pads", "colour by colour"],
  ["elements", "element by element"],
  ["cleanings", "few cleanings"],
  ["masks", "few masks"],
] as const;
const HANDS = [
  [1, "one pair of hands"],
  [2, "two pairs of hands"],
] as const;
const RACKS = [0, 1, 2, 3, 4, 6, 8, 12];
const RACK = RACKS.map((n) => [n, n ? (n === 1 ? "one card" : `${n} cards`) : "enough"] as const);
const YES_NO = (yes: string, no: string) => [["yes", yes] as const, ["no", no] as const];

/** The clock at which to begin, so many minutes before another; null for what is no time. */
export function beginAt(ready: string, length: number): string | null {
  const match = /^(\d{2}):(\d{2})$/.exec(ready);
  if (!match) return null;
  const at = Number(match[1]) * 60 + Number(match[2]) - Math.ceil(length);
  const day = ((at % 1440) + 1440) % 1440;
  const clock = `${String(Math.floor(day / 60)).padStart(2, "0")}:${String(day % 60).padStart(2, "0")}`;
  return at < 0 ? `${clock} the day before` : clock;
}

export function Wishes({ order }: { order: OrderOfWork }) {
  const [open, setOpen] = useState(false);
  const { change } = useShared();
  const { wishes } = order;
  const wish = (values: Record<string, unknown>) => change("wish_order", values);
  return (
    <Paper variant="card" component="section" aria-label="Wishes for the order" sx={{ p: 1.5 }}>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
        <Select
          label="Put first"
          value={wishes.first}
          options={FIRST}
          minWidth={170}
          onChoose={(first) => wish({ first })}
        />
        <Select
          label="At the table"
          value={wishes.hands as 1 | 2}
          options={HANDS}
          minWidth={160}
          onChoose={(hands) => wish({ hands })}
        />
        <Button variant="text" aria-expanded={open} onClick={() => setOpen(!open)} sx={{ ml: "auto" }}>
          {open ? "Less" : "More wishes"}
        </Button>
      </Box>
      {open && (
        <Box sx={{ display: "grid", gap: 1.5, mt: 1.5 }}>
          <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
            <Select
              label="Heat tool"
              value={wishes.heat ? "yes" : "no"}
              options={YES_NO("where it saves a wait", "not used")}
              minWidth={180}
              onChoose={(v) => wish({ heat: v === "yes" })}
            />
            {order.cards > 1 && (
              <Select
                label="Places to dry"
                value={wishes.rack}
                options={
                  RACKS.includes(wishes.rack) ? RACK : [...RACK, [wishes.rack, `${wishes.rack} cards`]]
                }
                minWidth={140}
                onChoose={(rack) => wish({ rack })}
              />
            )}
            {order.cards > 1 && (
              <Select
                label="Several cards"
                value={wishes.lead ? "yes" : "no"}
                options={YES_NO("one first, look, then the rest", "all together")}
                minWidth={220}
                onChoose={(v) => wish({ lead: v === "yes" })}
              />
            )}
            <Select
              label="Cutting and putting together"
              value={wishes.assembly ? "yes" : "no"}
              options={YES_NO("part of the work", "another day")}
              minWidth={220}
              onChoose={(v) => wish({ assembly: v === "yes" })}
            />
          </Box>
          <ReadyBy length={order.minutes} />
          <OtherWork jobs={order.jobs} />
          <Twice order={order} />
          <Partings order={order} />
          <Pins order={order} />
          <Returns order={order} />
        </Box>
      )}
    </Paper>
  );
}

function ReadyBy({ length }: { length: number }) {
  const [ready, setReady] = useState("");
  const begin = beginAt(ready, length);
  return (
    <Box sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
      <TextField
        label="Ready by"
        type="time"
        value={ready}
        onChange={(e) => setReady(e.target.value)}
        slotProps={{ inputLabel: { shrink: true } }}
        sx={{ width: 130 }}
      />
      <Typography variant="body2" role="status">
        {begin ? `Begin at ${begin} at the latest: it takes ${minutes(length)}.` : ""}
      </Typography>
    </Box>
  );
}

function OtherWork({ jobs }: { jobs: OrderOfWork["jobs"] }) {
  const { change } = useShared();
  const [name, setName] = useState("");
  const [length, setLength] = useState("5");
  const known = Number(length.replace(",", "."));
  const good = name.trim() !== "" && known >= 0.1 && known <= 120;
  const add = () => {
    if (!good) return;
    change("add_job", { name: name.trim(), minutes: known });
    setName("");
  };
  return (
    <Box>
      <Typography variant="h3" component="h3" sx={{ mb: 0.5 }}>
        For the waits
      </Typography>
      <Box component="ul" aria-label="Other work">
        {jobs.map((job) => (
          <Box component="li" key={job.key} sx={{ display: "flex", gap: 1, alignItems: "center" }}>
            <Typography variant="body2" sx={{ flex: 1 }}>
              {job.name}, {minutes(job.minutes)}
            </Typography>
            <Button
              variant="text"
              aria-label={`Take ${job.name} off the list`}
              onClick={() => change("drop_job", { key: job.key })}
            >
              Take off
            </Button>
          </Box>
        ))}
      </Box>
      <Box
        component="form"
        onSubmit={(e) => {
          e.preventDefault();
          add();
        }}
        sx={{ display: "flex", gap: 1, alignItems: "center", mt: 0.5 }}
      >
        <TextField
          label="Fold the bases, stamp the inside…"
          value={name}
          onChange={(e) => setName(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 80 } }}
          sx={{ flex: 1 }}
        />
        <TextField
          label="Minutes"
          value={length}
          error={!good && name.trim() !== ""}
          onChange={(e) => setLength(e.target.value)}
          sx={{ width: 84 }}
        />
        <Button type="submit" variant="outlined" disabled={!good}>
          Add
        </Button>
      </Box>
    </Box>
  );
}

const WAYS = [
  ["mask", "a mask"],
  ["hand", "a light hand"],
] as const;

function Partings({ order }: { order: OrderOfWork }) {
  const { change } = useShared();
  if (!order.partings.length) return null;
  return (
    <Box>
      <Typography variant="h3" component="h3" sx={{ mb: 0.75 }}>
        Close neighbours
      </Typography>
      <Box component="ul" aria-label="Close neighbours" sx={{ display: "grid", gap: 1 }}>
        {order.partings.map((p) => (
          <Box
            component="li"
            key={`${p.element} ${p.sheet}`}
            sx={{ display: "grid", gridTemplateColumns: "1fr 150px", gap: 1, alignItems: "center" }}
          >
            <Typography variant="body2">
              {p.element}, sheet {p.sheet}
              <Typography variant="caption" component="span" sx={{ display: "block", color: greys.quiet }}>
                {p.sentence}
              </Typography>
            </Typography>
            {p.choosable && (
              <Select
                label={`Part ${p.element} by`}
                value={(p.chosen ?? "") as "mask" | "hand" | ""}
                options={WAYS}
                none="as is quicker"
                onChoose={(way) =>
                  change("part_by", { element: p.element, sheet: p.sheet, way: way || null })
                }
              />
            )}
          </Box>
        ))}
      </Box>
    </Box>
  );
}

const SHOWN = 6;
// pins told one by one; of an order that is kept whole there are dozens

function Pins({ order }: { order: OrderOfWork }) {
  const { change } = useShared();
  const passes = order.visits.flatMap((v) => v.steps.flatMap((s) => (s.pass_key ? [s.pass_key] : [])));
  const more = order.pins.length - SHOWN;
  return (
    <Box>
      <Typography variant="h3" component="h3" sx={{ mb: 0.5 }}>
        As you want it
      </Typography>
      <Box component="ul" aria-label="Pinned orders" hidden={!order.pins.length}>
        {order.pins.slice(0, SHOWN).map((pin) => (
          <Box
            component="li"
            key={`${pin.before} ${pin.after}`}
            sx={{ display: "flex", gap: 1, alignItems: "center" }}
          >
            <Typography variant="body2" sx={{ flex: 1 }}>
              {pin.called}
              {pin.kept ? "" : ". As the plan stands now it cannot be so, and is passed over."}
            </Typography>
            <Button
              variant="text"
              aria-label={`Let go of: ${pin.called}`}
              onClick={() => change("unpin_order", { before: pin.before, after: pin.after })}
            >
              Let go
            </Button>
          </Box>
        ))}
      </Box>
      {more > 0 && <Typography variant="body2">and {more} more</Typography>}
      <Box sx={{ display: "flex", gap: 1, mt: 0.5 }}>
        {order.cards === 1 && passes.length > 1 && (
          <Button variant="outlined" onClick={() => change("freeze_order", { passes })}>
            Keep the order as it is
          </Button>
        )}
        {order.pins.length > 1 && (
          <Button variant="text" onClick={() => change("unpin_order", { all: true })}>
            Let go of all
          </Button>
        )}
      </Box>
    </Box>
  );
}

function Returns({ order }: { order: OrderOfWork }) {
  const { change } = useShared();
  if (!order.returns.length) return null;
  return (
    <Box>
      <Typography variant="h3" component="h3" sx={{ mb: 0.5 }}>
        Kept apart
      </Typography>
      <Box component="ul" aria-label="Returns kept apart">
        {order.returns.map((kept) => (
          <Box
            component="li"
            key={kept.passes.join(" ")}
            sx={{ display: "flex", gap: 1, alignItems: "center" }}
          >
            <Typography variant="body2" sx={{ flex: 1 }}>
              {kept.called}
            </Typography>
            <Button
              variant="text"
              aria-label={`No longer apart: ${kept.called}`}
              onClick={() => change("keep_apart", { passes: kept.passes, apart: false })}
            >
              Let go
            </Button>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
