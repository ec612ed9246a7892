/** The openings drawn over the photograph they were found in, and the four corners of the sheet to drag. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useRef, useState } from "react";
import type { TracedSheet } from "../../../api/client";
import type { Units } from "../../../parts/lengths";
import { greys, signal } from "../../../theme/theme";
import type { Retouch } from "./arranged";
import { Level } from "./Level";
import { CORNERS, Doubtful, doubtfulOf, Lens, middleOf, Named } from "./OnPhotoParts";
import { answered, BlindedPlaces, MaybeOpenings, Places } from "./MaybeOpenings";
import { Outline } from "./Outline";
import { placeOf, Point } from "./Point";
import { Retouching, POINTS } from "./Retouching";
import { NAMES, type Points, RulerAsked, RulerOnPhoto } from "./Ruler";
import { type Fit, useMend } from "./useMend";

interface Props {
  sheet: TracedSheet;
  onCorners: (corners: number[][]) => void;
  /** Leaves an opening out, or takes it back; not there where nothing was found. */
  onDrop?: (index: number) => void;
  /** Other edges: how open counts as open. */
  onLevel?: (level: number) => void;
  /** All retouches of this sheet, in their order. */
  onRetouches?: (retouches: Retouch[]) => void;
  onFit?: Fit;
  /** Two points (px) that are so many mm apart. */
  onMeasured?: (points: Points, apart: number) => void;
  units?: Units;
  busy?: boolean;
  /** How high it may get on the screen. */
  high?: string;
}

