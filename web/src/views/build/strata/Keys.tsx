/** The keys of this screen, from the same list that performs them. */
import Box from "@mui/material/Box";
import { Fragment } from "react";
import { greys } from "../../../theme/theme";
import { COMMANDS, printed } from "./commands";

export function Keys() {
  return (
    <Box component="details" sx={{ fontSize: 13, color: greys.quiet }}>
      <Box component="summary" sx={{ cursor: "pointer", py: 0.5 }}>
        Keys
      </Box>
      <Box
        component="dl"
        sx={{ display: "grid", gridTemplateColumns: "auto 1fr auto 1fr", gap: "4px 12px", m: 0 }}
      >
        {COMMANDS.map((c) => (
          <Fragment key={c.id}>
            <Box component="dt" sx={{ fontWeight: 640, color: greys.ink }}>
              {printed(c.keys)}
            </Box>
            <Box component="dd" sx={{ m: 0 }}>
              {c.label}
            </Box>
          </Fragment>
        ))}
        <Box component="dt" sx={{ fontWeight: 640, color: greys.ink }}>
          Ctrl Z
        </Box>
        <Box component="dd" sx={{ m: 0 }}>
          Undo; with Shift, redo
        </Box>
      </Box>
    </Box>
  );
}
