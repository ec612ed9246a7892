/** What stands round a step: where it is, what there is to know, what is asked, on and back. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { State } from "../../../api/client";
import { greys, signal } from "../../../theme/theme";
import { placeOf } from "../paths";
import { Asked } from "./big";
import type { TableHandle } from "./useTable";

/** Away from the table, to the order of work. */
export function Leave({ build, id }: { build: number; id: number }) {
  return (
    <Button
      component={Link}
      to={placeOf(build, id, "order")}
      variant="outlined"
      sx={{ minHeight: 64, fontSize: 18 }}
    >
      Leave
    </Button>
  );
}

export function Head({
  table,
  state,
  id,
  kept,
  onAside,
}: {
  table: TableHandle;
  state: State;
  id: number;
  kept: boolean;
  onAside: () => void;
}) {
  const { steps, at, step } = table;
  return (
    <>
      <Box
        sx={{
          display: "flex",
          alignItems: "center",
          gap: 2,
          px: 2,
          minHeight: 72,
          bgcolor: greys.sheet,
          borderBottom: `1px solid ${greys.line}`,
        }}
      >
        <Leave build={state.build_id} id={id} />
        <Typography
          component="h1"
          sx={{
            fontSize: 20,
            fontWeight: 600,
            flex: 1,
            overflow: "hidden",
            textOverflow: "ellipsis",
            whiteSpace: "nowrap",
          }}
        >
          {state.name}
        </Typography>
        {kept && (
          <Typography sx={{ fontSize: 20, display: { xs: "none", md: "block" }, color: greys.quiet }}>
            Works without a network
          </Typography>
        )}
        <Typography sx={{ fontSize: 20, whiteSpace: "nowrap" }}>
          {steps.length === 0 ? "" : step ? `${at + 1} of ${steps.length}` : "done"}
        </Typography>
        <Button variant="outlined" onClick={onAside} sx={{ minHeight: 64, fontSize: 18 }}>
          Not as planned
        </Button>
      </Box>
      <Box aria-hidden="true" sx={{ height: 6, bgcolor: greys.bench }}>
        <Box sx={{ height: 6, width: `${(100 * at) / Math.max(1, steps.length)}%`, bgcolor: signal }} />
      </Box>
    </>
  );
}

export function Foot({
  table,
  toLay,
  left,
  onNext,
  onBack,
  claims,
}: {
  table: TableHandle;
  toLay: boolean;
  left: boolean;
  onNext: () => void;
  onBack: () => void;
  claims: boolean;
}) {
  const { step, steps, at } = table;
  return (
    <Box
      sx={{
        position: "sticky",
        bottom: 0,
        display: "grid",
        gridTemplateColumns: left ? "2fr 1fr" : "1fr 2fr",
        gap: 1.5,
        p: 1.5,
        bgcolor: greys.bench,
        borderTop: `1px solid ${greys.line}`,
      }}
    >
      <Button
        variant="outlined"
        disabled={toLay || (at === 0 && !steps.length)}
        onClick={onBack}
        sx={{ minHeight: 72, fontSize: 22, order: left ? 1 : 0 }}
      >
        Back
      </Button>
      {step ? (
        <Button variant="contained" onClick={onNext} sx={{ minHeight: 72, fontSize: 24 }}>
          {toLay
            ? "The table is set"
            : step.kind === "wait"
              ? "It is dry"
              : claims
                ? "All inked, next"
                : "Done, next"}
        </Button>
      ) : (
        <Button
          variant="contained"
          onClick={table.restart}
          disabled={!steps.length || table.offline}
          sx={{ minHeight: 72, fontSize: 22 }}
        >
          {steps.length ? "Start again for another card" : "Nothing to do yet"}
        </Button>
      )}
    </Box>
  );
}

/** What there is to know before going on: no connection, a rest that was planned anew. */
export function Word({ table }: { table: TableHandle }) {
  let sentence = "";
  if (table.offline) sentence = "No connection. Go on; what you do is kept here until it is back.";
  else if (table.held) sentence = `${table.held} Go on; what you do is kept here.`;
  else if (table.table?.changed && table.step && table.last !== "done")
    sentence = "The rest is planned anew on what is really on the card.";
  if (!sentence) return null;
  return (
    <Typography role="status" sx={{ fontSize: 20, px: 2, py: 1, bgcolor: greys.white }}>
      {sentence}
    </Typography>
  );
}

/** Where two devices say different things of one pass, and only there. */
export function Questions({ table }: { table: TableHandle }) {
  const asked = table.table?.questions[0];
  if (!asked) return null;
  return (
    <Asked name="Which is true?" question={`Two tables say how ${asked.element} was laid. Which is true?`}>
      {asked.ways.map((way) => (
        <Button
          key={way.key}
          variant="outlined"
          sx={{ minHeight: 64, fontSize: 20 }}
          onClick={() => {
            const of = asked.ways.filter((w) => w.key !== way.key).map((w) => w.key);
            table.log.happen({ kind: "undone", body: { of } });
          }}
        >
          {way.sentence}
        </Button>
      ))}
    </Asked>
  );
}
