/** The four corners of a panel in its photograph, shown by hand one after another; arrows move the last one. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { type KeyboardEvent, type PointerEvent, useState } from "react";
import { greys, signal } from "../../theme/theme";

const NAMES = ["top left", "top right", "bottom right", "bottom left"];

type Point = [number, number];

export function Corners({
  src,
  busy,
  onShown,
}: {
  src: string;
  busy: boolean;
  onShown: (corners: Point[]) => void;
}) {
  const [size, setSize] = useState<Point>([1, 1]);
  const [points, setPoints] = useState<Point[]>([]);
  const [w, h] = size;
  const press = (e: PointerEvent<HTMLDivElement>) => {
    if (points.length === 4) return;
    const box = e.currentTarget.getBoundingClientRect();
    setPoints([
      ...points,
      [((e.clientX - box.left) / box.width) * w, ((e.clientY - box.top) / box.height) * h],
    ]);
  };
  const nudge = (e: KeyboardEvent) => {
    const way: Record<string, Point> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, -1],
      ArrowDown: [0, 1],
    };
    const step = way[e.key];
    const last = points.at(-1);
    if (e.key === "Enter" && points.length < 4) {
      setPoints([...points, last ? [w - last[0], last[1]] : [w / 4, h / 4]]);
      e.preventDefault();
    } else if (step && last) {
      const by = e.shiftKey ? 25 : 3;
      setPoints([...points.slice(0, -1), [last[0] + step[0] * by, last[1] + step[1] * by]]);
      e.preventDefault();
    }
  };
  const next = NAMES[points.length];
  return (
    <Box sx={{ display: "grid", gap: 1 }}>
      <Typography role="status">
        {next
          ? `Press on the ${next} corner of the panel, as the finished card is looked at.`
          : "All four are shown. Read it by them, or show them anew."}
      </Typography>
      <Box
        role="application"
        tabIndex={0}
        aria-label="The photograph: press on the corners; Enter sets one, arrows move it"
        onPointerDown={press}
        onKeyDown={nudge}
        sx={{
          position: "relative",
          cursor: next ? "crosshair" : "default",
          lineHeight: 0,
          touchAction: "manipulation",
        }}
      >
        <Box
          component="img"
          onLoad={(e) => {
            const img = e.currentTarget as HTMLImageElement;
            setSize([img.naturalWidth || 1, img.naturalHeight || 1]);
          }}
          src={src}
          alt=""
          sx={{ width: "100%", display: "block" }}
          draggable={false}
        />
        {points.map((point, n) => {
          return (
            <Box
              key={NAMES[n]}
              aria-hidden="true"
              sx={{
                position: "absolute",
                left: `${(100 * point[0]) / w}%`,
                top: `${(100 * point[1]) / h}%`,
                width: 22,
                height: 22,
                m: "-11px",
                borderRadius: "50%",
                border: `2px solid ${signal}`,
                outline: `1px solid ${greys.white}`,
                pointerEvents: "none",
              }}
            />
          );
        })}
      </Box>
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button variant="contained" disabled={points.length < 4 || busy} onClick={() => onShown(points)}>
          Read it by these corners
        </Button>
        <Button variant="text" disabled={!points.length} onClick={() => setPoints([])}>
          Show them anew
        </Button>
      </Box>
    </Box>
  );
}
