/** Colours taken from a picture, a mat or a ribbon: what the proposals are to find again. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useAct } from "../../../api/acts";
import { type Schemas, uploadFile } from "../../../api/client";
import { FileButton } from "../../../parts/FileButton";
import { greys } from "../../../theme/theme";

export type Taken = Schemas["PictureColour"];

export function PictureColours({ taken, onTake }: { taken: Taken[]; onTake: (taken: Taken[]) => void }) {
  const read = useAct((file: File) => uploadFile<Taken[]>("/api/picture-colours", file), {
    then: (found) => onTake(found),
    otherwise: "That picture could not be read.",
  });
  return (
    <Box sx={{ display: "flex", gap: 0.75, alignItems: "center", flexWrap: "wrap" }}>
      <FileButton
        what="A picture to take colours from"
        accept="image/*"
        disabled={read.isPending}
        onFile={(file) => read.mutate(file)}
      >
        {read.isPending ? "Reading the picture" : "Colours of a picture"}
      </FileButton>
      {taken.length > 0 && (
        <>
          <Box role="img" aria-label={`${taken.length} colours of the picture`} sx={{ display: "flex" }}>
            {taken.map((t) => (
              <Box
                key={t.colour.hex}
                sx={{
                  width: 14 + 60 * t.share,
                  height: 28,
                  bgcolor: t.colour.hex,
                  borderTop: `1px solid ${greys.edge}`,
                  borderBottom: `1px solid ${greys.edge}`,
                }}
              />
            ))}
          </Box>
          <Button variant="text" onClick={() => onTake([])}>
            Without them
          </Button>
          <Typography variant="caption">As true as the picture's light.</Typography>
        </>
      )}
    </Box>
  );
}
