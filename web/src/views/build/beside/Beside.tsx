/** The colourings of a build side by side, large, on one grey: point at an element and it is marked in all. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { freshKey } from "../../../api/acts";
import { api, data, type State } from "../../../api/client";
import { keys } from "../../../api/keys";
import { colouringQuery } from "../../../api/queries";
import { useLaid } from "../../../api/hooks";
import { Painter } from "../../../painting/Painter";
import { Busy } from "../../../parts/Busy";
import { PanelPicture } from "../../../parts/PanelPicture";
import { Trouble } from "../../../parts/Trouble";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";
import { placeOf } from "../paths";

const MOST = 6;
const PANE_PX = 520;

export function Component() {
  const { id, state } = useShared();
  const [away, setAway] = useState<number[]>([]);
  const [hovered, setHovered] = useState<string | null>(null);
  const [element, setElement] = useState<string | null>(null);
  const listed = [...state.colourings].sort((a, b) => Number(b.id === id) - Number(a.id === id));
  const shown = listed.filter((c) => !away.includes(c.id)).slice(0, MOST);
  if (state.colourings.length < 2) return <Alone />;
  return (
    <Box sx={{ p: 1.5, display: "grid", gap: 1.25, alignContent: "start", flex: 1 }}>
      <Box
        role="group"
        aria-label="Colourings shown"
        sx={{ display: "flex", gap: 0.5, flexWrap: "wrap", alignItems: "center" }}
      >
        {listed.map((c) => {
          const on = shown.some((s) => s.id === c.id);
          return (
            <Button
              key={c.id}
              variant={on ? "contained" : "outlined"}
              aria-pressed={on}
              disabled={c.id === id}
              onClick={() => setAway(on ? [...away, c.id] : away.filter((a) => a !== c.id))}
            >
              {c.name}
            </Button>
          );
        })}
        <Typography variant="caption" sx={{ ml: 1, color: greys.quiet }}>
          {element
            ? `${element} is chosen: take it from one into “${state.colouring}”.`
            : "Point at an element to see it in all; press it to take it from one into another."}
        </Typography>
      </Box>
      <Box
        sx={{
          display: "grid",
          gap: 1.5,
          gridTemplateColumns: {
            xs: "minmax(0, 1fr)",
            sm: `repeat(${Math.min(shown.length, 2)}, minmax(0, 1fr))`,
            md: `repeat(${Math.min(shown.length, 3)}, minmax(0, 1fr))`,
          },
        }}
      >
        {shown.map((c) => (
          <Pane
            key={c.id}
            id={c.id}
            name={c.name}
            own={c.id === id}
            hovered={hovered}
            onHover={setHovered}
            element={element}
            onPick={(name) => setElement(name === element ? null : name)}
          />
        ))}
      </Box>
    </Box>
  );
}

function Alone() {
  const { id, state } = useShared();
  return (
    <Box sx={{ p: 3, display: "grid", gap: 1, justifyItems: "start", maxWidth: 560 }}>
      <Typography variant="h2">Only one colouring so far</Typography>
      <Typography>
        Another one is begun in the menu under “{state.colouring}”, or from the colourings that your pads
        propose: press “Beside this one”.
      </Typography>
      <Button variant="contained" component={Link} to={placeOf(state.build_id, id, "strata")}>
        To the strata
      </Button>
    </Box>
  );
}

interface PaneProps {
  id: number;
  name: string;
  own: boolean;
  hovered: string | null;
  onHover: (name: string | null) => void;
  element: string | null;
  onPick: (name: string) => void;
}

function Pane({ id, name, own, hovered, onHover, element, onPick }: PaneProps) {
  const shared = useShared();
  const [other] = useState(() => new Painter(id, PANE_PX));
  const asked = useQuery({
    ...colouringQuery(id),
    enabled: !own,
  });
  const state = own ? shared.state : asked.data;
  const set = useLaid(id, state?.layout_key);
  if (asked.error) return <Trouble error={asked.error} again={() => void asked.refetch()} />;
  if (!state || !set.data) return <Busy what={`Laying out ${name}`} />;
  const inked = new Set(state.elements.filter((e) => e.rungs.length > 0).map((e) => e.name));
  return (
    <Box component="section" aria-label={name} sx={{ display: "grid", gap: 0.75, alignContent: "start" }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1 }}>
        <Typography variant="h3" noWrap sx={{ flex: 1 }}>
          {name}
        </Typography>
        <Typography variant="caption">{state.stock_name}</Typography>
      </Box>
      <Box
        sx={{
          position: "relative",
          height: "min(62dvh, 560px)",
          display: "flex",
          justifyContent: "center",
        }}
      >
        <PanelPicture
          painter={own ? shared.painter : other}
          picture={state.picture_key}
          inked={inked}
          alt={`${name}, finished`}
          set={set.data}
          hovered={hovered}
          element={element}
          onHover={onHover}
          onPick={onPick}
        />
      </Box>
      {own ? (
        <Typography variant="body2" sx={{ color: greys.quiet }}>
          You are working on this one.
        </Typography>
      ) : (
        <Other id={id} name={name} state={state} element={element} />
      )}
    </Box>
  );
}

function Other({
  id,
  name,
  state,
  element,
}: {
  id: number;
  name: string;
  state: State;
  element: string | null;
}) {
  const shared = useShared();
  const against = useQuery({
    queryKey: keys.against(shared.id, id, `${shared.state.picture_key} ${state.picture_key}`),
    queryFn: () =>
      data(
        api.GET("/api/colourings/{id}/against/{other}", { params: { path: { id: shared.id, other: id } } }),
      ),
  });
  const [all, setAll] = useState(false);
  const sentences = against.data?.sentences ?? [];
  const there = state.elements.find((e) => e.name === element);
  const take = () => {
    if (!there) return;
    shared.change("take_part", {
      element: there.name,
      pass: `${freshKey()}-`,
      passes: there.rungs.map(
        ({ sheet, ink, coats, hand, form, brush, medium, more, generation, width, without }) => ({
          sheet,
          ink,
          coats,
          hand,
          form,
          brush,
          medium,
          more,
          generation,
          width,
          without,
        }),
      ),
    });
  };
  return (
    <Box sx={{ display: "grid", gap: 0.75, justifyItems: "start" }}>
      <Box sx={{ display: "flex", gap: 0.75, flexWrap: "wrap" }}>
        {there && there.rungs.length > 0 && (
          <Button variant="contained" onClick={take}>
            Take {there.name} from here
          </Button>
        )}
        <Button
          variant="outlined"
          component={Link}
          to={placeOf(shared.state.build_id, id, "strata")}
          aria-label={`Work on ${name}`}
        >
          Work on this one
        </Button>
      </Box>
      <Box component="ul" aria-label={`What ${name} does differently`} sx={{ fontSize: 14, pl: 2, m: 0 }}>
        {against.data && sentences.length === 0 && <li>It is the same colouring.</li>}
        {(all ? sentences : sentences.slice(0, 3)).map((s) => (
          <li key={s}>{s}</li>
        ))}
      </Box>
      {sentences.length > 3 && (
        <Button variant="text" aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? "Fold the rest" : `${sentences.length - 3} more`}
        </Button>
      )}
    </Box>
  );
}
