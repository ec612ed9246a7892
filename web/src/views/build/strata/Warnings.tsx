/** Warnings with their reason, and a button for each mend. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Finding, Mend } from "../../../api/client";
import { Severity } from "../../../parts/Severity";
import { greys } from "../../../theme/theme";

export function Warnings({ findings, onMend }: { findings: Finding[]; onMend: (mend: Mend) => void }) {
  return (
    <Box component="ul" aria-label="Warnings" sx={{ listStyle: "none", p: 0, m: 0, display: "grid", gap: 1 }}>
      {findings.map((f) => (
        <Box
          component="li"
          key={`${f.code}-${f.passes.join("-")}-${f.sheet}`}
          sx={{
            bgcolor: greys.sheet,
            border: `1px solid ${f.severity === "note" ? greys.line : greys.ink}`,
            borderRadius: 1,
            px: 1.5,
            py: 1,
          }}
        >
          <Severity level={f.severity} />
          <Typography sx={{ fontWeight: 560, lineHeight: 1.35 }}>{f.sentence}</Typography>
          <Typography variant="caption" component="p" sx={{ color: greys.quiet, m: 0 }}>
            {f.reason}
          </Typography>
          {f.mends.length > 0 && (
            <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, mt: 0.75 }}>
              {f.mends.map((mend) => (
                <Button key={mend.label} variant="outlined" onClick={() => onMend(mend)}>
                  {mend.label}
                </Button>
              ))}
            </Box>
          )}
        </Box>
      ))}
    </Box>
  );
}
