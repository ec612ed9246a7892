/** What a part's name does not say: this maker's own word for its colour, kept on this device. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { Select } from "../../../parts/Select";

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
      <Select
        label="A part that is"
        value={element}
        options={elements.map((e) => [e, e] as const)}
        onChoose={setElement}
        minWidth={150}
      />
      <Select
        label="of the colour"
        value={colour(words[element.toLowerCase()])}
        disabled={!element}
        options={Object.keys(HUES).map((name) => [name, name] as const)}
        onChoose={(name) => keep({ ...words, [element.toLowerCase()]: HUES[name] ?? 0 })}
        minWidth={130}
      />
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
