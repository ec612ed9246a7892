/** Changes to a set: sent one after another, undone and redone; the answer is the set as it stands. */
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef } from "react";
import { freshKey } from "../../../api/acts";
import { api, data, type LayerSet, Refusal, type SetEditKind } from "../../../api/client";
import { keys } from "../../../api/keys";
import { say } from "../../../parts/said";

export function useSetEdits(set: LayerSet) {
  const queries = useQueryClient();
  const queue = useRef<Promise<void>>(Promise.resolve());
  const id = set.id;

  const run = useCallback(
    (work: (revision: number, edit_key: string) => Promise<LayerSet>) => {
      const edit_key = freshKey();
      const next = queue.current.then(async () => {
        const revision = queries.getQueryData<LayerSet>(keys.set(id))?.revision ?? 0;
        try {
          queries.setQueryData(keys.set(id), await work(revision, edit_key));
          void queries.invalidateQueries({ queryKey: keys.sets });
        } catch (error) {
          say({ sentence: error instanceof Refusal ? error.message : "That did not work; try again." });
          if (error instanceof Refusal && error.status === 409)
            await queries.invalidateQueries({ queryKey: keys.set(id) });
        }
      });
      queue.current = next;
      return next;
    },
    [id, queries],
  );

  const path = { params: { path: { id } } };
  return {
    edit: (kind: SetEditKind, values: Record<string, unknown>) =>
      run((revision, edit_key) =>
        data(api.POST("/api/sets/{id}/edits", { ...path, body: { revision, edit_key, kind, values } })),
      ),
    undo: () =>
      run((revision, edit_key) =>
        data(api.POST("/api/sets/{id}/undo", { ...path, body: { revision, edit_key } })),
      ),
    redo: () =>
      run((revision, edit_key) =>
        data(api.POST("/api/sets/{id}/redo", { ...path, body: { revision, edit_key } })),
      ),
  };
}

export type SetEdits = ReturnType<typeof useSetEdits>;
