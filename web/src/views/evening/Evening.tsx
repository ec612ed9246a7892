/** Several builds in one evening: which ones, in what order of work, and what it saves. */
import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, type BuildSummary, data, type EveningOfWork, pictureUrl } from "../../api/client";
import { useBuilds } from "../../api/hooks";
import { keys } from "../../api/keys";
import { Busy } from "../../parts/Busy";
import { minutes } from "../../parts/lengths";
import { loadingAt } from "../../parts/pictures";
import { Trouble } from "../../parts/Trouble";
import { useThere } from "../../parts/useThere";
import { greys } from "../../theme/theme";
import { cardsSaid } from "../build/order/Visits";

const MOST = 8;

export function Component() {
  const builds = useBuilds();
  const [chosen, setChosen] = useState<number[]>([]);
  useEffect(() => {
    document.title = "One evening · Anastrata";
  }, []);
  const listed = useThere(builds.data);
  const all = listed ?? [];
  const wanted = all.filter((b) => chosen.includes(b.colouring_id));
  const evening = useQuery({
    queryKey: keys.evening(chosen, wanted.map((b) => b.picture_key).join(" ")),
    queryFn: () => data(api.GET("/api/evening", { params: { query: { colouring: chosen } } })),
    enabled: chosen.length > 1,
  });
  if (builds.error) return <Trouble alone error={builds.error} again={() => void builds.refetch()} />;
  if (!listed) return <Busy what="Looking at the table" />;
  const choose = (id: number) =>
    setChosen(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id].slice(0, MOST));
  return (
    <Box sx={{ p: { xs: 2, sm: 4 }, maxWidth: 1240, width: "100%", mx: "auto" }}>
      <Typography variant="h1">Several in one evening</Typography>
      <Typography sx={{ my: 1.5, maxWidth: 640 }}>
        Choose what is to be made together. Builds on the same set share its sheets, wherever their inks allow
        it; each is made on as many cards as its materials say.
      </Typography>
      <Box
        sx={{ display: "grid", gap: 3, gridTemplateColumns: { xs: "1fr", md: "minmax(280px, 380px) 1fr" } }}
      >
        <Box component="ul" aria-label="Builds" sx={{ display: "grid", gap: 1, alignContent: "start" }}>
          {all.map((build, place) => (
            <li key={build.id}>
              <Choice
                build={build}
                place={place}
                on={chosen.includes(build.colouring_id)}
                onChoose={() => choose(build.colouring_id)}
              />
            </li>
          ))}
        </Box>
        <Box sx={{ minWidth: 0 }}>
          {chosen.length < 2 && <Typography>Choose two builds or more.</Typography>}
          {chosen.length > 1 && evening.isPending && <Busy what="Putting it in order" />}
          {chosen.length > 1 && evening.error && (
            <Trouble error={evening.error} again={() => void evening.refetch()} />
          )}
          {chosen.length > 1 && evening.data && <Found evening={evening.data} />}
        </Box>
      </Box>
    </Box>
  );
}

interface ChoiceProps {
  build: BuildSummary;
  place: number;
  on: boolean;
  onChoose: () => void;
}

function Choice({ build, place, on, onChoose }: ChoiceProps) {
  return (
    <ButtonBase
      role="checkbox"
      aria-checked={on}
      onClick={onChoose}
      sx={{
        width: "100%",
        display: "grid",
        gridTemplateColumns: "64px 1fr",
        gap: 1.5,
        p: 1,
        textAlign: "left",
        alignItems: "center",
        bgcolor: on ? greys.white : greys.sheet,
        border: `${on ? 2 : 1}px solid ${on ? greys.ink : greys.line}`,
        font: "inherit",
      }}
    >
      <Box
        component="img"
        loading={loadingAt(place)}
        src={pictureUrl(build.colouring_id, build.picture_key, 160)}
        alt=""
        sx={{ width: 64, aspectRatio: String(1 / build.aspect), display: "block" }}
      />
      <Box>
        <Typography sx={{ fontWeight: 640 }}>{build.name}</Typography>
        <Typography variant="caption">
          {build.stock_name}, {minutes(build.minutes)} for one card
        </Typography>
      </Box>
    </ButtonBase>
  );
}

function Found({ evening }: { evening: EveningOfWork }) {
  const named = new Map(evening.builds.map((b) => [b.colouring, b]));
  const saved = evening.apart - evening.minutes;
  return (
    <>
      <Box role="status" sx={{ mb: 2 }}>
        <Typography variant="h2">
          {minutes(evening.minutes)} for {evening.builds.reduce((n, b) => n + b.cards, 0)} cards
        </Typography>
        <Typography>
          {saved >= 1
            ? `One after another, by the orders that they have now, they would take ${minutes(evening.apart)}: ${minutes(saved)} are saved.`
            : "Together they take no less than one after another, by the orders that they have now."}
        </Typography>
      </Box>
      <Box component="ol" aria-label="Order of work" sx={{ display: "grid", gap: 1 }}>
        {evening.visits.map((visit, n) => {
          const build = visit.colouring === null ? undefined : named.get(visit.colouring);
          return (
            // visits have no name but their place
            <li key={n}>
              <Paper variant="card" sx={{ px: 2, py: 1 }}>
                <Box sx={{ display: "flex", gap: 1, alignItems: "baseline" }}>
                  <Typography variant="h3" component="h3" sx={{ flex: 1 }}>
                    {build
                      ? [build.name, cardsSaid(visit.cards, build.cards)].filter(Boolean).join(", ")
                      : "First"}
                  </Typography>
                  <Typography variant="caption">{minutes(visit.minutes)}</Typography>
                </Box>
                <Box component="ol">
                  {visit.steps.map((step) => (
                    <li key={step.key}>
                      <Typography variant="body2">{step.sentence}</Typography>
                    </li>
                  ))}
                </Box>
              </Paper>
            </li>
          );
        })}
      </Box>
    </>
  );
}
