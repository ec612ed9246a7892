/** Builds under way with their next step; starting a new one. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { useAct } from "../../api/acts";
import { api, type BuildSummary, pictureUrl } from "../../api/client";
import { useBuilds } from "../../api/hooks";
import { keys } from "../../api/keys";
import { Busy } from "../../parts/Busy";
import { minutes } from "../../parts/lengths";
import { loadingAt } from "../../parts/pictures";
import { say } from "../../parts/said";
import { Trouble } from "../../parts/Trouble";
import { useThere } from "../../parts/useThere";
import { greys } from "../../theme/theme";
import { placeOf } from "../build/paths";
import { StartBuild } from "./StartBuild";

export function Component() {
  const builds = useBuilds();
  const [starting, setStarting] = useState(false);
  useEffect(() => {
    document.title = "Anastrata";
  }, []);
  const listed = useThere(builds.data);
  if (builds.error) return <Trouble alone error={builds.error} again={() => void builds.refetch()} />;
  if (!listed) return <Busy what="Looking at the table" />;
  return (
    <Box sx={{ p: { xs: 2, sm: 4 }, maxWidth: 1240, width: "100%", mx: "auto" }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 2, mb: 3, flexWrap: "wrap" }}>
        <Typography variant="h1">On the table</Typography>
        <Box sx={{ flex: 1 }} />
        {listed.length > 1 && (
          <Button component={Link} to="/evening" variant="outlined" size="medium">
            Several in one evening
          </Button>
        )}
        <Button variant="contained" size="medium" onClick={() => setStarting(true)}>
          Start a build
        </Button>
      </Box>
      {listed.length === 0 && (
        <Box sx={{ maxWidth: 520 }}>
          <Typography sx={{ mb: 2 }}>
            A build is one picture on one kind of card. Choose a set and a card, give each part its inks, see
            how it will look, and follow the steps at the table.
          </Typography>
          <Button variant="outlined" onClick={() => setStarting(true)}>
            Start the first build
          </Button>
        </Box>
      )}
      <Box
        component="ul"
        sx={{
          display: "grid",
          gap: 2.5,
          gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 480px), 1fr))",
        }}
      >
        {listed.map((build, place) => (
          <Card key={build.id} build={build} place={place} />
        ))}
      </Box>
      <StartBuild open={starting} onClose={() => setStarting(false)} />
    </Box>
  );
}

function Card({ build, place }: { build: BuildSummary; place: number }) {
  const params = { params: { path: { id: build.id } } };
  const changes = [keys.builds];
  const back = useAct(() => api.POST("/api/builds/{id}/back", params), { changes });
  const putAway = useAct(() => api.DELETE("/api/builds/{id}", params), {
    changes,
    then: () =>
      say({
        sentence: `“${build.name}” is put away.`,
        action: { label: "Bring it back", run: () => back.mutate() },
      }),
  });
  const strata = placeOf(build.id, build.colouring_id, "strata");
  return (
    <Paper
      variant="card"
      component="li"
      sx={{
        display: "flex",
        overflow: "hidden",
      }}
    >
      <Box
        component={Link}
        to={strata}
        aria-label={`Open ${build.name}`}
        sx={{ flex: "none", width: 188, bgcolor: greys.ground, p: 1.25, display: "block" }}
      >
        <img
          loading={loadingAt(place)}
          src={pictureUrl(build.colouring_id, build.picture_key, 360)}
          alt={`The predicted panel of ${build.name}`}
          width={168}
          height={Math.round(168 * build.aspect)}
          style={{ display: "block", boxShadow: "0 1px 3px rgba(0,0,0,.35)" }}
        />
      </Box>
      <Box sx={{ p: 2, flex: 1, display: "flex", flexDirection: "column", gap: 0.5, minWidth: 0 }}>
        <Typography variant="h2">{build.name}</Typography>
        <Typography variant="body2">
          {build.set_name} on {build.stock_name}
        </Typography>
        <Typography variant="body2">
          {build.pass_count} {build.pass_count === 1 ? "pass" : "passes"}, about {minutes(build.minutes)}
        </Typography>
        <Typography sx={{ mt: 1, fontWeight: 600 }}>
          {build.table_step !== null ? `At step ${build.table_step + 1} of ${build.step_count}: ` : ""}
          {build.next_step}
        </Typography>
        <Box sx={{ flex: 1 }} />
        <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
          <Button component={Link} to={strata} variant="contained">
            Open
          </Button>
          {build.pass_count > 0 && (
            <Button component={Link} to={placeOf(build.id, build.colouring_id, "table")} variant="outlined">
              {build.table_step !== null ? "Go on at the table" : "To the table"}
            </Button>
          )}
          <Button
            variant="text"
            disabled={putAway.isPending}
            onClick={() => putAway.mutate()}
            aria-label={`Put away ${build.name}`}
          >
            Put away
          </Button>
        </Box>
      </Box>
    </Paper>
  );
}
