/** The log: every card that was made at the table, year by year, found by any word that is in it. */
import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { memo, useDeferredValue, useEffect, useState } from "react";
import { Link } from "react-router";
import { api, data, type LessonFound, type RecordSummary } from "../../api/client";
import { useLesson } from "../../api/hooks";
import { keys } from "../../api/keys";
import { Busy } from "../../parts/Busy";
import { loadingAt } from "../../parts/pictures";
import { Trouble } from "../../parts/Trouble";
import { greys } from "../../theme/theme";
import { byYear, cards, day, listed, MONTHS, months, photograph, recordPicture } from "./words";

// of hundreds only those near the screen are laid out
const NEAR = { contentVisibility: "auto", containIntrinsicSize: "auto 350px" } as const;

export function Component() {
  const [words, setWords] = useState("");
  const wanted = useDeferredValue(words.trim());
  const log = useQuery({
    queryKey: keys.found(wanted),
    queryFn: () => data(api.GET("/api/records", { params: { query: wanted ? { q: wanted } : {} } })),
    placeholderData: (before) => before,
  });
  useEffect(() => {
    document.title = "Log · Anastrata";
  }, []);
  const lesson = useLesson();
  // what it says stands above the cards: they come together, so that none jumps
  // hundreds of cards are drawn in slices, and not at all where another letter comes before
  const records = useDeferredValue(lesson.isPending && !lesson.failureCount ? undefined : log.data);
  if (log.error) return <Trouble alone error={log.error} again={() => void log.refetch()} />;
  if (!records) return <Busy what="Opening the log" />;
  return (
    <Box sx={{ p: { xs: 2, sm: 4 }, maxWidth: 1240, width: "100%", mx: "auto" }}>
      <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap", alignItems: "center", mb: 2 }}>
        <Typography variant="h1" sx={{ flex: "1 1 200px" }}>
          Log
        </Typography>
        <TextField
          label="Find a card"
          placeholder="a pad, a person, a month…"
          type="search"
          value={words}
          onChange={(e) => setWords(e.target.value)}
          sx={{ width: { xs: "100%", sm: 320 } }}
        />
      </Box>
      <Learned lesson={lesson.data} />
      {records.length === 0 && (
        <Typography role="status">
          {wanted
            ? "No card that was made has all of that in it."
            : "Nothing yet. A card that is brought to its end at the table is written down here: what was laid, when, and what came out otherwise than planned."}
        </Typography>
      )}
      <Years records={records} onFind={setWords} />
    </Box>
  );
}

/** Year by year; not drawn again with every letter that is typed above it. */
const Years = memo(function Years({
  records,
  onFind,
}: {
  records: RecordSummary[];
  onFind: (words: string) => void;
}) {
  const places = new Map(records.map((record, place) => [record, place]));
  return (
    <>
      {byYear(records).map(([year, made]) => (
        <Box component="section" key={year} aria-label={String(year)} sx={{ mb: 3 }}>
          <Typography variant="h2">{year}</Typography>
          <Year year={year} made={made} onFind={onFind} />
          <Box
            component="ul"
            sx={{ display: "grid", gap: 2, gridTemplateColumns: "repeat(auto-fill, minmax(210px, 1fr))" }}
          >
            {made.map((record) => (
              <Box component="li" key={record.id} sx={NEAR}>
                <Made record={record} place={places.get(record) ?? 0} />
              </Box>
            ))}
          </Box>
        </Box>
      ))}
    </>
  );
});

/** The way to what photographed cards say, once one was read. */
function Learned({ lesson }: { lesson: LessonFound | undefined }) {
  const count = lesson?.readable ?? 0;
  const inForce = lesson?.in_force ?? 0;
  if (!count && !inForce) return null;
  return (
    <Typography sx={{ mb: 2 }}>
      {inForce > 0
        ? `${inForce} pads are predicted as they come out in your hands. `
        : `${cards(count)} ${count === 1 ? "was" : "were"} photographed. `}
      <Link to="/log/learn">What they say of your pads and hands</Link>
    </Typography>
  );
}

/** The months of a year, each as high as cards were made in it; pressed, it is looked for. */
function Year({
  year,
  made,
  onFind,
}: {
  year: number;
  made: RecordSummary[];
  onFind: (words: string) => void;
}) {
  const counts = months(made);
  const most = Math.max(1, ...counts);
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: "repeat(12, 1fr)",
        gap: 0.5,
        alignItems: "end",
        mb: 1.5,
        mt: 0.5,
      }}
    >
      {MONTHS.map((month, n) => {
        const count = counts[n] ?? 0;
        return (
          <ButtonBase
            key={month}
            disabled={!count}
            onClick={() => onFind(`${month.toLowerCase()} ${year}`)}
            aria-label={`${month.slice(0, 3)} ${year}: ${cards(count)}`}
            sx={{ display: "block", font: "inherit", textAlign: "left" }}
          >
            <Box sx={{ height: 4 + (28 * count) / most, bgcolor: count ? greys.ink : greys.line }} />
            <Typography variant="caption" sx={{ color: count ? greys.ink : greys.quiet }}>
              {month.slice(0, 3)}
            </Typography>
          </ButtonBase>
        );
      })}
    </Box>
  );
}

/** Colours side by side, in one element: twenty to a card made ten thousand of a log. */
const stripes = (colours: string[]) =>
  `linear-gradient(90deg, ${colours
    .map((hex, n) => `${hex} ${(100 * n) / colours.length}% ${(100 * (n + 1)) / colours.length}%`)
    .join(", ")})`;

function Made({ record, place }: { record: RecordSummary; place: number }) {
  const [first] = record.photographs;
  return (
    <Box
      component={Link}
      to={`/log/${record.id}`}
      sx={{
        display: "block",
        color: greys.ink,
        textDecoration: "none",
        bgcolor: greys.sheet,
        border: `1px solid ${greys.line}`,
        p: 1,
      }}
    >
      <Box
        component="img"
        loading={loadingAt(place)}
        src={first === undefined ? recordPicture(record.id) : listed(photograph(record.id, first))}
        alt=""
        sx={{
          width: "100%",
          aspectRatio: "4 / 5",
          objectFit: "contain",
          bgcolor: greys.ground,
          display: "block",
        }}
      />
      <Box aria-hidden="true" sx={{ height: 8, my: 0.75 }} style={{ background: stripes(record.colours) }} />
      <Typography sx={{ fontWeight: 640 }}>{record.name}</Typography>
      <Typography variant="caption" component="p">
        {[record.person && `for ${record.person}`, day(record.made), cards(record.cards), record.stock]
          .filter(Boolean)
          .join(", ")}
      </Typography>
    </Box>
  );
}
