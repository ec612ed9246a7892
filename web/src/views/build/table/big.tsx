/** Pieces of the table's panels, big enough for inky hands. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { Choices } from "../../../parts/Choices";
import { greys, signal } from "../../../theme/theme";

const PRESSED = { minHeight: 64, fontSize: 20, whiteSpace: "normal" } as const;

export const BIG = { ...PRESSED, justifyContent: "flex-start", textAlign: "left" } as const;

/** What other views show too, as large as all else at the table: words on the picture, waiting, and what went wrong. */
export const LARGER = {
  fontSize: 20,
  "& .MuiTypography-root": { fontSize: 20 },
  "& .MuiButton-root": PRESSED,
} as const;

/** A question over the step, with its answers as buttons. */
export function Asked({ name, question, children }: { name: string; question: string; children: ReactNode }) {
  return (
    <Box
      role="alertdialog"
      aria-label={name}
      sx={{
        display: "flex",
        gap: 1.5,
        flexWrap: "wrap",
        alignItems: "center",
        px: 2,
        py: 1.5,
        bgcolor: greys.white,
        borderBottom: `4px solid ${signal}`,
      }}
    >
      <Typography sx={{ fontSize: 22, fontWeight: 600, flex: "1 1 280px" }}>{question}</Typography>
      {children}
    </Box>
  );
}

export function PadChoice({
  pads,
  value,
  onChoose,
}: {
  pads: { ink: string; name: string }[];
  value: string;
  onChoose: (ink: string) => void;
}) {
  return (
    <Box sx={{ maxHeight: 220, overflowY: "auto" }}>
      <Choices
        apart
        label="Pad"
        value={value}
        options={pads.map((p) => [p.ink, p.name] as const)}
        onChoose={onChoose}
        button={{ minHeight: 64, fontSize: 20 }}
      />
    </Box>
  );
}

export function Label({ children }: { children: ReactNode }) {
  return <Typography sx={{ fontSize: 20, fontWeight: 600, mt: 0.5 }}>{children}</Typography>;
}
