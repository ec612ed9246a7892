/** A colouring as a link shows it: picture, pads, steps to tick off. What is ticked is kept in this browser alone. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useParams } from "react-router";
import { api, data, type SharedPlan } from "../../api/client";
import { keys } from "../../api/keys";
import { Busy } from "../../parts/Busy";
import { Mark } from "../../parts/Mark";
import { display, greys, signal } from "../../theme/theme";
import { allSteps, laidBy, next, readTicks, sharedPicture, ticked, writeTicks } from "./ticks";

export function Component() {
  const token = useParams().token ?? "";
  const shared = useQuery({
    queryKey: keys.shared(token),
    queryFn: () => data(api.GET("/api/shared/{token}", { params: { path: { token } } })),
    retry: false,
  });
  useEffect(() => {
    document.title = `${shared.data?.name ?? "A shared card"} · Anastrata`;
  }, [shared.data?.name]);
  return (
    <Box component="main" sx={{ p: { xs: 1.5, sm: 3 }, maxWidth: 1180, mx: "auto" }}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, mb: 1.5 }}>
        <Mark />
        <Typography component="span" sx={{ fontFamily: display, fontSize: 19, fontWeight: 560 }}>
          Anastrata
        </Typography>
      </Box>
      {shared.isPending && <Busy what="Getting the card out" />}
      {shared.error && (
        <Typography role="alert">
          This link shows nothing any more, or it was not copied whole. Ask whoever gave it to you for
          another.
        </Typography>
      )}
      {shared.data && <Plan token={token} plan={shared.data} />}
    </Box>
  );
}

function Plan({ token, plan }: { token: string; plan: SharedPlan }) {
  const [done, setDone] = useState(() => readTicks(token));
  const tick = (number: number) => {
    const now = ticked(done, number);
    setDone(now);
    writeTicks(token, now);
  };
  const following = next(plan, done);
  const count = allSteps(plan).length;
  return (
    <>
      <Typography variant="h1">{plan.name}</Typography>
      <Typography sx={{ mb: 2 }}>{plan.said}</Typography>
      <Box
        sx={{
          display: "grid",
          gap: 3,
          gridTemplateColumns: { xs: "1fr", md: "minmax(280px, 420px) 1fr" },
          alignItems: "start",
        }}
      >
        <Box sx={{ position: { md: "sticky" }, top: 12, display: "grid", gap: 1 }}>
          <Box
            component="img"
            src={sharedPicture(token, done.length ? laidBy(plan, done) : null)}
            alt={done.length ? "The card as it looks now" : "The finished card"}
            sx={{ width: "100%", aspectRatio: `1 / ${plan.aspect}`, display: "block", bgcolor: greys.ground }}
          />
          <Typography role="status">
            {following
              ? `${done.length} of ${count} steps done. Next: ${following.sentence}`
              : "Done: every step is ticked off."}
          </Typography>
          <Box component="ul" aria-label="Pads" sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
            {plan.pads.map((pad) => (
              <Box component="li" key={pad.name} sx={{ display: "flex", gap: 0.5, alignItems: "center" }}>
                <Box aria-hidden="true" sx={{ width: 22, height: 14, borderRadius: 7, bgcolor: pad.hex }} />
                <Typography variant="body2">{pad.name}</Typography>
              </Box>
            ))}
          </Box>
          <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
            <Button component="a" variant="outlined" href={`/api/shared/${token}/plan.pdf`}>
              On paper
            </Button>
            <Button
              variant="text"
              disabled={!done.length}
              onClick={() => {
                setDone([]);
                writeTicks(token, []);
              }}
            >
              Begin anew
            </Button>
          </Box>
        </Box>
        <Box>
          {plan.visits.map((visit, n) => (
            <Box component="section" key={n} aria-label={visit.title} sx={{ mb: 1.5 }}>
              <Typography variant="h2">{visit.title}</Typography>
              <Box component="ul">
                {visit.steps.map((step) => (
                  <Box
                    component="li"
                    key={step.number}
                    sx={{
                      borderLeft: `4px solid ${step.number === following?.number ? signal : "transparent"}`,
                    }}
                  >
                    <Box
                      component="label"
                      sx={{ display: "flex", gap: 0.5, alignItems: "start", minHeight: 44 }}
                    >
                      <Checkbox
                        checked={done.includes(step.number)}
                        onChange={() => tick(step.number)}
                        slotProps={{ input: { "aria-label": `Step ${step.number}` } }}
                      />
                      <Box sx={{ pt: 1 }}>
                        <Typography>
                          {step.number}. {step.sentence}{" "}
                          <Typography component="span" variant="caption" sx={{ color: greys.quiet }}>
                            {step.minutes}
                          </Typography>
                        </Typography>
                        {step.caution && (
                          <Typography variant="body2" sx={{ fontWeight: 600 }}>
                            {step.caution}
                          </Typography>
                        )}
                      </Box>
                    </Box>
                  </Box>
                ))}
              </Box>
            </Box>
          ))}
        </Box>
      </Box>
    </>
  );
}
