/** How full a pad is, as far as it matters: which can be inked with, and what is said of the others. */
export const AT_HAND: readonly string[] = ["full", "low"];

export const GONE: Record<string, string> = { dry: "Dry", "wished for": "Not here", away: "Put away" };
