/** Changes to a set: sent one after another, undone and redone; the answer is the set as it stands. */
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef } from "react";
import { api, data, type LayerSet, Refusal, type SetEditKind } from "../../../api/client";
import { useNotice } from "../../../parts/Notices";

export function useSetEdits(set: LayerSet) {
  const queries = useQueryClient();
  const say = useNotice();
  const queue = useRef<Promise<void>>(Promise.resolve());
  const id = set.id;

  const run = useCallback(
    (work: (head: number | null) => Promise<LayerSet>) => {
      const next = queue.current.then(async () => {
        const head = queries.getQueryData<LayerSet>(["set", id])?.head ?? null;
        try {
          queries.setQueryData(["set", id], await work(head));
          void queries.invalidateQueries({ queryKey: ["sets"] });
        } catch (error) {
          say({ sentence: error instanceof Refusal ? error.message : "That did not work; try again." });
          if (error instanceof Refusal && error.status === 409)
            await queries.invalidateQueries({ queryKey: ["set", id] });
        }
      });
      queue.current = next;
      return next;
    },
    [id, queries, say],
  );

  const path = { params: { path: { id } } };
  return {
    edit: (kind: SetEditKind, values: Record<string, unknown>) =>
      run((head) => data(api.POST("/api/sets/{id}/edits", { ...path, body: { head, kind, values } }))),
    undo: () => run((head) => data(api.POST("/api/sets/{id}/undo", { ...path, body: { head } }))),
    redo: () => run((head) => data(api.POST("/api/sets/{id}/redo", { ...path, body: { head } }))),
  };
}

export type SetEdits = ReturnType<typeof useSetEdits>;
