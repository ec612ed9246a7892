/** A made card: what was used on it in one look, how it went, its photographs; made again from here. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { type ReactNode, useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useAct } from "../../api/acts";
import { api, data, type MadeCard } from "../../api/client";
import { useRecord } from "../../api/hooks";
import { keys } from "../../api/keys";
import { Busy } from "../../parts/Busy";
import { minutes } from "../../parts/lengths";
import { Trouble } from "../../parts/Trouble";
import { greys } from "../../theme/theme";
import { placeOf } from "../build/paths";
import { Photographs } from "./Photographs";
import { byElement, cards, clock, day, laidHow, listed, recordPicture, tablePhotograph } from "./words";

export function Component() {
  const id = Number(useParams().recordId);
  const query = useRecord(id);
  useEffect(() => {
    document.title = `${query.data?.name ?? "Log"} · Anastrata`;
  }, [query.data?.name]);
  if (query.error) return <Trouble alone error={query.error} again={() => void query.refetch()} />;
  if (!query.data) return <Busy what="Looking it up" />;
  return <Opened key={id} made={query.data} />;
}

function Opened({ made }: { made: MadeCard }) {
  const navigate = useNavigate();
  const path = { path: { id: made.id } };
  const again = useAct(() => data(api.POST("/api/records/{id}/again", { params: path })), {
    changes: [keys.builds],
    then: (begun) => navigate(placeOf(begun.build, begun.colouring, "strata")),
    otherwise: "It could not be begun again.",
  });
  const putAway = useAct(() => api.DELETE("/api/records/{id}", { params: path }), {
    changes: [keys.records],
    then: () => navigate("/log"),
    otherwise: "It could not be put away.",
  });
  return (
    <Box sx={{ p: { xs: 2, sm: 4 }, maxWidth: 1240, width: "100%", mx: "auto" }}>
      <Link to="/log">Log</Link>
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", alignItems: "center", mb: 2 }}>
        <Box sx={{ flex: "1 1 280px" }}>
          <Typography variant="h1">{made.name}</Typography>
          <Typography>
            {[
              day(made.made),
              cards(made.cards),
              made.stock,
              made.sets,
              `${minutes(made.minutes)} at the table`,
              made.taken.length > 0 && `${made.taken.join(", ")} less in the house`,
            ]
              .filter(Boolean)
              .join(", ")}
          </Typography>
        </Box>
        <Button variant="contained" disabled={!made.again || again.isPending} onClick={() => again.mutate()}>
          Make it again
        </Button>
        <Button variant="text" disabled={putAway.isPending} onClick={() => putAway.mutate()}>
          Put it away
        </Button>
      </Box>
      <Box
        sx={{ display: "grid", gap: 3, gridTemplateColumns: { xs: "1fr", md: "minmax(320px, 460px) 1fr" } }}
      >
        <Box sx={{ display: "grid", gap: 1.5, alignContent: "start" }}>
          {made.photographs.length === 0 && (
            <Box
              component="img"
              src={recordPicture(made.id)}
              alt={`${made.name} as it was laid, as predicted`}
              sx={{
                width: "100%",
                display: "block",
                bgcolor: greys.ground,
                aspectRatio: `1 / ${made.aspect}`,
              }}
            />
          )}
          <Photographs made={made} />
        </Box>
        <Box sx={{ display: "grid", gap: 2.5, alignContent: "start" }}>
          <Beside made={made} />
          <Part title="What was used on it">
            <Used made={made} />
          </Part>
          {made.told.length > 0 && (
            <Part title="Otherwise than planned">
              <Lines lines={made.told} several={made.cards > 1} />
            </Part>
          )}
          {made.notes.length > 0 && (
            <Part title="Notes from the table">
              <Lines lines={made.notes} several={made.cards > 1} />
            </Part>
          )}
          {made.at_table.length > 0 && (
            <Part title="Photographed at the table">
              <AtTable made={made} />
            </Part>
          )}
          <details>
            <summary>Step by step</summary>
            <Lines lines={made.steps.filter((s) => s.sentence)} several={made.cards > 1} />
          </details>
        </Box>
      </Box>
    </Box>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box component="section" aria-label={title}>
      <Typography variant="h2" sx={{ mb: 0.75 }}>
        {title}
      </Typography>
      {children}
    </Box>
  );
}

function AtTable({ made }: { made: MadeCard }) {
  return (
    <Box
      component="ul"
      sx={{ display: "grid", gap: 1, gridTemplateColumns: "repeat(auto-fill, minmax(180px, 1fr))" }}
    >
      {made.at_table.map((p) => (
        <Box component="li" key={p.id}>
          <a href={tablePhotograph(p.id)}>
            <Box
              component="img"
              src={listed(tablePhotograph(p.id))}
              alt={p.after}
              loading="lazy"
              sx={{ width: "100%" }}
            />
          </a>
          <Typography variant="caption" component="p">
            {clock(p.at)}
            {made.cards > 1 && p.card > 0 && `, card ${p.card}`}: {p.after}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}

function Used({ made }: { made: MadeCard }) {
  return (
    <Box component="ul" sx={{ columnWidth: 230, columnGap: 1 }}>
      {byElement(made.used).map(([element, laid]) => (
        <Box
          component="li"
          key={element}
          sx={{ bgcolor: greys.sheet, border: `1px solid ${greys.line}`, p: 1, mb: 1, breakInside: "avoid" }}
        >
          <Typography sx={{ fontWeight: 640 }}>{element}</Typography>
          {laid.map((ink, n) => (
            // an ink may come several times
            <Box key={n} sx={{ display: "flex", gap: 1, alignItems: "center" }}>
              <Box
                aria-hidden="true"
                sx={{ width: 26, height: 14, borderRadius: 7, bgcolor: ink.hex, flex: "none" }}
              />
              <Typography variant="body2">
                {ink.name}
                <Typography variant="caption" component="span" sx={{ color: greys.quiet }}>
                  {" "}
                  {laidHow(ink)}, {ink.sheet ? `sheet ${ink.sheet}` : "on the bare panel"}
                </Typography>
              </Typography>
            </Box>
          ))}
        </Box>
      ))}
    </Box>
  );
}

function Lines({ lines, several }: { lines: MadeCard["steps"]; several: boolean }) {
  return (
    <Box component="ul">
      {lines.map((line, n) => (
        // the same may be said twice
        <Box component="li" key={n} sx={{ display: "grid", gridTemplateColumns: "56px 1fr", gap: 1 }}>
          <Typography variant="caption" sx={{ color: greys.quiet }}>
            {clock(line.at)}
          </Typography>
          <Typography variant="body2">
            {several && line.card > 0 ? `Card ${line.card}: ` : ""}
            {line.sentence}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}

/** Whom it was for, its name, what is to be remembered: kept when it is left. */
function Beside({ made }: { made: MadeCard }) {
  const [name, setName] = useState(made.name);
  const [person, setPerson] = useState(made.person);
  const [note, setNote] = useState(made.note);
  const tell = useAct(
    (body: { name?: string; person?: string; note?: string }) =>
      data(api.PATCH("/api/records/{id}", { params: { path: { id: made.id } }, body })),
    { changes: [keys.records], otherwise: "That could not be written down.", line: `record-${made.id}` },
  );
  return (
    <Box sx={{ display: "grid", gap: 1, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" } }}>
      <TextField
        label="Called"
        value={name}
        error={!name.trim()}
        onChange={(e) => setName(e.target.value)}
        onBlur={() => name.trim() && name !== made.name && tell.mutate({ name })}
        slotProps={{ htmlInput: { maxLength: 200 } }}
      />
      <TextField
        label="Made for"
        value={person}
        onChange={(e) => setPerson(e.target.value)}
        onBlur={() => person !== made.person && tell.mutate({ person })}
        slotProps={{ htmlInput: { maxLength: 120 } }}
      />
      <TextField
        label="To remember"
        value={note}
        multiline
        minRows={2}
        onChange={(e) => setNote(e.target.value)}
        onBlur={() => note !== made.note && tell.mutate({ note })}
        slotProps={{ htmlInput: { maxLength: 4000 } }}
        sx={{ gridColumn: "1 / -1" }}
      />
    </Box>
  );
}
