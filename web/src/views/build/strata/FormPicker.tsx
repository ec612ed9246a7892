/** Where the ink goes: little pictures of the ways, how far, and how softly. */
import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Slider from "@mui/material/Slider";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import type { Form, Rung } from "../../../api/client";
import { greys } from "../../../theme/theme";
import { FORM_WORDS } from "./shading";
import { useAhead } from "../../../parts/useAhead";

const LEAF = "M15 2c8 5 10 17 0 26C5 19 7 7 15 2z";
const KINDS = Object.keys(FORM_WORDS) as Form["kind"][];

function Picture({ kind }: { kind: Form["kind"] }) {
  const dark = greys.ink;
  return (
    <svg width="26" height="26" viewBox="0 0 30 30" aria-hidden="true">
      <clipPath id={`leaf-${kind}`}>
        <path d={LEAF} />
      </clipPath>
      <g clipPath={`url(#leaf-${kind})`}>
        <rect width="30" height="30" fill={kind === "all" ? dark : greys.white} />
        {kind === "side" && <path d="M0 0h14L16 30H0z" fill={dark} />}
        {kind === "base" && <path d="M0 17c8 3 20 3 30 0v13H0z" fill={dark} />}
        {kind === "centre" && <ellipse cx="15" cy="15.500" rx="4.500" ry="8" fill={dark} />}
        {kind === "edges" && (
          <path d="M0 0h30v30H0zM15 7c-4 4-4.500 11 0 16 4.500-5 4-12 0-16z" fill={dark} fillRule="evenodd" />
        )}
        {kind === "band" && <path d="M0 10h30v8H0z" fill={dark} />}
        {kind === "corner" && <path d="M0 12a18 18 0 0 1 18 18H0z" fill={dark} />}
        {kind === "around" && (
          <path d="M0 0h30v30H0zM15 9a5.500 6.500 0 1 0 .1 0z" fill={dark} fillRule="evenodd" />
        )}
        {kind === "fade" &&
          [0, 1, 2, 3, 4].map((i) => (
            <rect key={i} y={i * 6} width="30" height="6" fill={dark} fillOpacity={1 - i * 0.22} />
          ))}
      </g>
      <path d={LEAF} fill="none" stroke={dark} strokeWidth="1.400" />
    </svg>
  );
}

export function FormPicker({ rung, onForm }: { rung: Rung; onForm: (form: Partial<Form>) => void }) {
  const form = rung.form;
  return (
    <Box>
      <Box role="radiogroup" aria-label="Shading form" sx={{ display: "flex", flexWrap: "wrap", gap: 0.25 }}>
        {KINDS.map((kind) => (
          <Tooltip key={kind} title={FORM_WORDS[kind]}>
            <ButtonBase
              role="radio"
              aria-checked={form.kind === kind}
              aria-label={FORM_WORDS[kind]}
              onClick={() => onForm({ kind })}
              sx={{
                p: 0.4,
                borderRadius: 0.5,
                border: `2px solid ${form.kind === kind ? greys.ink : "transparent"}`,
              }}
            >
              <Picture kind={kind} />
            </ButtonBase>
          </Tooltip>
        ))}
      </Box>
      {form.kind !== "all" && (
        <Box sx={{ display: "flex", columnGap: 2, alignItems: "center", mt: 0.5, flexWrap: "wrap" }}>
          <Measure
            label="How far"
            value={Math.round(form.extent * 100)}
            unit="%"
            min={5}
            max={100}
            step={5}
            onSet={(v) => onForm({ extent: v / 100 })}
          />
          {["side", "band", "corner", "fade"].includes(form.kind) && (
            <Measure
              label="From"
              value={(Math.round(form.angle) + 360) % 360}
              unit="°"
              min={0}
              max={359}
              step={15}
              onSet={(v) => onForm({ angle: v })}
            />
          )}
          {form.kind !== "fade" && (
            <Measure
              label="Soft over"
              value={Math.round(form.soft ?? 0)}
              unit={form.soft ? "mm" : "as the tool"}
              min={0}
              max={60}
              step={1}
              onSet={(v) => onForm({ soft: v || null })}
            />
          )}
          {(form.kind === "band" || form.kind === "around") && (
            <Measure
              label="Where"
              value={Math.round(form.place * 100)}
              unit="%"
              min={0}
              max={100}
              step={5}
              onSet={(v) => onForm({ place: v / 100 })}
            />
          )}
          <ButtonBase
            onClick={() => onForm({ span: form.span === "opening" ? "element" : "opening" })}
            aria-pressed={form.span === "opening"}
            sx={{ fontSize: 13, textDecoration: "underline", textUnderlineOffset: 3 }}
          >
            {form.span === "opening" ? "each opening" : "whole element"}
          </ButtonBase>
        </Box>
      )}
    </Box>
  );
}

interface MeasureProps {
  label: string;
  value: number;
  unit: string;
  min: number;
  max: number;
  step: number;
  onSet: (value: number) => void;
}

function Measure({ label, value, unit, min, max, step, onSet }: MeasureProps) {
  const [shown, move] = useAhead(value);
  return (
    <Box sx={{ width: 96 }}>
      <Typography variant="caption">
        {label} {shown} {unit}
      </Typography>
      <Slider
        aria-label={label}
        size="small"
        min={min}
        max={max}
        step={step}
        value={shown}
        onChange={(_, v) => move(v as number)}
        onChangeCommitted={(_, v) => {
          if (v !== value || shown !== value) onSet(v as number);
        }}
        sx={{ py: 0.75, display: "block" }}
      />
    </Box>
  );
}
