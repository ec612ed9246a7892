/**
 * One colouring: its state from the server, and its changes on their way there.
 * What changes at every press (head, waiting) is read by the few parts that
 * show it, so that a press does not draw the whole screen again.
 */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState, useSyncExternalStore } from "react";
import type { EditKind, Head, State } from "../../api/client";
import { keys } from "../../api/keys";
import { colouringQuery } from "../../api/queries";
import { Painter } from "../../painting/Painter";
import { ChangeQueue, type Progress, send } from "./changeQueue";

export const PICTURE_WIDTH = 800;

export interface BuildHandle {
  state: State | undefined;
  error: unknown;
  queue: ChangeQueue;
  painter: Painter;
  reload: () => void;
  change: (kind: EditKind, values: Record<string, unknown>) => void;
  undo: () => void;
  redo: () => void;
  pictureShown: () => void;
}

/** Where the colouring stands by the last answer to a change; ahead of the state for a moment. */
export const useHead = (queue: ChangeQueue): Head | undefined =>
  useSyncExternalStore(queue.subscribe, () => queue.snapshot().head);

/**
 * The key of what lies on the panel, and nothing else: a press that only changes a colour draws nothing again. The
 * picture comes first; outlines are asked for once it is there.
 */
export function useLayout(queue: ChangeQueue, painter: Painter): string | undefined {
  const arrived = useSyncExternalStore(queue.subscribe, () => queue.snapshot().head?.layout_key);
  const picture = useSyncExternalStore(queue.subscribe, () => queue.snapshot().head?.picture_key);
  const painted = useSyncExternalStore(painter.subscribe, () => painter.snapshot().picture);
  const [layout, setLayout] = useState(arrived);
  if (layout !== arrived && (painted === picture || painted === null)) setLayout(arrived);
  useEffect(() => {
    // a picture that does not come must not keep the outlines back
    const timer = setTimeout(() => setLayout(arrived), 2000);
    return () => clearTimeout(timer);
  }, [arrived]);
  return layout;
}

/** What waits, what failed, what clashed. */
export const useProgress = (queue: ChangeQueue): Progress =>
  useSyncExternalStore(queue.subscribe, queue.snapshot);

export function useBuild(id: number): BuildHandle {
  const queries = useQueryClient();
  const query = useQuery({
    ...colouringQuery(id),
    refetchOnWindowFocus: "always",
  });
  const [painter] = useState(() => new Painter(id, PICTURE_WIDTH));
  const [queue] = useState(() => {
    const again = async () => {
      await queries.refetchQueries({ queryKey: keys.colouring(id) });
      return queries.getQueryData<State>(keys.colouring(id));
    };
    const made = new ChangeQueue(id, again, (own, edit, revision) =>
      send(own, edit, revision, painter.lookedAt()),
    );
    // the colours are on the canvas before anything else is drawn again
    made.whenArrived((head) => painter.arrived(head));
    return made;
  });
  const { data: state, error, refetch } = query;
  useEffect(() => {
    if (!state) return;
    queue.seen(state);
    painter.settled(state.picture_key, state.wet_key);
  }, [state, queue, painter]);
  useEffect(() => () => queue.stop(), [queue]);

  // the picture first, the numbers right after it
  const pictureShown = useCallback(() => {
    const known = queries.getQueryData<State>(keys.colouring(id));
    const { head } = queue.snapshot();
    if (known && head && known.revision < head.revision) {
      void queries.invalidateQueries({ queryKey: keys.colouring(id) });
      // Home tells of passes, minutes and warnings, and shows the picture
      void queries.invalidateQueries({ queryKey: keys.builds, refetchType: "none" });
    }
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
      // leaving right after a change: Home must not show what was before it
      void queries.invalidateQueries({ queryKey: keys.builds, refetchType: "none" });
    };
  }, [queue, pictureShown, queries]);

  return useMemo(
    () => ({
      state,
      error,
      queue,
      painter,
      reload: () => void refetch(),
      change: (kind: EditKind, values: Record<string, unknown>) => queue.put(kind, values),
      undo: () => queue.put("undo", {}),
      redo: () => queue.put("redo", {}),
      pictureShown,
    }),
    [state, error, queue, painter, refetch, pictureShown],
  );
}
