/** Where a set comes in: files dropped or chosen, or photographs by the simulated camera. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { type DragEvent, useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { type Import, Refusal, upload } from "../../../api/client";
import { useImports, useSession, useSets } from "../../../api/hooks";
import { keys } from "../../../api/keys";
import { importQuery } from "../../../api/queries";
import { Busy } from "../../../parts/Busy";
import { parsed } from "../../../parts/lengths";
import { Trouble } from "../../../parts/Trouble";
import { greys, signal } from "../../../theme/theme";
import { namedAfter } from "./named";
import { UnderWay } from "./UnderWay";

const ACCEPT = ".svg,.svgz,.jpg,.jpeg,.png,.tif,.tiff,.webp,.heic,.heif,.zip";
const isPhoto = (name: string) => /\.(jpe?g|png|tiff?|webp|hei[cf])$/i.test(name);
const megabytes = (bytes: number) => `${Math.round(bytes / 1_000_000)} MB`;
export const KINDS = ["stencil", "stamp set", "die-cut"] as const;

/** The sentence that refuses files before they are sent, if any. */
function refusal(
  files: File[],
  limits: { drawing: number; photograph: number; files: number },
): string | null {
  if (files.length > limits.files)
    return `${files.length} files are more than a set has sheets (${limits.files}).`;
  const photos = files.filter((f) => isPhoto(f.name)).length;
  if (photos > 0 && photos < files.length) return "Bring in drawings or photographs, not both at once.";
  const large = files.find(
    (f) => f.size > (isPhoto(f.name) || f.name.endsWith(".zip") ? limits.photograph : limits.drawing),
  );
  if (large)
    return `“${large.name}” is ${megabytes(large.size)}: more than the ${megabytes(isPhoto(large.name) ? limits.photograph : limits.drawing)} a file may have.`;
  return null;
}

export function Component() {
  const imports = useImports();
  useEffect(() => {
    document.title = "Bring in a set · Anastrata";
  }, []);
  if (imports.isPending) return <Busy what="Clearing the bench" />;
  if (imports.error) return <Trouble alone error={imports.error} again={() => void imports.refetch()} />;
  return (
    <Box sx={{ p: { xs: 2, sm: 4 }, maxWidth: 980, width: "100%", mx: "auto", display: "grid", gap: 3 }}>
      <Box>
        <Typography variant="h1">Bring in a set</Typography>
        <Typography sx={{ maxWidth: 640 }}>
          A drawing of the sheets, or a photograph of each. It is measured here once, and known to a tenth of
          a millimetre from then on.
        </Typography>
      </Box>
      <UnderWay imports={imports.data.under_way} />
      <Bench limits={imports.data.limits} />
    </Box>
  );
}

