/** The canvas on which a painter paints; says to whoever asks which moment of which picture it shows. */
import { useEffect, useRef, useSyncExternalStore } from "react";
import type { Painter } from "../painting/Painter";

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
      {painted.error && !painted.picture && (
        <p role="alert" style={{ position: "absolute", inset: "40% 8%", margin: 0, textAlign: "center" }}>
          {painted.error} It is asked for again at the next change.
        </p>
      )}
    </>
  );
}
