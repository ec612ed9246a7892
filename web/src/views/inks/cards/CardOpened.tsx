/** A swatch card: printed, photographed, and read field by field before anything is kept. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useAct } from "../../../api/acts";
import { api, data, Refusal, type SwatchCard, uploadFile } from "../../../api/client";
import { FileButton } from "../../../parts/FileButton";
import { underWay } from "../../../api/jobs";
import { JobProgress } from "../../../parts/JobProgress";
import { useDrawerChanged, useSwatchCard } from "../../../api/hooks";
import { keys } from "../../../api/keys";
import { Busy } from "../../../parts/Busy";
import { say } from "../../../parts/said";
import { Trouble } from "../../../parts/Trouble";
import { sentenceOf } from "../../../parts/words";
import { greys } from "../../../theme/theme";
import { FieldRow } from "./FieldRow";
import { Sketch } from "./SwatchCards";
import { useWayBack } from "../drawerAct";

export function Component() {
  const id = Number(useParams().cardId);
  const card = useSwatchCard(id);
  useEffect(() => {
    document.title = "Swatch card · Anastrata";
  }, []);
  if (card.isPending) return <Busy what="Getting the card" />;
  if (card.error) return <Trouble alone error={card.error} again={() => void card.refetch()} />;
  return <Opened key={card.data.light?.at ?? "new"} card={card.data} />;
}

const single = (f: SwatchCard["fields"][number]) => f.passes.length === 1;
/** What is kept unless the maker says otherwise: single pads that read well, and were not what the light was corrected by. */
const usual = (card: SwatchCard) =>
  new Set(
    card.fields.flatMap((f, i) =>
      f.read &&
      !f.kept &&
      single(f) &&
      !card.light?.trusted.includes(i) &&
      (f.read.state === "good" || f.read.state === "blotchy")
        ? [i]
        : [],
    ),
  );

