/** Every query's key, made in one place: what is asked and what is asked afresh cannot drift apart. */
export const keys = {
  session: ["session"] as const,
  builds: ["builds"] as const,
  build: (id: number) => ["build", id] as const,
  /** Everything of all colourings, of one, or one part of it. */
  colourings: ["colouring"] as const,
  colouring: (id: number) => ["colouring", id] as const,
  laid: (id: number, layout: string) => ["laid", id, layout] as const,
  formats: ["formats"] as const,
  tryouts: (id: number, picture: string, pass: string) => ["tryouts", id, picture, pass] as const,
  allTryouts: ["tryouts"] as const,
  standIns: (id: number, picture: string, ink: string, pass: string) =>
    ["stand-ins", id, picture, ink, pass] as const,
  against: (id: number, other: number, pictures: string) => ["against", id, other, pictures] as const,
  proposals: (id: number, ground: string, wishes: unknown) => ["proposals", id, ground, wishes] as const,
  orders: (id: number) => ["order", id] as const,
  order: (id: number, revision: number, picture: string) => ["order", id, revision, picture] as const,
  why: (id: number, key: string, taken: boolean, place: number) => ["why", id, key, taken, place] as const,
  sets: ["sets"] as const,
  set: (id: number, change?: number) =>
    change === undefined ? (["set", id] as const) : (["set", id, change] as const),
  measures: (id: number, revision: number) => ["measures", id, revision] as const,
  allMeasures: ["measures"] as const,
  mask: (id: number, revision: number, element: string, sheet: number) =>
    ["mask", id, revision, element, sheet] as const,
  trim: (id: number, revision: number, values: unknown) => ["trim", id, revision, values] as const,
  imports: ["imports"] as const,
  import: (id: number) => ["import", id] as const,
  allInks: ["inks"] as const,
  inks: (stock?: string) => ["inks", stock ?? ""] as const,
  stocks: ["stocks"] as const,
  tools: ["tools"] as const,
  allGaps: ["gaps"] as const,
  gaps: (stock?: string) => ["gaps", stock ?? ""] as const,
  allOpened: ["opened"] as const,
  opened: (id: number, stock?: string) => ["opened", id, stock ?? ""] as const,
  sectors: ["sectors"] as const,
  drawerHistory: ["drawer-history"] as const,
  swatchCards: ["swatch-cards"] as const,
  swatchCard: (id: number) => ["swatch-cards", id] as const,
  inkImports: ["ink-imports"] as const,
  inkImport: (id: number) => ["ink-imports", id] as const,
};

/** What a change to the drawer may show in. */
export const OF_THE_DRAWER = [
  keys.allInks,
  keys.stocks,
  keys.tools,
  keys.allGaps,
  keys.allOpened,
  keys.drawerHistory,
  keys.swatchCards,
  keys.inkImports,
  keys.colourings,
  keys.allTryouts,
  keys.builds,
] as const;
