/** The library of layer sets; bringing one in from a drawing. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import { Link } from "react-router";
import { useAct } from "../../api/acts";
import { api, type SetSummary } from "../../api/client";
import { useImports, useSession, useSets } from "../../api/hooks";
import { keys } from "../../api/keys";
import { Busy } from "../../parts/Busy";
import { contents, size } from "../../parts/lengths";
import { say } from "../../parts/said";
import { SetPreview } from "../../parts/SetPreview";
import { Trouble } from "../../parts/Trouble";
import { useThere } from "../../parts/useThere";
import { UnderWay } from "./bring/UnderWay";

export function Component() {
  const sets = useSets();
  const imports = useImports();
  useEffect(() => {
    document.title = "Sets · Anastrata";
  }, []);
  const listed = useThere(sets.data);
  if (sets.error) return <Trouble alone error={sets.error} again={() => void sets.refetch()} />;
  if (!listed) return <Busy what="Getting the sets out" />;
  return (
    <Box sx={{ p: { xs: 2, sm: 4 }, maxWidth: 1240, width: "100%", mx: "auto" }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 2, mb: 3 }}>
        <Typography variant="h1">Sets</Typography>
        <Box sx={{ flex: 1 }} />
        <Button component={Link} to="/sets/bring-in" variant="contained" size="medium">
          Bring in a set
        </Button>
      </Box>
      <Box sx={{ mb: imports.data?.under_way.length ? 3 : 0 }}>
        <UnderWay imports={imports.data?.under_way ?? []} />
      </Box>
      {listed.length === 0 && (
        <Typography sx={{ maxWidth: 520 }}>
          A set carries the picture: the sheets of a stencil, the steps of a stamp set, the pieces of a
          die-cut. Bring in its drawing or a photograph of each sheet, and it is measured from then on.
        </Typography>
      )}
      <Box
        component="ul"
        sx={{
          display: "grid",
          gap: 2.5,
          gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 380px), 1fr))",
        }}
      >
        {listed.map((set) => (
          <Card key={set.id} set={set} />
        ))}
      </Box>
    </Box>
  );
}

function Card({ set }: { set: SetSummary }) {
  const units = useSession().data?.units ?? "in";
  const params = { params: { path: { id: set.id } } };
  const changes = [keys.sets];
  const back = useAct(() => api.POST("/api/sets/{id}/back", params), { changes });
  const putAway = useAct(() => api.DELETE("/api/sets/{id}", params), {
    changes,
    then: () =>
      say({
        sentence: `${set.name} is put away. Builds that use it keep it.`,
        action: { label: "Bring it back", run: () => back.mutate() },
      }),
  });
  return (
    <Paper
      variant="card"
      component="li"
      sx={{
        display: "flex",
        flexWrap: "wrap",
        gap: 2,
        p: 1.5,
      }}
    >
      <Box component={Link} to={`/sets/${set.id}`} aria-label={`Open ${set.name}`}>
        <SetPreview set={set} height={200} />
      </Box>
      <Box sx={{ display: "flex", flexDirection: "column", gap: 0.5, flex: 1 }}>
        <Typography variant="h2">{set.name}</Typography>
        <Typography variant="body2">{contents(set)}</Typography>
        <Typography variant="body2">{size(set.width_mm, set.height_mm, units)}</Typography>
        <Box sx={{ flex: 1 }} />
        <Box sx={{ display: "flex", gap: 1 }}>
          <Button component={Link} to={`/sets/${set.id}`} variant="contained">
            Look at the {set.nouns.many}
          </Button>
          <Button variant="text" disabled={putAway.isPending} onClick={() => putAway.mutate()}>
            Put away
          </Button>
        </Box>
      </Box>
    </Paper>
  );
}
