/**
 * One build: its state from the server, and its changes on their way there.
 * What changes at every press (head, waiting) is read by the few parts that
 * show it, so that a press does not draw the whole screen again.
 */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState, useSyncExternalStore } from "react";
import { api, data, type EditKind, type Head, type State } from "../../api/client";
import { ChangeQueue, type Progress } from "./changeQueue";

export interface BuildHandle {
  state: State | undefined;
  error: unknown;
  queue: ChangeQueue;
  reload: () => void;
  change: (kind: EditKind, values: Record<string, unknown>) => void;
  undo: () => void;
  redo: () => void;
  pictureShown: () => void;
}

/** Where the build stands by the last answer to a change; ahead of the state for a moment. */
export const useHead = (queue: ChangeQueue): Head | undefined =>
  useSyncExternalStore(queue.subscribe, () => queue.snapshot().head);

/** What waits, what failed, what clashed. */
export const useProgress = (queue: ChangeQueue): Progress =>
  useSyncExternalStore(queue.subscribe, queue.snapshot);

export function useBuild(id: number): BuildHandle {
  const queries = useQueryClient();
  const query = useQuery({
    queryKey: ["build", id],
    queryFn: () => data(api.GET("/api/builds/{id}", { params: { path: { id } } })),
    refetchOnWindowFocus: "always",
  });
  const [queue] = useState(
    () =>
      new ChangeQueue(id, async () => {
        await queries.refetchQueries({ queryKey: ["build", id] });
        return queries.getQueryData<State>(["build", id]);
      }),
  );
  const { data: state, error, refetch } = query;
  useEffect(() => {
    if (state) queue.seen(state);
  }, [state, queue]);
  useEffect(() => () => queue.stop(), [queue]);

  // the picture first, the numbers right after it
  const pictureShown = useCallback(() => {
    const known = queries.getQueryData<State>(["build", id]);
    const { head } = queue.snapshot();
    if (known && head && known.revision < head.revision)
      void queries.invalidateQueries({ queryKey: ["build", id] });
  }, [queries, id, queue]);
  useEffect(() => {
    // where no picture is shown, or it has not changed, the numbers still follow
    let timer: ReturnType<typeof setTimeout> | undefined;
    const stop = queue.subscribe(() => {
      clearTimeout(timer);
      timer = setTimeout(pictureShown, 400);
    });
    return () => {
      clearTimeout(timer);
      stop();
    };
  }, [queue, pictureShown]);

  return useMemo(
    () => ({
      state,
      error,
      queue,
      reload: () => void refetch(),
      change: (kind: EditKind, values: Record<string, unknown>) => queue.put(kind, values),
      undo: () => queue.put("undo", {}),
      redo: () => queue.put("redo", {}),
      pictureShown,
    }),
    [state, error, queue, refetch, pictureShown],
  );
}
