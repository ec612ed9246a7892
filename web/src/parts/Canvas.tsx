/** The canvas on which a painter paints; says to whoever asks which moment of which picture it shows. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { keyframes } from "@mui/material/styles";
import { useEffect, useRef, useSyncExternalStore } from "react";
import type { Painter } from "../painting/Painter";

const unseen = keyframes`from, to { visibility: hidden; }`;
// what is pointed at on a picture lies over the canvas
const ABOVE = { position: "absolute", inset: "6% 8% auto", zIndex: 1, display: "grid", placeItems: "center" };
// what is painted stays to be seen
const BELOW = { ...ABOVE, inset: "auto 8% 3%" };
const SAID = { p: 1.5, borderRadius: 1, bgcolor: "background.paper", display: "grid", gap: 1 };
// most pictures are there before it can be read
const ON_ITS_WAY = { ...SAID, animation: `${unseen} 0.6s` };

interface Props {
  painter: Painter;
  picture: string;
  after?: number | undefined;
  wet?: boolean;
  alt: string;
  onShown?: (() => void) | undefined;
}

export function Canvas({ painter, picture, after, wet = false, alt, onShown }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const painted = useSyncExternalStore(painter.subscribe, painter.snapshot);
  const moment = after ?? null;
  useEffect(() => {
    void painter.want({ picture, after: moment, wet });
  }, [painter, picture, moment, wet]);
  useEffect(() => {
    // painted at once, outside React: the colours are there before the screen is drawn again
    const draw = (whole: boolean) => {
      if (canvas.current && painter.paint(canvas.current, whole)) onShown?.();
    };
    draw(true);
    let turn = painter.snapshot().turn;
    return painter.subscribe(() => {
      const now = painter.snapshot();
      if (now.turn !== turn) {
        const following = now.turn === turn + 1;
        turn = now.turn;
        draw(!following);
      }
    });
  }, [painter, onShown]);
  return (
    <>
      <div
        role="img"
        aria-label={alt}
        data-picture={painted.picture ?? ""}
        data-after={painted.after ?? "all"}
        data-wet={painted.wet}
        data-trying={painted.trying}
        style={{ position: "absolute", inset: 0 }}
      >
        <canvas ref={canvas} aria-hidden="true" style={{ display: "block", width: "100%", height: "100%" }} />
      </div>
      {(painted.error || !painted.picture) && (
        <Box sx={painted.picture ? BELOW : ABOVE}>
          {painted.error ? (
            <Box role="alert" sx={SAID}>
              {painted.picture ? `${painted.error} This is still the picture from before.` : painted.error}
              <Button variant="outlined" onClick={() => painter.again()}>
                Ask for the picture again
              </Button>
            </Box>
          ) : (
            <Box role="status" sx={ON_ITS_WAY}>
              The card is being coloured …
            </Box>
          )}
        </Box>
      )}
    </>
  );
}
