/** Sets on their way in that were neither kept nor let go: they wait through a reload. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, type Import } from "../../../api/client";
import { greys } from "../../../theme/theme";

const WORDS: Record<Import["state"], string> = {
  reading: "is being read",
  ready: "is ready to be looked at",
  failed: "could not be read",
  stopped: "was stopped",
};

export function UnderWay({ imports }: { imports: Import[] }) {
  const queries = useQueryClient();
  if (!imports.length) return null;
  const letGo = async (id: number) => {
    await api.DELETE("/api/imports/{id}", { params: { path: { id } } });
    await queries.invalidateQueries({ queryKey: ["imports"] });
  };
  return (
    <Box
      component="ul"
      aria-label="On the way in"
      sx={{ listStyle: "none", m: 0, p: 0, display: "grid", gap: 1 }}
    >
      {imports.map((item) => (
        <Box
          component="li"
          key={item.id}
          sx={{
            bgcolor: greys.sheet,
            border: `1px solid ${greys.line}`,
            borderRadius: 1,
            px: 2,
            py: 1,
            display: "flex",
            gap: 2,
            alignItems: "center",
            flexWrap: "wrap",
          }}
        >
          <Typography sx={{ flex: "1 1 240px" }}>
            <strong>{item.options.name}</strong> {WORDS[item.state]}.
          </Typography>
          {item.state === "reading" && (
            <LinearProgress
              variant="determinate"
              value={item.share * 100}
              aria-label={`${item.options.name}: ${item.doing}`}
              sx={{ width: 140 }}
            />
          )}
          <Button component={Link} to={`/sets/bring-in/${item.id}`} variant="outlined">
            Go on with it
          </Button>
          <Button variant="text" onClick={() => void letGo(item.id)}>
            Let it go
          </Button>
        </Box>
      ))}
    </Box>
  );
}
