/** Photographs of a made card: brought, taken by the simulated camera, each held against what was predicted. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useAct } from "../../api/acts";
import { api, data, type MadeCard, type PhotographRead, uploadFile } from "../../api/client";
import { usePhotograph, useStocks } from "../../api/hooks";
import { underWay } from "../../api/jobs";
import { keys } from "../../api/keys";
import { FileButton } from "../../parts/FileButton";
import { JobProgress } from "../../parts/JobProgress";
import { Select } from "../../parts/Select";
import { greys, signal } from "../../theme/theme";
import { Against } from "./Against";
import { Corners } from "./Corners";
import { listed, photograph, recordPicture } from "./words";

const WHOLE = { width: "100%", display: "block" } as const;
const THE_TABLE = "the table, nothing else";

export function Photographs({ made }: { made: MadeCard }) {
  const [around, setAround] = useState("");
  const add = useAct(
    (file: File) => uploadFile<MadeCard>(`/api/records/${made.id}/photographs`, file, file.name, { around }),
    { changes: [keys.records, keys.lesson], otherwise: "That photograph could not be kept." },
  );
  const simulate = useAct(
    () =>
      data(
        api.POST("/api/records/{id}/photographs/simulated", {
          params: { path: { id: made.id } },
          body: { seed: made.id + made.photographs.length * 7, around },
        }),
      ),
    { changes: [keys.records, keys.lesson], otherwise: "The simulated camera took no picture." },
  );
  const busy = add.isPending || simulate.isPending;
  return (
    <Box component="section" aria-label="Photographs" sx={{ display: "grid", gap: 1.5 }}>
      {made.photographs.map((number, n) => (
        <One key={number} made={made} number={number} place={n + 1} />
      ))}
      <Box sx={{ display: "grid", gap: 1, borderTop: `1px solid ${greys.line}`, pt: 1.5 }}>
        <Typography variant="body2">
          Photograph the finished card from above, all of it in the picture, in even light. Where hardly any
          card is bare, lay it on a larger sheet of white card and say which.
        </Typography>
        <LiesOn value={around} onChoose={setAround} />
        <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
          <FileButton
            what="A photograph of the finished card"
            accept="image/*"
            disabled={busy}
            onFile={(file) => add.mutate(file)}
          >
            {add.isPending ? "Keeping it…" : "Add a photograph"}
          </FileButton>
          <Button variant="text" disabled={busy} onClick={() => simulate.mutate()}>
            Try it with the simulated camera
          </Button>
        </Box>
      </Box>
    </Box>
  );
}

function LiesOn({ value, onChoose }: { value: string; onChoose: (key: string) => void }) {
  const stocks = useStocks();
  const options = (stocks.data ?? []).map((s) => [s.key, s.name] as const);
  return (
    <Select
      label="It lies on"
      value={value}
      options={options}
      none={THE_TABLE}
      onChoose={onChoose}
      minWidth={220}
    />
  );
}

function One({ made, number, place }: { made: MadeCard; number: number; place: number }) {
  const read = usePhotograph(made.id, number);
  const away = useAct(
    () =>
      api.DELETE("/api/records/{id}/photographs/{photograph}", {
        params: { path: { id: made.id, photograph: number } },
      }),
    { changes: [keys.records, keys.lesson], otherwise: "It could not be taken away." },
  );
  const found = read.data?.found;
  const called = `Photograph ${place} of the finished card`;
  return (
    <Box component="figure" sx={{ m: 0, display: "grid", gap: 1 }}>
      {found ? (
        <Against made={made} number={number} found={found} />
      ) : (
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1, alignItems: "start" }}>
          <Box component="img" src={recordPicture(made.id)} alt="As predicted" sx={WHOLE} />
          {read.data?.ready && (
            <Box component="img" src={listed(photograph(made.id, number))} alt={called} sx={WHOLE} />
          )}
        </Box>
      )}
      {read.data && <HowFar made={made} read={read.data} place={place} />}
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        {found && (
          <Button
            component="a"
            variant="text"
            href={photograph(made.id, number)}
            target="_blank"
            rel="noopener"
          >
            As it was taken
          </Button>
        )}
        <Button variant="text" disabled={away.isPending} onClick={() => away.mutate()}>
          Take photograph {place} away
        </Button>
      </Box>
    </Box>
  );
}

/** How far the reading is; where it came to nothing, why, and what can be done. */
function HowFar({ made, read, place }: { made: MadeCard; read: PhotographRead; place: number }) {
  const [around, setAround] = useState(read.around);
  const [byHand, setByHand] = useState(false);
  const again = useAct(
    (corners: number[][] | null) =>
      data(
        api.POST("/api/records/{id}/photographs/{photograph}/reading", {
          params: { path: { id: made.id, photograph: read.photograph } },
          body: { around, corners },
        }),
      ),
    {
      changes: [keys.records, keys.lesson],
      then: () => setByHand(false),
      otherwise: "It could not be read.",
    },
  );
  if (underWay(read.job)) return <JobProgress job={read.job} what={`Reading photograph ${place}`} />;
  if (read.found && !byHand) return null;
  return (
    <Box sx={{ display: "grid", gap: 1 }}>
      <Typography role="alert" sx={{ borderLeft: `4px solid ${signal}`, pl: 1 }}>
        {read.job?.sentence || "Not yet held against what was predicted."}
      </Typography>
      {read.ready && (
        <>
          <LiesOn value={around} onChoose={setAround} />
          <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
            <Button variant="outlined" disabled={again.isPending} onClick={() => again.mutate(null)}>
              Read it again
            </Button>
            <Button variant="text" aria-expanded={byHand} onClick={() => setByHand(!byHand)}>
              Show its corners
            </Button>
          </Box>
          {byHand && (
            <Corners
              src={photograph(made.id, read.photograph)}
              busy={again.isPending}
              onShown={(corners) => again.mutate(corners)}
            />
          )}
        </>
      )}
    </Box>
  );
}
