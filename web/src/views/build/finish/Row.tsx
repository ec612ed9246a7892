/** A line of fields that belong together, with what takes them off. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";

interface RowProps {
  label?: string;
  /** How it is taken off, for what can be. */
  off?: { label: string; press: () => void };
  children: ReactNode;
}

export function Row({ label, off, children }: RowProps) {
  return (
    <Box {...(label ? { role: "group", "aria-label": label } : {})}>
      {label && (
        <Box sx={{ display: "flex", alignItems: "center", mb: 0.5 }}>
          <Typography variant="caption" component="p" sx={{ fontWeight: 600, flex: 1 }}>
            {label}
          </Typography>
          {off && (
            <Button variant="text" aria-label={off.label} onClick={off.press} sx={{ py: 0, minHeight: 28 }}>
              Without
            </Button>
          )}
        </Box>
      )}
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>{children}</Box>
    </Box>
  );
}
