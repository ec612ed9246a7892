/** What a part's name does not say: this maker's own word for its colour, kept on this device. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";

export type Words = Record<string, number>;

const HUES: Record<string, number> = {
  pink: 0,
  red: 30,
  orange: 45,
  brown: 60,
  yellow: 85,
  green: 140,
  blue: 255,
  violet: 310,
};
// degrees in CIELAB
const KEPT = "anastrata-words";

export function keptWords(): Words {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(KEPT) ?? "{}");
    return typeof found === "object" && found !== null ? (found as Words) : {};
  } catch {
    return {};
  }
}

export function OwnWords({
  elements,
  words,
  onWords,
}: {
  elements: string[];
  words: Words;
  onWords: (words: Words) => void;
}) {
  const [element, setElement] = useState("");
  const keep = (next: Words) => {
    try {
      localStorage.setItem(KEPT, JSON.stringify(next));
    } catch {
      // where nothing can be kept it holds as long as the page is open
    }
    onWords(next);
  };
  const named = elements.filter((e) => e.toLowerCase() in words);
  const colour = (hue: number | undefined) => Object.entries(HUES).find(([, h]) => h === hue)?.[0] ?? "";
  return (
    <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
      <TextField
        select
        label="A part that is"
        value={element}
        onChange={(e) => setElement(e.target.value)}
        sx={{ minWidth: 150 }}
      >
        {elements.map((e) => (
          <MenuItem key={e} value={e}>
            {e}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label="of the colour"
        value={colour(words[element.toLowerCase()])}
        disabled={!element}
        onChange={(e) => keep({ ...words, [element.toLowerCase()]: HUES[e.target.value] ?? 0 })}
        sx={{ minWidth: 120 }}
      >
        {Object.keys(HUES).map((name) => (
          <MenuItem key={name} value={name}>
            {name}
          </MenuItem>
        ))}
      </TextField>
      {named.map((e) => (
        <Button
          key={e}
          variant="outlined"
          title="Forget it"
          aria-label={`${e} is ${colour(words[e.toLowerCase()])}: forget it`}
          onClick={() =>
            keep(Object.fromEntries(Object.entries(words).filter(([name]) => name !== e.toLowerCase())))
          }
          sx={{ minHeight: 28, px: 1, fontSize: 13 }}
        >
          {e}: {colour(words[e.toLowerCase()])} ×
        </Button>
      ))}
    </Box>
  );
}
