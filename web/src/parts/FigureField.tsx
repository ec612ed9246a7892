/** A plain figure that is typed. */
import { TypedField } from "./TypedField";
import { typed } from "./words";

interface Props {
  label: string;
  value: number;
  low: number;
  high: number;
  whole?: boolean;
  onSet: (value: number) => void;
}

export function FigureField({ label, value, low, high, whole = false, onSet }: Props) {
  const read = (text: string) => {
    const next = text.trim() ? typed(text) : NaN;
    return next >= low && next <= high && (!whole || Number.isInteger(next)) ? next : null;
  };
  return (
    <TypedField
      label={label}
      shown={String(Math.round(value * 100) / 100)}
      read={read}
      onKeep={(next) => {
        if (next !== value) onSet(next);
      }}
      decimal
    />
  );
}
