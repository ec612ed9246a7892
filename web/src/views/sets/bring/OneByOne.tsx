/** Things on a photograph that are gone through one by one: a sentence, and a numbered button for each that shows it in
 * the lens while it is pointed at. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonGroup from "@mui/material/ButtonGroup";
import Typography from "@mui/material/Typography";

export interface OneOfThem {
  key: string;
  /** Its outline on the photograph. */
  outline: string;
  /** What a press does, for those who do not see it. */
  name: string;
  /** Whether it is pressed; not given where a press is done with. */
  pressed?: boolean;
  /** A word beside the number. */
  tail?: string;
}

interface Props {
  label: string;
  sentence: string;
  items: OneOfThem[];
  busy?: boolean;
  /** The outline of the one that is looked at. */
  onAsk: (outline: string | null) => void;
  onPress: (index: number) => void;
  /** What it is to say of one that it is nothing, in words, and saying so. */
  none?: (index: number) => string;
  onNone?: (index: number) => void;
}

export function OneByOne({ label, sentence, items, busy = false, onAsk, onPress, none, onNone }: Props) {
  return (
    <Box sx={{ mt: 1 }}>
      <Typography variant="body2" sx={{ fontWeight: 600 }}>
        {sentence}
      </Typography>
      <Box role="group" aria-label={label} sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, mt: 0.5 }}>
        {items.map(({ key, outline, name, pressed, tail }, n) => (
          <ButtonGroup
            key={key}
            disabled={busy}
            onPointerEnter={() => onAsk(outline)}
            onPointerLeave={() => onAsk(null)}
            onFocus={() => onAsk(outline)}
            onBlur={() => onAsk(null)}
          >
            <Button
              variant={pressed ? "contained" : "outlined"}
              aria-pressed={pressed}
              aria-label={name}
              onClick={() => onPress(n)}
              sx={{ minWidth: 40, px: 1 }}
            >
              {n + 1}
              {tail && (
                <Typography component="span" variant="caption" sx={{ ml: 0.5 }}>
                  {tail}
                </Typography>
              )}
            </Button>
            {onNone && (
              <Button
                variant="outlined"
                aria-label={none?.(n)}
                onClick={() => {
                  onAsk(null);
                  onNone(n);
                }}
                sx={{ minWidth: 32, px: 0.5 }}
              >
                ×
              </Button>
            )}
          </ButtonGroup>
        ))}
      </Box>
    </Box>
  );
}
