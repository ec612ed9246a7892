/** From the panel to the posted card: sizes, cut list, sheets of stock, thickness and rate, what is left to do. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { api, data, type Finish as Found, type FinishValues } from "../../../api/client";
import { useStocks } from "../../../api/hooks";
import { keys } from "../../../api/keys";
import { Busy } from "../../../parts/Busy";
import { minutes } from "../../../parts/lengths";
import { PartByPart } from "../../../parts/PartByPart";
import { Trouble } from "../../../parts/Trouble";
import { useThere } from "../../../parts/useThere";
import { useShared } from "../context";
import { Desk } from "../Desk";
import { CardFront } from "./CardFront";
import { CutList } from "./CutList";
import { ForClass } from "./ForClass";
import { FromStock } from "./FromStock";
import { OnPaper } from "./OnPaper";
import { ShowOthers } from "./ShowOthers";
import { Post } from "./Post";
import { Sizes } from "./Sizes";
import { Supplies } from "./Supplies";
import { exact, exactSize } from "./words";

export function Component() {
  const { id, state, set, units, change } = useShared();
  const stocks = useStocks().data ?? [];
  const query = useQuery({
    queryKey: keys.finish(id, state.revision, state.picture_key),
    queryFn: () => data(api.GET("/api/colourings/{id}/finish", { params: { path: { id } } })),
    placeholderData: (before) => before,
  });
  const found = useThere(query.data);
  if (!found) {
    return query.error ? (
      <Trouble error={query.error} again={() => void query.refetch()} />
    ) : (
      <Busy what="Cutting and folding" />
    );
  }
  const decide = (finish: FinishValues) => change("set_finish", { finish });
  return (
    <Desk
      picture={
        <CardFront
          id={id}
          picture={state.picture_key}
          found={found}
          stocks={stocks}
          planned={{ width: set.width_mm, height: set.height_mm }}
          units={units}
          onMove={(n, at) =>
            decide({
              ...found.finish,
              strips: found.finish.strips.map((strip, k) => (k === n ? { ...strip, ...at } : strip)),
            })
          }
        />
      }
      below={
        <Typography variant="caption" component="p" role="status" sx={{ m: 0, textAlign: "center" }}>
          {exactSize(found.finish.width, found.finish.height, units)}, the panel{" "}
          {exactSize(found.panel.width, found.panel.height, units)}. {margins(found, units)}
        </Typography>
      }
    >
      <Box sx={{ display: "grid", gap: 2.5, p: { xs: 0.5, md: 1 } }}>
        <PartByPart>
          {found.problems.length > 0 && (
            <Paper variant="warning" role="alert" sx={{ p: 1.5 }}>
              {found.problems.map((sentence) => (
                <Typography key={sentence}>{sentence}</Typography>
              ))}
            </Paper>
          )}
          <Part title={found.decided ? "The card" : "The card, as it could be"}>
            <Sizes found={found} stocks={stocks} units={units} onChange={decide} />
            {!found.decided && (
              <Button variant="contained" sx={{ mt: 1.5 }} onClick={() => decide(found.finish)}>
                Make it like this
              </Button>
            )}
          </Part>
          <Part title={found.cards > 1 ? `Cut list for ${found.cards} cards` : "Cut list"}>
            <CutList found={found} units={units} />
          </Part>
          <Part title="From the stock">
            <FromStock found={found} stocks={stocks} units={units} onChange={decide} />
          </Part>
          <Part title="What it takes">
            <Supplies found={found} />
          </Part>
          <Part title="To the post">
            <Post found={found} />
          </Part>
          <Part title="On paper">
            <OnPaper />
          </Part>
          <Part title="Show it to others">
            <ShowOthers />
          </Part>
          <Part title="For a class">
            <ForClass />
          </Part>
          <Part title="Putting it together">
            <Assembly found={found} />
          </Part>
        </PartByPart>
      </Box>
    </Desk>
  );
}

/** What shows of the base all round, in words. */
function margins(found: Found, units: "in" | "mm"): string {
  if (found.finish.alone) return "";
  const { left, above, below } = found.shows;
  if (left === above && above === below) return `${exact(left, units)} ${units} of the base shows all round.`;
  return `Of the base shows ${exact(left, units)} ${units} at the sides, ${exact(above, units)} above, ${exact(below, units)} at the foot.`;
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box component="section" aria-label={title}>
      <Typography variant="h2" component="h2" sx={{ mb: 1 }}>
        {title}
      </Typography>
      {children}
    </Box>
  );
}

/** What is left to do; with one press it is part of the work at the table. */
function Assembly({ found }: { found: Found }) {
  const { change } = useShared();
  return (
    <>
      <Box
        component="ol"
        aria-label="Steps"
        sx={{ pl: 2.5, m: 0, listStyle: "decimal", display: "grid", gap: 0.5 }}
      >
        {found.assembly.map((task) => (
          <li key={task.key}>
            <Typography variant="body2">
              {task.sentence} {minutes(task.minutes)}
              {task.waits > 0 && `, then ${minutes(task.waits)} under the weight`}
            </Typography>
            {task.caution && (
              <Typography variant="caption" component="div" sx={{ fontWeight: 600 }}>
                {task.caution}
              </Typography>
            )}
          </li>
        ))}
      </Box>
      <Button
        variant="outlined"
        sx={{ mt: 1 }}
        onClick={() => change("wish_order", { assembly: !found.at_table })}
      >
        {found.at_table ? "Leave it for another day" : "Make it part of the work"}
      </Button>
      <Typography variant="caption" component="p" sx={{ mt: 0.5 }}>
        {found.at_table
          ? "It is in the order of work: cutting and folding while ink dries, the rest when all is dry."
          : "Then cutting and folding are done while ink dries, and the rest when all is dry."}
      </Typography>
    </>
  );
}
