/** Addresses of a build's places. */
export const PLACES = ["materials", "panel", "strata", "beside", "order", "finish", "table"] as const;

export const placeOf = (build: number, colouring: number, tab: (typeof PLACES)[number]) =>
  `/builds/${build}/colourings/${colouring}/${tab}`;