function Bench({ limits }: { limits: { drawing: number; photograph: number; files: number } }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const [files, setFiles] = useState<File[]>([]);
  const [name, setName] = useState("");
  const [kind, setKind] = useState<string>("stencil");
  const [sides, setSides] = useState({ width: "", height: "" });
  const units = useSession().data?.units ?? "in";
  const sized = (side: "width" | "height") => parsed(sides[side], units);
  const wrong = (side: "width" | "height") => sides[side].trim() !== "" && !((sized(side) ?? 0) >= 1);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const photos = files.length > 0 && files.every((f) => isPhoto(f.name));

  const take = (picked: File[]) => {
    setTrouble(null);
    if (!picked.length) return;
    const no = refusal(picked, limits);
    if (no) return setTrouble(no);
    const sorted = [...picked].sort((a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }));
    setFiles(sorted);
    // the page that comes next is got ready while she looks at what she chose; what does not come now is asked for then
    import("./Follow").catch(() => undefined);
    // a bundle knows its name
    if (!name && !/\.zip$/i.test(sorted[0]?.name ?? "")) setName(namedAfter(sorted.map((f) => f.name)));
  };
  const send = async (fill: (form: FormData) => void) => {
    if (busy) return;
    setBusy(true);
    setTrouble(null);
    const form = new FormData();
    if (name.trim()) form.append("name", name.trim());
    form.append("kind", kind);
    fill(form);
    try {
      const begun = await upload<Import>("/api/imports", form);
      queries.setQueryData(keys.import(begun.id), begun);
      // asked for while its page comes up: by then most drawings are read
      void queries.prefetchQuery({ ...importQuery(begun.id), staleTime: 0 });
      void queries.invalidateQueries({ queryKey: keys.imports });
      await navigate(`/sets/bring-in/${begun.id}`);
    } catch (error) {
      setTrouble(error instanceof Refusal ? error.message : "These files could not be sent.");
      setBusy(false);
    }
  };
  const bring = () =>
    send((form) => {
      for (const file of files) form.append("files", file);
      for (const side of ["width", "height"] as const)
        if (sides[side].trim()) form.append(`${side}_mm`, String(sized(side)));
    });
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    take([...event.dataTransfer.files]);
  };

  return (
    <>
      <Box
        component="section"
        aria-label="Files"
        onDragOver={(e: DragEvent) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
        sx={{
          bgcolor: greys.sheet,
          border: `2px ${over ? "solid" : "dashed"} ${over ? signal : greys.edge}`,
          borderRadius: 1,
          p: 3,
          display: "grid",
          gap: 2,
          gridTemplateColumns: { xs: "1fr", md: "1.1fr 1fr" },
        }}
      >
        <Box>
          <Typography variant="h2">Drop the files here</Typography>
          <Typography variant="body2" sx={{ mt: 0.5 }}>
            One SVG with a layer for each sheet, an SVG for each sheet, or a photograph (JPEG, HEIC, PNG,
            TIFF) of each sheet lying flat on a plain table. A set bundle (zip) that was carried out of
            Anastrata comes back as it was.
          </Typography>
          <Typography variant="body2" sx={{ mt: 0.5 }}>
            Drawings up to {megabytes(limits.drawing)}, photographs up to {megabytes(limits.photograph)},{" "}
            {limits.files} files at most.
          </Typography>
          <input
            ref={input}
            type="file"
            multiple
            accept={ACCEPT}
            hidden
            aria-label="The files"
            onChange={(e) => {
              take([...(e.target.files ?? [])]);
              e.target.value = "";
            }}
          />
          <Button
            variant={files.length ? "outlined" : "contained"}
            sx={{ mt: 2 }}
            onClick={() => input.current?.click()}
          >
            Choose files
          </Button>
          {files.length > 0 && (
            <Box
              component="ol"
              sx={{ listStyle: "decimal", pl: 2.5, my: 1.5, maxHeight: 170, overflow: "auto" }}
            >
              {files.map((f) => (
                <li key={f.name}>
                  <Typography variant="body2">{f.name}</Typography>
                </li>
              ))}
            </Box>
          )}
        </Box>
        <Box
          component="form"
          onSubmit={(e) => {
            e.preventDefault();
            void bring();
          }}
          sx={{ display: "grid", gap: 1.5, alignContent: "start" }}
        >
          <TextField
            label="Name of the set"
            value={name}
            onChange={(e) => setName(e.target.value)}
            slotProps={{ htmlInput: { maxLength: 200 } }}
          />
          <TextField select label="Kind" value={kind} onChange={(e) => setKind(e.target.value)}>
            {KINDS.map((k) => (
              <MenuItem key={k} value={k}>
                {k}
              </MenuItem>
            ))}
          </TextField>
          {photos && (
            <Typography variant="body2">
              Measure one sheet with a ruler, the right way up; or lay the ruler beside it in the photograph.
              Without a size the proportions are right and the millimetres are guessed.
            </Typography>
          )}
          <Box sx={{ display: "flex", gap: 1.5 }}>
            <TextField
              label={photos ? `Width, ${units}` : `Width, ${units}, if not in the file`}
              error={wrong("width")}
              value={sides.width}
              onChange={(e) => setSides({ ...sides, width: e.target.value })}
              sx={{ flex: 1 }}
              slotProps={{ htmlInput: { inputMode: units === "mm" ? "decimal" : "text" } }}
            />
            {photos && (
              <TextField
                label={`Height, ${units}`}
                error={wrong("height")}
                value={sides.height}
                onChange={(e) => setSides({ ...sides, height: e.target.value })}
                sx={{ flex: 1 }}
                slotProps={{ htmlInput: { inputMode: units === "mm" ? "decimal" : "text" } }}
              />
            )}
          </Box>
          <Button
            type="submit"
            variant="contained"
            disabled={!files.length || busy || wrong("width") || wrong("height")}
          >
            {busy ? "Sending …" : "Read them"}
          </Button>
          {trouble && (
            <Typography role="alert" sx={{ fontWeight: 600 }}>
              {trouble}
            </Typography>
          )}
        </Box>
      </Box>
      <Sample
        busy={busy}
        onTake={(id, called) =>
          void send((form) => {
            form.set("name", name.trim() || `${called}, photographed`);
            form.append("sample", String(id));
            form.append("seed", String(1 + (Date.now() % 900)));
          })
        }
      />
    </>
  );
}

function Sample({ busy, onTake }: { busy: boolean; onTake: (set: number, name: string) => void }) {
  const sets = useSets();
  const [chosen, setChosen] = useState<number | "">("");
  if (!sets.data?.length) return null;
  const id = chosen || sets.data.find((s) => s.kind === "stencil")?.id || sets.data[0]?.id || 0;
  return (
    <Box
      component="section"
      aria-label="No stencil at hand"
      sx={{
        borderTop: `1px solid ${greys.line}`,
        pt: 2,
        display: "flex",
        gap: 2,
        alignItems: "center",
        flexWrap: "wrap",
      }}
    >
      <Box sx={{ flex: "1 1 320px" }}>
        <Typography variant="h3">No sheet and camera at hand?</Typography>
        <Typography variant="body2">
          Let the simulated camera photograph a set of the library: held askew, with a lamp to one side. Then
          go the whole way from the photographs.
        </Typography>
      </Box>
      <TextField
        select
        label="Set"
        value={id}
        onChange={(e) => setChosen(Number(e.target.value))}
        sx={{ minWidth: 200 }}
      >
        {sets.data.map((s) => (
          <MenuItem key={s.id} value={s.id}>
            {s.name}
          </MenuItem>
        ))}
      </TextField>
      <Button
        variant="outlined"
        disabled={busy}
        onClick={() => onTake(id, sets.data.find((s) => s.id === id)?.name ?? "A set")}
      >
        Use sample photographs
      </Button>
    </Box>
  );
}
