/** Warnings with their reason, and a button for each mend; those that are left as they are, folded away. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Finding, Mend } from "../../../api/client";
import { Severity } from "../../../parts/Severity";

interface Props {
  findings: Finding[];
  onMend: (mend: Mend) => void;
  onLeave: (finding: Finding) => void;
}

const AT_ONCE = 4;
// warnings in sight before the rest is folded: what matters comes first

export function Warnings({ findings, onMend, onLeave }: Props) {
  const [all, setAll] = useState(false);
  const rest = findings.length - AT_ONCE;
  return (
    <Box component="ul" aria-label="Warnings" sx={{ display: "grid", gap: 1 }}>
      {(all || rest <= 1 ? findings : findings.slice(0, AT_ONCE)).map((f) => (
        <Paper
          component="li"
          variant={f.severity === "stop" || f.severity === "look" ? "warning" : "card"}
          sx={{ px: 1.5, py: 1 }}
          key={f.key}
          data-finding={f.code}
        >
          <Severity level={f.severity} />
          <Typography sx={{ fontWeight: 560, lineHeight: 1.35 }}>{f.sentence}</Typography>
          <Typography variant="caption" component="p" color="text.secondary" sx={{ m: 0 }}>
            {f.reason}
          </Typography>
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, mt: 0.75 }}>
            {f.mends.map((mend) => (
              <Button key={mend.label} variant="outlined" onClick={() => onMend(mend)}>
                {mend.label}
              </Button>
            ))}
            {f.severity !== "good" && (
              <Button variant="text" onClick={() => onLeave(f)}>
                I know, leave it
              </Button>
            )}
          </Box>
        </Paper>
      ))}
      {rest > 1 && (
        <Box component="li">
          <Button variant="text" aria-expanded={all} onClick={() => setAll(!all)}>
            {all ? "Fold the rest" : `${rest} more, of less weight`}
          </Button>
        </Box>
      )}
    </Box>
  );
}

/** What the maker knows and leaves: said once, and looked at again by a press. */
export function LeftAlone({
  findings,
  onLeave,
}: {
  findings: Finding[];
  onLeave: (finding: Finding) => void;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Box>
      <Button variant="text" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open
          ? "Fold away what you leave as it is"
          : `${findings.length} left as ${findings.length === 1 ? "it is" : "they are"}`}
      </Button>
      {open && (
        <Box component="ul" aria-label="Left as they are" sx={{ display: "grid", gap: 0.5 }}>
          {findings.map((f) => (
            <Paper
              component="li"
              variant="slip"
              key={f.key}
              sx={{ display: "flex", gap: 1, alignItems: "center" }}
            >
              <Typography variant="body2" sx={{ flex: 1 }}>
                {f.sentence}
              </Typography>
              <Button variant="text" onClick={() => onLeave(f)}>
                Look again
              </Button>
            </Paper>
          ))}
        </Box>
      )}
    </Box>
  );
}
