/** Severity as a shape and a word, never as colour alone. */
import Box from "@mui/material/Box";
import type { Finding } from "../api/client";
import { greys } from "../theme/theme";

const WORDS: Record<Finding["severity"], string> = {
  stop: "Mend this first",
  look: "Look at this",
  note: "To decide",
  good: "Well done",
};

export function Severity({ level, word = true }: { level: Finding["severity"]; word?: boolean }) {
  return (
    <Box
      component="span"
      sx={{
        display: "inline-flex",
        alignItems: "center",
        gap: 0.75,
        fontWeight: 640,
        fontSize: 13,
        whiteSpace: "nowrap",
      }}
    >
      <svg
        width="16"
        height="16"
        viewBox="0 0 16 16"
        role={word ? undefined : "img"}
        aria-hidden={word ? true : undefined}
        aria-label={word ? undefined : WORDS[level]}
      >
        {level === "stop" && <path d="M1 1h14v14H1z" fill={greys.ink} />}
        {level === "look" && <path d="M8 1 15.500 14.500H.5z" fill={greys.ink} />}
        {level === "note" && <circle cx="8" cy="8" r="6" fill="none" stroke={greys.ink} strokeWidth="2" />}
        {level === "good" && <path d="M2 8.500l4 4 8-9" fill="none" stroke={greys.ink} strokeWidth="2" />}
        {(level === "stop" || level === "look") && (
          <path
            d={level === "stop" ? "M4.500 4.500l7 7m0-7l-7 7" : "M8 6v4.200M8 11.600v1.600"}
            stroke={greys.white}
            strokeWidth="1.800"
          />
        )}
      </svg>
      {word && WORDS[level]}
    </Box>
  );
}
