/**
 * The one way to change something on the server outside the edit queue: what it
 * may show in is asked for afresh, and a refusal is said, never lost.
 */
import { type QueryKey, useMutation, useQueryClient } from "@tanstack/react-query";

interface Options<Given, Made> {
  /** The queries whose answers may be others now. */
  changes?: readonly QueryKey[];
  /** What to do once they are. */
  then?: (made: Made, given: Given) => unknown;
  /** Said where the server gave no sentence of its own. */
  otherwise?: string;
  /** The view shows the refusal itself; it is not said at the foot of the screen. */
  ownTrouble?: boolean;
}

export function useAct<Given = void, Made = unknown>(
  act: (given: Given) => Promise<Made>,
  options: Options<Given, Made> = {},
) {
  const queries = useQueryClient();
  return useMutation<Made, Error, Given>({
    mutationFn: act,
    onSuccess: async (made, given) => {
      await Promise.all((options.changes ?? []).map((queryKey) => queries.invalidateQueries({ queryKey })));
      await options.then?.(made, given);
    },
    meta: { otherwise: options.otherwise, ownTrouble: options.ownTrouble },
  });
}

/** A key by which the server knows a change that it has had already. */
export const freshKey = (): string =>
  `${Date.now().toString(36)}-${Math.random().toString(36).slice(2, 10)}${Math.random().toString(36).slice(2, 6)}`;