function Opened({ card }: { card: SwatchCard }) {
  const queries = useQueryClient();
  const changed = useDrawerChanged();
  const navigate = useNavigate();
  const stop = useRef<AbortController | null>(null);
  const [doing, setDoing] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [marked, setMarked] = useState<ReadonlySet<number>>(() => usual(card));
  const put = (next: SwatchCard) => queries.setQueryData(keys.swatchCard(card.id), next);
  const read = async (file: Blob, name: string) => {
    setDoing("Sending the photograph");
    put(await uploadFile<SwatchCard>(`/api/swatch-cards/${card.id}/photograph`, file, name));
  };
  const run = async (work: () => Promise<void>) => {
    if (doing) return;
    setTrouble(null);
    try {
      await work();
    } catch (error) {
      if (!(error instanceof DOMException))
        setTrouble(sentenceOf(error, "That photograph could not be read."));
    } finally {
      setDoing(null);
    }
  };
  const sample = () =>
    run(async () => {
      setDoing("The simulated camera takes its picture");
      stop.current = new AbortController();
      const answer = await api.GET("/api/swatch-cards/{id}/sample", {
        params: { path: { id: card.id }, query: { seed: 1 + (Date.now() % 900) } },
        parseAs: "blob",
        signal: stop.current.signal,
      });
      if (!answer.data) throw new Refusal(0, "failed", "The simulated camera did not answer.");
      await read(answer.data as unknown as Blob, "sample.jpg");
    });
  const keep = () =>
    run(async () => {
      setDoing("Keeping the swatches");
      put(
        await data(
          api.POST("/api/swatch-cards/{id}/keep", {
            params: { path: { id: card.id } },
            body: { keep: [...marked] },
          }),
        ),
      );
      await changed();
      say({
        sentence: `${marked.size} ${marked.size === 1 ? "swatch is" : "swatches are"} kept.`,
        action: { label: "Undo", run: () => back.mutate({ to: "undo" }) },
      });
      setMarked(new Set());
    });
  const back = useWayBack();
  const letGo = useAct(() => api.DELETE("/api/swatch-cards/{id}", { params: { path: { id: card.id } } }), {
    changes: [keys.swatchCards],
    then: () => navigate("/inks/swatch-cards"),
    otherwise: "That card could not be put away.",
  });
  const busy = doing !== null || underWay(card.job);
  const failed = card.job?.state === "failed" ? card.job.sentence : null;
  const mark = (i: number, on: boolean) => {
    const fresh = new Set(marked);
    if (on) fresh.add(i);
    else fresh.delete(i);
    setMarked(fresh);
  };
  return (
    <Box
      sx={{
        p: { xs: 2, sm: 3 },
        display: "grid",
        gap: 2.5,
        gridTemplateColumns: { xs: "1fr", md: "300px minmax(0, 1fr)" },
        alignItems: "start",
        maxWidth: 1280,
        width: "100%",
        mx: "auto",
      }}
    >
      <Box sx={{ display: "grid", gap: 1.5, justifyItems: "start" }}>
        <Box>
          <Link to="/inks/swatch-cards">All swatch cards</Link>
          <Typography variant="h1">
            {card.title} {card.number}
          </Typography>
          <Typography variant="body2">
            {card.fields.length} {card.fields.length === 1 ? "field" : "fields"} on {card.stock_name},{" "}
            {card.paper}
          </Typography>
        </Box>
        <Sketch card={card} width={190} />
        <Button
          variant={card.light ? "outlined" : "contained"}
          component="a"
          href={`/api/swatch-cards/${card.id}/pdf`}
          target="_blank"
          rel="noreferrer"
        >
          Print the card (PDF)
        </Button>
        <FileButton
          what="A photograph of the card"
          accept="image/*"
          variant={card.light ? "outlined" : "contained"}
          disabled={busy}
          onFile={(f) => void run(() => read(f, f.name))}
        >
          {card.light ? "Read another photograph" : "Read a photograph or scan"}
        </FileButton>
        <Box>
          <Button variant="text" sx={{ px: 0 }} disabled={busy} onClick={() => void sample()}>
            Use a sample photograph
          </Button>
          <Typography variant="caption" component="div">
            The simulated camera takes the card as your pads would ink it: askew, under a lamp or at a window.
          </Typography>
        </Box>
        <Button variant="text" sx={{ px: 0 }} onClick={() => letGo.mutate()}>
          Put this card away
        </Button>
      </Box>
      <Box sx={{ display: "grid", gap: 1.5 }}>
        {doing && (
          <Box role="status" sx={{ display: "flex", gap: 1, alignItems: "center" }}>
            <Typography>{doing} …</Typography>
            {doing.startsWith("The sim") && (
              <Button variant="text" onClick={() => stop.current?.abort()}>
                Stop
              </Button>
            )}
          </Box>
        )}
        <JobProgress job={card.job} what="Reading the photograph" />
        {(trouble ?? failed) && !busy && (
          <Box
            role="alert"
            sx={{ border: `2px solid ${greys.ink}`, bgcolor: greys.sheet, borderRadius: 1, p: 1.5 }}
          >
            <Typography sx={{ fontWeight: 600 }}>{trouble ?? failed}</Typography>
            <Typography variant="body2">Nothing was changed.</Typography>
          </Box>
        )}
        {!card.light && !busy && <HowTo />}
        {card.light && <Light card={card} />}
        {card.light && (
          <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: "wrap" }}>
            <Button variant="contained" disabled={busy || marked.size === 0} onClick={() => void keep()}>
              Keep {marked.size} {marked.size === 1 ? "swatch" : "swatches"}
            </Button>
            <Button
              variant="text"
              onClick={() =>
                setMarked(
                  new Set(
                    card.fields.flatMap((f, i) =>
                      f.read && single(f) && f.read.state !== "bare" ? [i] : [],
                    ),
                  ),
                )
              }
            >
              Mark all that can be kept
            </Button>
            <Button variant="text" onClick={() => setMarked(new Set())}>
              Unmark
            </Button>
          </Box>
        )}
        <Box
          component="ol"
          aria-label="Fields"
          sx={{
            display: "grid",
            gap: 1,
            gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 290px), 1fr))",
          }}
        >
          {card.fields.map((f, i) => (
            <FieldRow
              key={i}
              number={i + 1}
              field={f}
              card={card.card}
              trusted={card.light?.trusted.includes(i) ?? false}
              marked={marked.has(i)}
              onMark={(on) => mark(i, on)}
            />
          ))}
        </Box>
      </Box>
    </Box>
  );
}

function HowTo() {
  return (
    <Box component="ol" sx={{ listStyle: "decimal", pl: 2.5, "& li": { mb: 0.75 } }}>
      <li>Print at full size, on the card that the swatches are for.</li>
      <li>
        Fill each box evenly, in as many coats as it says. Keep the paper between the boxes clean: the light
        is measured there.
      </li>
      <li>Let it dry. Photograph all of it flat, in even daylight, or scan it.</li>
    </Box>
  );
}

function Light({ card }: { card: SwatchCard }) {
  const light = card.light;
  if (!light) return null;
  const even =
    light.uneven < 1.3
      ? "The light was even"
      : `One side was ${Math.round(100 * (light.uneven - 1))} % brighter, which is taken out`;
  const by = light.known
    ? `${light.known} known pads corrected its colour${light.error === null ? "" : `, and each of them is met to ${light.error.toFixed(1)} by the others`}`
    : "only the bare card corrected its colour: pads that are known would do it better";
  return (
    <Typography variant="body2">
      {even}; {by}. Differences are CIEDE2000.
    </Typography>
  );
}
