/** What photographed cards say of pads and hands: found, shown on pads and builds first, kept or let go. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import { Link } from "react-router";
import { useAct } from "../../api/acts";
import { api, data, type LessonFound } from "../../api/client";
import { useLesson } from "../../api/hooks";
import { underWay } from "../../api/jobs";
import { keys } from "../../api/keys";
import { Busy } from "../../parts/Busy";
import { ColourPair } from "../../parts/ColourPair";
import { JobProgress } from "../../parts/JobProgress";
import { Trouble } from "../../parts/Trouble";
import { greys, signal } from "../../theme/theme";
import { placeOf } from "../build/paths";
import { useDrawerAct } from "../inks/drawerAct";
import { cards, handSaid, strengthSaid } from "./words";

type Said = NonNullable<LessonFound["said"]>;

export function Component() {
  const lesson = useLesson();
  useEffect(() => {
    document.title = "What your cards say · Anastrata";
  }, []);
  if (lesson.error) return <Trouble alone error={lesson.error} again={() => void lesson.refetch()} />;
  if (!lesson.data) return <Busy what="Looking it up" />;
  return <Lesson lesson={lesson.data} />;
}

function Lesson({ lesson }: { lesson: LessonFound }) {
  const find = useAct(() => data(api.POST("/api/lesson")), {
    changes: [keys.lesson],
    otherwise: "It could not be found out.",
  });
  const keep = useDrawerAct(() => data(api.POST("/api/lesson/keep")), {
    said: () => "Builds are predicted by it from now on.",
    otherwise: "It could not be kept.",
  });
  const forget = useDrawerAct(() => data(api.POST("/api/lesson/forget")), {
    said: () => "Builds are predicted by the swatches alone.",
    otherwise: "It could not be taken off.",
  });
  const busy = underWay(lesson.job) || find.isPending || keep.isPending || forget.isPending;
  return (
    <Box sx={{ p: { xs: 2, sm: 4 }, maxWidth: 1240, width: "100%", mx: "auto" }}>
      <Link to="/log">Log</Link>
      <Typography variant="h1">What your cards say of pads and hands</Typography>
      <Typography sx={{ maxWidth: 680, mb: 2 }}>
        From photographs of finished cards: which pads come out stronger or another way than their swatches,
        and what your hands lay. Readings in the drawer stay as they are; what is learned lies over them, and
        can be taken off.
      </Typography>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center", mb: 2 }}>
        <Button
          variant={lesson.said ? "outlined" : "contained"}
          disabled={busy || !lesson.readable}
          onClick={() => find.mutate()}
        >
          {lesson.said ? "Ask them again" : `Ask ${cards(lesson.readable)}`}
        </Button>
        {lesson.said && (
          <Button variant="contained" disabled={busy || lesson.kept} onClick={() => keep.mutate()}>
            {lesson.kept ? "Kept" : "Predict by it from now on"}
          </Button>
        )}
        {lesson.in_force > 0 && (
          <Button variant="text" disabled={busy} onClick={() => forget.mutate()}>
            Take off what was learned
          </Button>
        )}
      </Box>
      {!lesson.readable && (
        <Typography role="status">
          No photograph was read yet. Open a card in the log, add a photograph of it, and come back.
        </Typography>
      )}
      <JobProgress job={lesson.job} what="Comparing" />
      {lesson.job?.state === "failed" && (
        <Typography role="alert" sx={{ borderLeft: `4px solid ${signal}`, pl: 1, mb: 2 }}>
          {lesson.job?.sentence}
        </Typography>
      )}
      {lesson.said && <Found said={lesson.said} kept={lesson.kept} />}
    </Box>
  );
}

function Found({ said, kept }: { said: Said; kept: boolean }) {
  const hands = Object.entries(said.hands);
  return (
    <Box
      sx={{ display: "grid", gap: 3, gridTemplateColumns: { xs: "1fr", md: "1fr 1fr" }, alignItems: "start" }}
    >
      <Typography role="status" sx={{ gridColumn: "1 / -1" }}>
        {cards(said.cards)} came out {said.before.toFixed(1)} away from what the swatches predict (CIEDE2000,
        in the mean); with this they are {said.after.toFixed(1)} away.
        {kept ? " Builds are predicted by it now; undo in the drawer takes it back." : ""}
        {hands.length > 0 && ` ${hands.map(([hand, share]) => handSaid(hand, share)).join(" ")}`}
      </Typography>
      {said.passed_over.map((why) => (
        <Typography key={why} variant="body2" sx={{ gridColumn: "1 / -1" }}>
          {why} It was passed over.
        </Typography>
      ))}
      <Box component="section" aria-label="Pads">
        <Typography variant="h2">Pads, one coat on white</Typography>
        <Box component="ul" sx={{ display: "grid", gap: 0.75, mt: 1 }}>
          {said.pads.map((pad) => (
            <Moved
              key={pad.ink}
              before={pad.before}
              after={pad.after}
              name={pad.name}
              words={pad.words}
              more={`${strengthSaid(pad.strength)}, by ${cards(pad.cards)}; ${pad.de00.toFixed(1)} apart`}
            />
          ))}
        </Box>
        {said.pads.length === 0 && (
          <Typography>No pad moves: they come out as their swatches say.</Typography>
        )}
      </Box>
      <Box component="section" aria-label="Builds">
        <Typography variant="h2">What would move in your builds</Typography>
        {said.builds.length === 0 && <Typography>Nothing that could be seen.</Typography>}
        {said.builds.map((build) => (
          <Box key={build.colouring} sx={{ mt: 1.5 }}>
            <Link to={placeOf(build.build, build.colouring, "strata")}>{build.name}</Link>
            <Box component="ul" sx={{ display: "grid", gap: 0.75, mt: 0.5 }}>
              {build.elements.map((e) => (
                <Moved
                  key={e.element}
                  before={e.before}
                  after={e.after}
                  name={e.element}
                  words={e.words}
                  more={`${e.de00.toFixed(1)} apart`}
                />
              ))}
            </Box>
          </Box>
        ))}
      </Box>
    </Box>
  );
}

function Moved(props: { before: string; after: string; name: string; words: string; more: string }) {
  return (
    <Box
      component="li"
      sx={{ display: "grid", gridTemplateColumns: "76px 1fr", gap: 1.25, alignItems: "center" }}
    >
      <ColourPair before={props.before} after={props.after} />
      <Typography>
        {props.name}: {props.words}{" "}
        <Typography component="span" variant="caption" sx={{ color: greys.quiet }}>
          {props.more}
        </Typography>
      </Typography>
    </Box>
  );
}
