/** The core box: every element's core side by side, to pick from and to compare. */
import Box from "@mui/material/Box";
import Paper from "@mui/material/Paper";
import ButtonBase from "@mui/material/ButtonBase";
import type { Element, Finding } from "../../../api/client";
import { MiniCore } from "../../../parts/MiniCore";
import { Severity } from "../../../parts/Severity";
import { greys } from "../../../theme/theme";

interface Props {
  elements: Element[];
  card: string;
  findings: Finding[];
  chosen: string;
  onChoose: (name: string) => void;
  onHover: (name: string | null) => void;
}

/** The element's own name; of what thing it is part stands below it. */
const own = (name: string) => name.split(": ").pop() ?? name;

export function CoreBox({ elements, card, findings, chosen, onChoose, onHover }: Props) {
  return (
    <Paper
      variant="tray"
      role="group"
      aria-label="Elements"
      sx={{
        display: "grid",
        gridTemplateColumns: "repeat(auto-fit, minmax(64px, 1fr))",
        gap: 0.5,
        p: 0.75,
      }}
    >
      {elements.map((element) => {
        const said = findings.filter(
          (f) => f.elements.includes(element.name) && !f.left && f.severity !== "good",
        );
        const worst = said.find((f) => f.severity !== "note") ?? said[0];
        return (
          <ButtonBase
            key={element.name}
            aria-pressed={chosen === element.name}
            title={element.name}
            onClick={() => onChoose(element.name)}
            onPointerEnter={() => onHover(element.name)}
            onPointerLeave={() => onHover(null)}
            sx={{
              display: "flex",
              flexDirection: "column",
              justifyContent: "flex-start",
              gap: 0.25,
              p: 0.5,
              borderRadius: 0.75,
              bgcolor: chosen === element.name ? greys.white : "transparent",
              boxShadow: chosen === element.name ? `inset 0 -3px 0 ${greys.ink}` : "none",
            }}
          >
            <Box sx={{ position: "relative" }}>
              <MiniCore element={element} card={card} />
              {worst && (
                <Box sx={{ position: "absolute", right: -12, top: -2 }}>
                  <Severity level={worst.severity} word={false} />
                </Box>
              )}
            </Box>
            <Box
              component="span"
              sx={{
                fontSize: 12,
                lineHeight: 1.15,
                textAlign: "center",
                fontWeight: chosen === element.name ? 660 : 450,
              }}
            >
              {own(element.name)}
              {element.name.includes(": ") && (
                <Box
                  component="span"
                  sx={{
                    display: "block",
                    fontSize: 11,
                    color: greys.quiet,
                    overflow: "hidden",
                    textOverflow: "ellipsis",
                    whiteSpace: "nowrap",
                    maxWidth: 72,
                  }}
                >
                  {element.name.split(": ")[0]}
                </Box>
              )}
            </Box>
          </ButtonBase>
        );
      })}
    </Paper>
  );
}
