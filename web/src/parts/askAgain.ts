/** One thing that a view asks for, and how to ask for it again. */
export interface Asked {
  error: unknown;
  refetch: () => unknown;
}

/** Asks once more for those of several that failed. */
export function askAgain(...asked: Asked[]): void {
  for (const one of asked) if (one.error) void one.refetch();
}
