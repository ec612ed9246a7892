/** One build: its state from the server, and its changes on their way there. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState, useSyncExternalStore } from "react";
import { api, data, type EditKind, type Head, type State } from "../../api/client";
import { ChangeQueue, type Conflict } from "./changeQueue";

export interface BuildHandle {
  state: State | undefined;
  head: Head | undefined;
  error: unknown;
  reload: () => void;
  change: (kind: EditKind, values: Record<string, unknown>) => void;
  undo: () => void;
  redo: () => void;
  waiting: number;
  behind: boolean;
  offline: boolean;
  conflict: Conflict | null;
  settle: (again: boolean) => void;
  refusal: string | null;
  forget: () => void;
  pictureShown: () => void;
}

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
  const progress = useSyncExternalStore(queue.subscribe, queue.snapshot);
  const state = query.data;
  useEffect(() => {
    if (state) queue.seen(state);
  }, [state, queue]);
  useEffect(() => () => queue.stop(), [queue]);

  const headRevision = progress.head?.revision;
  const behind = state !== undefined && headRevision !== undefined && state.revision < headRevision;
  const pictureShown = useCallback(() => {
    // the picture first, the numbers right after it
    if (behind) void queries.invalidateQueries({ queryKey: ["build", id] });
  }, [behind, queries, id]);
  useEffect(() => {
    // where no picture is shown, or it has not changed, the numbers still follow
    if (!behind) return undefined;
    const timer = setTimeout(pictureShown, 400);
    return () => clearTimeout(timer);
  }, [behind, headRevision, pictureShown]);

  return {
    ...progress,
    behind,
    state,
    error: query.error,
    reload: () => void query.refetch(),
    change: useCallback((kind: EditKind, values: Record<string, unknown>) => queue.put(kind, values), [queue]),
    undo: useCallback(() => queue.put("undo", {}), [queue]),
    redo: useCallback(() => queue.put("redo", {}), [queue]),
    settle: (again) => queue.settle(again),
    forget: () => queue.forget(),
    pictureShown,
  };
}
