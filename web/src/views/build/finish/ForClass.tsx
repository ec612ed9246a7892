/** A class at this card: how many sets of pads, who shares one, when each begins. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { api, data } from "../../../api/client";
import { keys } from "../../../api/keys";
import { useShared } from "../context";
import { classWay } from "./words";

const MOST = 60;

export function ForClass() {
  const { id } = useShared();
  const [typed, setTyped] = useState("8");
  const people = Math.round(Number(typed));
  const sound = Number.isFinite(people) && people >= 1 && people <= MOST;
  const wanted = useDeferredValue(sound ? people : 1);
  const found = useQuery({
    queryKey: keys.class(id, wanted),
    queryFn: () =>
      data(api.GET("/api/colourings/{id}/class", { params: { path: { id }, query: { people: wanted } } })),
    placeholderData: (before) => before,
  });
  const made = found.data;
  return (
    <Box sx={{ display: "grid", gap: 1 }}>
      <Typography variant="caption">
        Everybody makes one card in the order of work. Who shares a set of pads begins so much later that
        nobody waits for a pad.
      </Typography>
      <TextField
        label="People"
        type="number"
        value={typed}
        error={!sound}
        helperText={sound ? " " : `From 1 to ${MOST}.`}
        onChange={(e) => setTyped(e.target.value)}
        slotProps={{ htmlInput: { min: 1, max: MOST } }}
        sx={{ width: 120 }}
      />
      {made && sound && (
        <>
          <Box component="ul" sx={{ display: "grid", gap: 0.5 }}>
            {made.ways.map((way) => (
              <Box component="li" key={way.sets} sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
                <Typography sx={{ flex: "1 1 260px" }}>{classWay(way)}</Typography>
                {way.sharing > 1 && (
                  <Button
                    variant="text"
                    component="a"
                    href={`/api/colourings/${id}/class.csv?people=${made.people}&sets=${way.sets}`}
                    aria-label={`Who has which pad when, with ${way.sets} sets`}
                  >
                    Who has which pad when
                  </Button>
                )}
              </Box>
            ))}
          </Box>
          <Typography variant="body2">
            A set of pads: {made.pads.join(", ")}.
            {made.pieces.length > 0 &&
              ` To cut beforehand: ${made.pieces.map((p) => `${p.count} × ${p.name} ${p.size}`).join("; ")}.`}
          </Typography>
        </>
      )}
    </Box>
  );
}
