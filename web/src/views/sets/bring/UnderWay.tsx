/** Sets on their way in that were neither kept nor let go: they wait through a reload. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { useAct } from "../../../api/acts";
import { api, type UnderWay as Coming } from "../../../api/client";
import { keys } from "../../../api/keys";

const WORDS: Record<Coming["state"], string> = {
  reading: "is being read",
  ready: "is ready to be looked at",
  failed: "could not be read",
  stopped: "was stopped",
};

export function UnderWay({ imports }: { imports: Coming[] }) {
  const letGo = useAct((id: number) => api.DELETE("/api/imports/{id}", { params: { path: { id } } }), {
    changes: [keys.imports],
  });
  if (!imports.length) return null;
  return (
    <Box component="ul" aria-label="On the way in" sx={{ display: "grid", gap: 1 }}>
      {imports.map((item) => (
        <Paper
          variant="card"
          component="li"
          key={item.id}
          sx={{
            px: 2,
            py: 1,
            display: "flex",
            gap: 2,
            alignItems: "center",
            flexWrap: "wrap",
          }}
        >
          <Typography sx={{ flex: "1 1 240px" }}>
            <strong>{item.name}</strong> {WORDS[item.state]}.
          </Typography>
          {item.state === "reading" && (
            <LinearProgress
              variant="determinate"
              value={item.share * 100}
              aria-label={`${item.name}: ${item.doing}`}
              sx={{ width: 140 }}
            />
          )}
          <Button component={Link} to={`/sets/bring-in/${item.id}`} variant="outlined">
            Go on with it
          </Button>
          <Button variant="text" onClick={() => letGo.mutate(item.id)}>
            Let it go
          </Button>
        </Paper>
      ))}
    </Box>
  );
}
