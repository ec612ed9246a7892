/** One opening on the sheets: an option of the list that they are to the keyboard. */
import { memo } from "react";
import type { Shape } from "../../../api/client";
import { greys, signal } from "../../../theme/theme";
import { optionId } from "./sheetsSvg";

export const Opening = memo(function Opening({
  shape,
  sheet,
  grey,
  chosen,
  zoom,
}: {
  shape: Shape;
  sheet: number;
  grey: string;
  chosen: boolean;
  zoom: number;
}) {
  const waste = shape.role === "waste";
  return (
    <path
      id={optionId(shape.key)}
      role="option"
      aria-selected={chosen}
      aria-label={`${shape.element}, sheet ${sheet}`}
      data-key={shape.key}
      d={shape.outline}
      fill={waste ? "url(#waste)" : grey}
      fillRule="evenodd"
      stroke={chosen ? signal : waste ? "#777" : greys.field}
      strokeWidth={(chosen ? 0.9 : 0.12) / zoom}
      strokeOpacity={chosen ? 1 : 0.8}
    />
  );
});
