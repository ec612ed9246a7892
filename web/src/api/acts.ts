/**
 * The one way to change something on the server outside the edit queue: what it
 * may show in is asked for afresh, a refusal is said and never lost, and a
 * double press is one.
 */
import { type MutateOptions, type QueryKey, useMutation, useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef } from "react";

interface Options<Given, Made> {
  /** The queries whose answers may be others now. */
  changes?: readonly QueryKey[];
  /** What to do once they are. */
  then?: (made: Made, given: Given) => unknown;
  /** Said where the server gave no sentence of its own. */
  otherwise?: string;
  /** The view shows the refusal itself; it is not said at the foot of the screen. */
  ownTrouble?: boolean;
  /** Every press counts: they are made one after another, in a line of this name. */
  line?: string;
  /** A double press is one, but what stands in the line of this name already is made first. */
  after?: string;
}

export function useAct<Given = void, Made = unknown>(
  act: (given: Given) => Promise<Made>,
  options: Options<Given, Made> = {},
) {
  const queries = useQueryClient();
  const running = useRef(false);
  const { line, after } = options;
  const id = line ?? after;
  const mutation = useMutation<Made, Error, Given>({
    mutationFn: act,
    onSuccess: async (made, given) => {
      await Promise.all((options.changes ?? []).map((queryKey) => queries.invalidateQueries({ queryKey })));
      await options.then?.(made, given);
    },
    onSettled: () => {
      running.current = false;
    },
    meta: { otherwise: options.otherwise, ownTrouble: options.ownTrouble },
    ...(id === undefined ? {} : { scope: { id } }),
  });
  const { mutate } = mutation;
  const press = useCallback(
    (given: Given, more?: MutateOptions<Made, Error, Given>) => {
      // told at once, not at the next drawing: a double click comes sooner than that
      if (line === undefined && running.current) return;
      running.current = true;
      mutate(given, more);
    },
    [line, mutate],
  );
  return { ...mutation, mutate: press };
}

/** A key by which the server knows a change that it has had already. */
export const freshKey = (): string =>
  `${Date.now().toString(36)}-${Math.random().toString(36).slice(2, 10)}${Math.random().toString(36).slice(2, 6)}`;
