/** After the last step: what went out of the house, and how the pads came through the evening. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { freshKey } from "../../../api/acts";
import { api, type Ink } from "../../../api/client";
import { useInks } from "../../../api/hooks";
import { Choices } from "../../../parts/Choices";
import { Dab } from "../../../parts/Dab";
import { useDrawerAct } from "../../inks/drawerAct";
import { BIG } from "./big";
import type { TableHandle } from "./useTable";

type State = "full" | "low" | "dry";
const HOW: readonly (readonly [string, string])[] = [
  ["full", "good"],
  ["low", "low"],
  ["dry", "dry"],
];

export function TheEnd({ table, finish, card }: { table: TableHandle; finish: string; card: string }) {
  const taken = table.table?.taken ?? [];
  const together = table.table?.together ?? false;
  return (
    <Box sx={{ display: "grid", gap: 2, alignContent: "start", overflowY: "auto" }}>
      <Typography variant="h1" component="h2" sx={{ fontSize: 36 }}>
        {together ? "That is the whole card." : "That is the whole picture."}
      </Typography>
      <Typography sx={BIG}>
        {together ? "" : "Let it dry through before you trim and mount it. "}
        It is written down in the <Link to="/log">log</Link>
        {taken.length > 0 && `; ${taken.join(", ")} less in the house`}.{" "}
        {!together && (
          <>
            <Link to={finish}>Finish</Link> has its cut list and how it is put together.
          </>
        )}
      </Typography>
      <HowAreThePads table={table} card={card} />
    </Box>
  );
}

/** Asked once a card is made: who has just inked with a pad knows how it is. */
function HowAreThePads({ table, card }: { table: TableHandle; card: string }) {
  const inks = useInks().data;
  const used = new Set(table.table?.pull.pads.map((p) => p.ink));
  const mine = inks?.filter((ink) => used.has(ink.key)) ?? [];
  const keep = useDrawerAct(
    ({ ink, state }: { ink: Ink; state: State }) =>
      api.PATCH("/api/inks/{id}", {
        params: { path: { id: ink.id } },
        body: { state, revision: ink.revision, edit_key: freshKey() },
      }),
    { said: ({ ink, state }) => `${ink.name} is ${state === "full" ? "good" : state}.` },
  );
  if (!mine.length) return null;
  return (
    <Box component="section" aria-labelledby="how-are-the-pads">
      <Typography variant="h2" component="h3" id="how-are-the-pads" sx={{ fontSize: 24, mb: 1 }}>
        How are the pads?
      </Typography>
      <Box component="ul" sx={{ display: "grid", gap: 1 }}>
        {mine.map((ink) => (
          <Box component="li" key={ink.key} sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
            <Dab dabs={ink.dabs} card={card} width={74} />
            <Typography sx={{ fontSize: 20, flex: 1, minWidth: 0 }}>{ink.name}</Typography>
            <Choices
              label={ink.name}
              value={ink.state}
              options={HOW}
              onChoose={(state) => keep.mutate({ ink, state: state as State })}
              button={{ minHeight: 44, px: 2 }}
            />
          </Box>
        ))}
      </Box>
    </Box>
  );
}
