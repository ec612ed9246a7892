/** Any of a few, each pressed or not, in rows. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";

interface Props {
  label: string;
  names: readonly string[];
  chosen: readonly string[];
  onChoose: (chosen: string[]) => void;
  /** Said before them. */
  said?: string;
}

export function Chips({ label, names, chosen, onChoose, said }: Props) {
  return (
    <Box role="group" aria-label={label} sx={{ display: "flex", gap: 0.5, flexWrap: "wrap" }}>
      {said && (
        <Typography variant="caption" sx={{ alignSelf: "center", mr: 0.5 }}>
          {said}
        </Typography>
      )}
      {names.map((name) => {
        const on = chosen.includes(name);
        return (
          <Button
            key={name}
            variant={on ? "contained" : "outlined"}
            aria-pressed={on}
            onClick={() => onChoose(on ? chosen.filter((n) => n !== name) : [...chosen, name])}
            sx={{ minHeight: 28, px: 1, fontSize: 13 }}
          >
            {name}
          </Button>
        );
      })}
    </Box>
  );
}
