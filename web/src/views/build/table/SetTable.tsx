/** Before the first step: what to fetch, by its place in the drawer; what is missing stops here, with what to do. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { Link } from "react-router";
import type { State, Table } from "../../../api/client";
import { Dab } from "../../../parts/Dab";
import { greys, signal } from "../../../theme/theme";
import { placeOf } from "../paths";

export function SetTable({ table, state, id }: { table: Table; state: State; id: number }) {
  const { pull } = table;
  const gone = pull.pads.filter((p) => p.missing);
  return (
    <Box sx={{ p: { xs: 2, md: 3 }, flex: 1, overflowY: "auto" }}>
      <Typography variant="h1" component="h2" sx={{ fontSize: { xs: 28, md: 36 } }}>
        Set the table
      </Typography>
      {gone.length > 0 && (
        <Box role="alert" sx={{ my: 2, p: 2, bgcolor: greys.white, borderLeft: `6px solid ${signal}` }}>
          <Typography sx={{ fontSize: 22, fontWeight: 600 }}>
            {gone.map((p) => `${p.name} ${p.missing}`).join("; ")}.
          </Typography>
          <Typography sx={{ fontSize: 20, my: 1 }}>
            Find a stand-in now, before anything is wet. A maker who has it beside her all the same may go on.
          </Typography>
          <Button
            component={Link}
            to={placeOf(state.build_id, id, "strata")}
            variant="outlined"
            sx={{ minHeight: 64, fontSize: 20 }}
          >
            Choose a stand-in
          </Button>
        </Box>
      )}
      <Box
        sx={{
          mt: 2,
          display: "grid",
          gap: 3,
          gridTemplateColumns: { xs: "1fr", md: "minmax(320px, 1.4fr) 1fr" },
          alignItems: "start",
        }}
      >
        <Part name={`Pads, ${pull.pads.length}`}>
          <Box
            component="ul"
            sx={{ display: "grid", gap: 1, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" } }}
          >
            {pull.pads.map((p) => (
              <Box
                component="li"
                key={p.ink}
                sx={{ display: "flex", gap: 1.5, alignItems: "center", fontSize: 20 }}
              >
                <Dab dabs={[p.colour]} card={state.stock_colour.hex} width={64} />
                <span>
                  {p.name}
                  <Box component="span" sx={{ display: "block", color: greys.quiet }}>
                    {p.missing ?? (p.place || "no place noted")}
                  </Box>
                </span>
              </Box>
            ))}
          </Box>
        </Part>
        <Box sx={{ display: "grid", gap: 2.5 }}>
          <Part name="Card">
            <Line>
              {pull.stock.count === 1 ? "One panel" : `${pull.stock.count} panels`} of {pull.stock.name}
            </Line>
          </Part>
          <Words name="Sheets and stamps" words={pull.sheets} />
          <Words name="Brushes" words={pull.brushes} />
          <Words name="To cover" words={pull.masks} />
          <Words name="Beside" words={[...pull.bottles, ...pull.rest]} />
        </Box>
      </Box>
    </Box>
  );
}

function Words({ name, words }: { name: string; words: string[] }) {
  if (!words.length) return null;
  return (
    <Part name={name}>
      <Box component="ul">
        {words.map((word) => (
          <li key={word}>
            <Line>{word}</Line>
          </li>
        ))}
      </Box>
    </Part>
  );
}

function Line({ children }: { children: ReactNode }) {
  return <Typography sx={{ fontSize: 20, lineHeight: 1.45 }}>{children}</Typography>;
}

function Part({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Box component="section" aria-label={name}>
      <Typography
        component="h3"
        sx={{ fontSize: 20, fontWeight: 640, mb: 1, borderBottom: `1px solid ${greys.line}` }}
      >
        {name}
      </Typography>
      {children}
    </Box>
  );
}
