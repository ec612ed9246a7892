/** A pad is missing: what does its work here, on this stack and next to these neighbours; one button swaps it in. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { Choices } from "../../../parts/Choices";
import { api, data, type Rung, type StandIn } from "../../../api/client";
import { keys } from "../../../api/keys";
import { Busy } from "../../../parts/Busy";
import { Trouble } from "../../../parts/Trouble";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";

const WHY: Record<string, string> = {
  dry: "It has run dry.",
  "wished for": "It is wished for, not in the drawer.",
  away: "It is put away.",
  low: "It is running low.",
};

export function StandIns({ rung, onClose }: { rung: Rung; onClose: () => void }) {
  const { id, state, set, change } = useShared();
  const places = state.elements.flatMap((e) => e.rungs).filter((r) => r.ink === rung.ink);
  const [only, setOnly] = useState(false);
  const found = useQuery({
    queryKey: keys.standIns(id, state.picture_key, rung.ink, only ? rung.key : ""),
    queryFn: () =>
      data(
        api.GET("/api/colourings/{id}/stand-ins", {
          params: { path: { id }, query: { ink: rung.ink, ...(only ? { pass: rung.key } : {}) } },
        }),
      ),
  });
  const take = (s: StandIn) => {
    change("replace_ink", s.values);
    onClose();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="standin-title">
      <DialogTitle id="standin-title">Instead of {rung.ink_name}</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 1.25 }}>
        <Typography variant="body2">
          {WHY[rung.state] ?? ""} Judged by what it does here: the colour over what lies beneath, the step
          that must show, and the elements beside it.
        </Typography>
        {places.length > 1 && (
          <Choices
            apart
            label="Where"
            value={only ? "here" : "all"}
            options={[
              ["all", `In all ${places.length} passes`],
              ["here", `Only on ${rung.element}, ${set.nouns.one} ${rung.sheet}`],
            ]}
            onChoose={(key) => setOnly(key === "here")}
          />
        )}
        {found.isPending && <Busy what="Trying every pad in its place" />}
        {found.error && <Trouble error={found.error} again={() => void found.refetch()} />}
        {found.data?.length === 0 && <Typography>There is no other pad at hand.</Typography>}
        <Box component="ol" aria-label="Stand-ins" sx={{ display: "grid", gap: 1 }}>
          {found.data?.map((s) => (
            <Paper
              variant="slip"
              component="li"
              key={s.ink}
              sx={{
                display: "grid",
                gridTemplateColumns: "auto 1fr auto",
                gap: 1.5,
                alignItems: "center",
                p: 1.25,
              }}
            >
              <Pairs standIn={s} />
              <Box>
                <Typography sx={{ fontWeight: 640 }}>{s.name}</Typography>
                <Typography variant="body2">
                  As {s.role}, in {s.amounts}: {s.words} ({s.de00.toFixed(1)}).
                </Typography>
                {s.troubles.slice(0, 2).map((t) => (
                  <Typography
                    key={t}
                    variant="caption"
                    component="div"
                    sx={{ borderLeft: `3px solid ${greys.ink}`, pl: 0.75, mt: 0.5 }}
                  >
                    {t}
                  </Typography>
                ))}
              </Box>
              <Button variant="contained" aria-label={`Swap it in: ${s.name}`} onClick={() => take(s)}>
                Swap it in
              </Button>
            </Paper>
          ))}
        </Box>
        <Typography variant="body2">
          <Link
            to={`/inks/recipes?card=${state.stock}&lab=${rung.here.lab.map((v) => v.toFixed(1)).join(",")}&build=${id}&element=${encodeURIComponent(rung.element)}&sheet=${rung.sheet}&pass=${rung.key}&without=${rung.ink}`}
          >
            Or mix this colour from two or three pads
          </Link>
        </Typography>
      </DialogContent>
    </Dialog>
  );
}

/** In each of its places: as it is meant above, with the stand-in below. */
function Pairs({ standIn }: { standIn: StandIn }) {
  const width = 22;
  return (
    <svg
      width={standIn.before.length * width}
      height="48"
      viewBox={`0 0 ${standIn.before.length * width} 48`}
      role="img"
      aria-label="As it is meant above, with the stand-in below, place by place"
    >
      {standIn.before.map((c, i) => (
        <g key={i}>
          <rect x={i * width} y="0" width={width - 2} height="24" fill={c.hex} />
          <rect x={i * width} y="24" width={width - 2} height="24" fill={standIn.after[i]?.hex} />
        </g>
      ))}
    </svg>
  );
}
