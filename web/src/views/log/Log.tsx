/** The log: every card that was made at the table, month by month, found by any word that is in it. */
import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useEffect, useState } from "react";
import { Link } from "react-router";
import { api, data, type RecordSummary } from "../../api/client";
import { keys } from "../../api/keys";
import { Busy } from "../../parts/Busy";
import { Trouble } from "../../parts/Trouble";
import { greys } from "../../theme/theme";
import { byMonth, cards, day, photograph, recordPicture } from "./words";

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
  if (log.isPending) return <Busy what="Opening the log" />;
  if (log.error) return <Trouble error={log.error} again={() => void log.refetch()} />;
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
      {log.data.length === 0 && (
        <Typography role="status">
          {wanted
            ? "No card that was made has all of that in it."
            : "Nothing yet. A card that is brought to its end at the table is written down here: what was laid, when, and what came out otherwise than planned."}
        </Typography>
      )}
      {byMonth(log.data).map(([month, made]) => (
        <Box component="section" key={month} aria-label={month} sx={{ mb: 3 }}>
          <Typography variant="h2" sx={{ mb: 1, pb: 0.5, borderBottom: `1px solid ${greys.line}` }}>
            {month}
          </Typography>
          <Box
            component="ul"
            sx={{ display: "grid", gap: 2, gridTemplateColumns: "repeat(auto-fill, minmax(210px, 1fr))" }}
          >
            {made.map((record) => (
              <li key={record.id}>
                <Made record={record} />
              </li>
            ))}
          </Box>
        </Box>
      ))}
    </Box>
  );
}

function Made({ record }: { record: RecordSummary }) {
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
        src={first === undefined ? recordPicture(record.id) : photograph(record.id, first)}
        alt=""
        loading="lazy"
        sx={{
          width: "100%",
          aspectRatio: "4 / 5",
          objectFit: "contain",
          bgcolor: greys.ground,
          display: "block",
        }}
      />
      <Box aria-hidden="true" sx={{ display: "flex", height: 8, my: 0.75 }}>
        {record.colours.map((hex) => (
          <Box key={hex} sx={{ flex: 1, bgcolor: hex }} />
        ))}
      </Box>
      <Typography sx={{ fontWeight: 640 }}>{record.name}</Typography>
      <Typography variant="caption" component="p">
        {[record.person && `for ${record.person}`, day(record.made), cards(record.cards), record.stock]
          .filter(Boolean)
          .join(", ")}
      </Typography>
    </Box>
  );
}
