/** The whole work as one band of time: inks in their colours, waits hatched, care grey. */
import Box from "@mui/material/Box";
import Paper from "@mui/material/Paper";
import type { Rung, Step } from "../../../api/client";
import { minutes } from "../../../parts/lengths";
import { greys } from "../../../theme/theme";

interface Props {
  steps: Step[];
  rungs: Map<string, Rung>;
  at: number;
  onPick: (index: number) => void;
}

const HEIGHT = 40;

export function TimeLine({ steps, rungs, at, onPick }: Props) {
  const total = Math.max(...steps.map((s) => s.starts + s.minutes)) || 1;
  const quarter = total > 120 ? 30 : total > 40 ? 15 : 5;
  const ticks = Array.from({ length: Math.floor(total / quarter) + 1 }, (_, i) => i * quarter);
  return (
    <Paper variant="card" sx={{ p: 1.5 }}>
      <svg
        viewBox={`0 0 1000 ${HEIGHT + 18}`}
        width="100%"
        height={HEIGHT + 18}
        preserveAspectRatio="none"
        role="img"
        aria-label={`Time line: ${minutes(total)} in ${steps.length} steps`}
        style={{ display: "block" }}
      >
        <defs>
          <pattern id="wait" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="6" height="6" fill={greys.white} />
            <path d="M0 0v6" stroke={greys.ink} strokeWidth="1.500" />
          </pattern>
        </defs>
        {steps.map((step, i) => {
          const x = (step.starts / total) * 1000;
          const width = Math.max(0.8, (step.minutes / total) * 1000);
          const rung = step.pass_key ? rungs.get(step.pass_key) : undefined;
          const fill = step.kind === "wait" ? "url(#wait)" : (rung?.alone.hex ?? "#8d8d8d");
          const top = rung || step.kind === "wait" ? 0 : HEIGHT * 0.45;
          return (
            <rect
              key={i}
              x={x}
              y={top}
              width={width}
              height={HEIGHT - top}
              fill={fill}
              stroke={i === at ? greys.ink : greys.white}
              strokeWidth={i === at ? 2.5 : 0.5}
              onClick={() => onPick(i)}
              style={{ cursor: "pointer" }}
            >
              <title>{step.sentence}</title>
            </rect>
          );
        })}
        {ticks.map((t) => (
          <path key={t} d={`M${(t / total) * 1000} ${HEIGHT}v6`} stroke={greys.quiet} />
        ))}
      </svg>
      <Box
        aria-hidden="true"
        sx={{ position: "relative", height: 16, fontSize: 12, color: greys.quiet, mt: "-14px" }}
      >
        {ticks.map((t) => (
          <Box
            component="span"
            key={t}
            sx={{
              position: "absolute",
              left: `${(t / total) * 100}%`,
              // the last one may stand at the very end
              transform: t === 0 ? "none" : t / total > 0.96 ? "translateX(-100%)" : "translateX(-50%)",
              whiteSpace: "nowrap",
            }}
          >
            {t} min
          </Box>
        ))}
      </Box>
    </Paper>
  );
}
