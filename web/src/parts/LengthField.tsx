/** A length that is typed as people write it: 4 1/4 in, or 105 mm. */
import { figure, parsed, type Units } from "./lengths";
import { TypedField } from "./TypedField";

interface Props {
  label: string;
  mm: number;
  units: Units;
  onSet: (mm: number) => void;
  low?: number;
  high?: number;
  width?: number;
  disabled?: boolean;
}

const SAME = 0.005;
// mm

export function LengthField({
  label,
  mm,
  units,
  onSet,
  low = -1000,
  high = 1600,
  width = 116,
  disabled = false,
}: Props) {
  const read = (text: string) => {
    const value = parsed(text, units);
    return value === null || value < low || value > high ? null : value;
  };
  return (
    <TypedField
      label={`${label}, ${units}`}
      shown={figure(mm, units)}
      read={read}
      onKeep={(value) => {
        if (Math.abs(value - mm) > SAME) onSet(value);
      }}
      decimal={units === "mm"}
      width={width}
      disabled={disabled}
    />
  );
}
