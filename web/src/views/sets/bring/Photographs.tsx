/** The photographs of one sheet: one more of it, one that came as a sheet of its own, taken apart again. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Import } from "../../../api/client";
import { FileButton } from "../../../parts/FileButton";

interface Props {
  item: Import;
  chosen: number;
  /** This one shows the sheet at that place once more. */
  onSame: (as: number) => void;
  onApart: () => void;
  onMore: (file: File) => void;
}

export function Photographs({ item, chosen, onSame, onApart, onMore }: Props) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const sheet = item.sheets[chosen];
  if (!sheet) return null;
  const others = item.sheets.flatMap((s, i) => (i === chosen ? [] : [{ title: s.title, i }]));
  return (
    <Box sx={{ display: "grid", gap: 0.5, justifyItems: "start" }}>
      {sheet.unclear && (
        <Typography variant="caption">
          Something of it is unclear. Move the sheet or the lamp a little and photograph it once more.
        </Typography>
      )}
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5 }}>
        <FileButton
          what="One more photograph of this sheet"
          accept="image/*,.heic,.heif"
          variant={sheet.unclear ? "contained" : "text"}
          onFile={onMore}
        >
          One more photograph
        </FileButton>
        {others.length > 0 && (
          <Button variant="text" aria-haspopup="menu" onClick={(e) => setAt(e.currentTarget)}>
            The same sheet as …
          </Button>
        )}
        {sheet.together.length > 0 && (
          <Button variant="text" onClick={onApart}>
            Take its photographs apart
          </Button>
        )}
      </Box>
      <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>
        {others.map(({ title, i }) => (
          <MenuItem
            key={i}
            onClick={() => {
              setAt(null);
              onSame(i);
            }}
          >
            {i + 1}. {title}
          </MenuItem>
        ))}
      </Menu>
    </Box>
  );
}
