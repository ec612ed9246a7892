/** Addresses of a build's places. */
export const placeOf = (
  build: number,
  colouring: number,
  tab: "materials" | "panel" | "strata" | "order" | "table",
) => `/builds/${build}/colourings/${colouring}/${tab}`;