export function OnPhoto(props: Props) {
  const {
    sheet,
    onCorners,
    onDrop,
    onLevel,
    onRetouches,
    onFit,
    onMeasured,
    units = "in",
    busy = false,
    high = "74dvh",
  } = props;
  const [width = 1, height = 1] = sheet.photo_size;
  const [corners, setCorners] = useState(sheet.corners ?? []);
  // the corner that is looked at closely
  const [looked, setLooked] = useState<number | null>(null);
  const moved = JSON.stringify(corners) !== JSON.stringify(sheet.corners);
  // a doubtful opening that is looked at closely
  const [asked, setAsked] = useState<string | null>(null);
  const picture = useRef<SVGSVGElement>(null);
  const mend = useMend(corners, [width, height], onFit);
  const { points, kind, drawing } = mend;
  const [pointed, setPointed] = useState<number | null>(null);
  const close =
    points && pointed !== null
      ? points[pointed]
      : looked !== null
        ? corners[looked]
        : asked !== null && !points
          ? middleOf(asked)
          : undefined;
  const answer = (kind: "take" | "leave") => (place: string) =>
    onRetouches?.([...sheet.retouches, answered(kind, place)]);
  const turn = (by: number) => setCorners([...corners.slice(by), ...corners.slice(0, by)]);

  return (
    <Box>
      <svg
        ref={picture}
        viewBox={`0 0 ${width} ${height}`}
        role="group"
        aria-label="The photograph with the openings that were found"
        onClick={(event) => {
          const at = drawing ? placeOf(event) : null;
          if (at) mend.put(at);
        }}
        style={{
          width: "100%",
          maxHeight: high,
          display: "block",
          background: "#bdbdbd",
          // one finger puts and drags points; two look closer
          touchAction: "pinch-zoom",
        }}
      >
        <image href={sheet.photo ?? undefined} width={width} height={height} />
        <g pointerEvents={drawing ? "none" : undefined}>
          {!moved && (
            <path
              d={sheet.openings.join("")}
              fill="none"
              stroke={greys.white}
              strokeOpacity={0.75}
              strokeWidth={width / 200}
              pointerEvents="none"
            />
          )}
          {!moved &&
            sheet.openings.map((path, i) => {
              if (!path) return null;
              const out = sheet.dropped.includes(i);
              const doubtful = sheet.doubtful.includes(i);
              return (
                <path
                  key={i}
                  d={path}
                  fill={out ? "#00000055" : "#ffffff00"}
                  stroke={out ? "#555" : signal}
                  strokeWidth={(doubtful && !out ? 2.2 : 1) * (width / 420)}
                  strokeDasharray={out ? "6 4" : doubtful ? `${width / 90} ${width / 200}` : undefined}
                  style={{ cursor: "pointer" }}
                  onClick={() => onDrop?.(i)}
                >
                  <title>
                    {out ? "Left out. Press to take it back." : "An opening. Press to leave it out."}
                  </title>
                </path>
              );
            })}
          {!moved && <Places sheet={sheet} width={width} onTake={onRetouches && answer("take")} />}
          <polygon
            points={corners.map((c) => c.join(",")).join(" ")}
            fill="none"
            stroke={greys.white}
            strokeOpacity={0.7}
            strokeWidth={width / 200}
            pointerEvents="none"
          />
          <polygon
            points={corners.map((c) => c.join(",")).join(" ")}
            fill="none"
            stroke={signal}
            strokeWidth={width / 400}
            strokeDasharray="10 6"
            pointerEvents="none"
          />
          {corners.map((corner, i) => (
            <Point
              key={CORNERS[i]}
              at={corner}
              size={[width, height]}
              name={`${CORNERS[i]} corner`}
              thick={[1 / 45, 1 / 250]}
              onMove={(at) => setCorners(corners.map((c, n) => (n === i ? at : c)))}
              onLook={(on) => setLooked(on ? i : null)}
            />
          ))}
          {corners.map((corner, i) => (
            <Named
              key={`${CORNERS[i]} named`}
              name={CORNERS[i] ?? ""}
              at={corner}
              corners={corners}
              size={[width, height]}
            />
          ))}
        </g>
        {points &&
          (drawing ? (
            <Outline
              points={points}
              size={[width, height]}
              onMove={mend.fitted ? undefined : mend.move}
              onLook={setPointed}
            />
          ) : (
            <RulerOnPhoto
              points={points as Points}
              width={width}
              height={height}
              onMove={mend.move}
              onLook={setPointed}
              names={kind && kind !== "draw" ? POINTS[kind] : NAMES}
            />
          ))}
        {close && <Lens photo={sheet.photo} at={close} width={width} height={height} />}
      </svg>
      <Box sx={{ display: "flex", gap: 1.5, mt: 1, alignItems: "center", flexWrap: "wrap" }}>
        {moved ? (
          <>
            <Button variant="contained" onClick={() => onCorners(corners)}>
              Read again from these corners
            </Button>
            <Button variant="text" onClick={() => setCorners(sheet.corners ?? [])}>
              Put them back
            </Button>
          </>
        ) : points ? null : (
          <Typography variant="body2">
            Drag a corner if it does not sit on the sheet’s.
            {sheet.openings.length > 0 && " Press an opening to leave out a speck."}
          </Typography>
        )}
        <Button variant="text" onClick={() => turn(2)}>
          The other way up
        </Button>
        <Button variant="text" onClick={() => turn(1)}>
          Next corner is the top left
        </Button>
        {onMeasured && !points && !moved && (
          <Button variant="text" onClick={mend.measure}>
            Size by two points
          </Button>
        )}
      </Box>
      {onRetouches && !moved && (kind || !points) && (
        <Retouching
          mend={mend}
          some={sheet.openings.some((path) => path)}
          retouches={sheet.retouches}
          busy={busy}
          onDone={() => {
            if (kind && points) onRetouches([...sheet.retouches, { kind, points }]);
            mend.stop();
          }}
          onUndo={() => onRetouches(sheet.retouches.slice(0, -1))}
        />
      )}
      {onMeasured && points && !kind && (
        <RulerAsked
          units={units}
          onMeasured={(apart) => onMeasured(points as Points, apart)}
          onStop={mend.stop}
        />
      )}
      {onLevel && !moved && !points && !drawing && (
        <Level level={sheet.level} busy={busy} onLevel={onLevel} />
      )}
      {onDrop && !moved && doubtfulOf(sheet).length > 0 && (
        <Doubtful sheet={sheet} onAsk={setAsked} onDrop={onDrop} />
      )}
      {onRetouches && !moved && sheet.places.length > 0 && (
        <MaybeOpenings
          places={sheet.places}
          busy={busy}
          onAsk={setAsked}
          onLeave={answer("leave")}
          onTake={answer("take")}
        />
      )}
      {onRetouches && !moved && !points && sheet.blinded.length > 0 && (
        <BlindedPlaces
          blinded={sheet.blinded}
          busy={busy}
          onAsk={setAsked}
          onLeave={answer("leave")}
          onDraw={() => {
            mend.begin("draw");
            // its button stands far below
            picture.current?.scrollIntoView?.({ block: "nearest" });
          }}
        />
      )}
    </Box>
  );
}
