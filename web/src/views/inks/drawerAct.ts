/** A change to the drawer: made, shown everywhere, said, and taken back by one press as long as nothing came after it. */
import { useQueryClient } from "@tanstack/react-query";
import { freshKey, useAct } from "../../api/acts";
import { api, data } from "../../api/client";
import { keys, OF_THE_DRAWER } from "../../api/keys";
import { say } from "../../parts/said";

interface Options<Given, Made> {
  /** What is said once it is done, with the way back; nothing where it goes without saying. */
  said?: (given: Given, made: Made) => string;
  /** What the way back is called: “Undo” where nothing better is said. */
  back?: string;
  then?: (made: Made, given: Given) => unknown;
  otherwise?: string;
  ownTrouble?: boolean;
  line?: string;
}

/** Undo and redo of the drawer, decided on the revision that was seen. */
export function useWayBack() {
  const queries = useQueryClient();
  return useAct(
    async ({ to, revision }: { to: "undo" | "redo"; revision?: number }) => {
      const body = { edit_key: freshKey(), ...(revision === undefined ? {} : { revision }) };
      const path = to === "undo" ? "/api/drawer/undo" : "/api/drawer/redo";
      try {
        return await data(api.POST(path, { body }));
      } catch (error) {
        await queries.invalidateQueries({ queryKey: keys.drawerHistory });
        throw error;
      }
    },
    { changes: OF_THE_DRAWER, otherwise: "That could not be taken back." },
  );
}

export function useDrawerAct<Given = void, Made = unknown>(
  act: (given: Given) => Promise<Made>,
  { said, then, back: label = "Undo", ...rest }: Options<Given, Made> = {},
) {
  const back = useWayBack();
  return useAct<Given, Made>(act, {
    ...rest,
    changes: OF_THE_DRAWER,
    then: async (made, given) => {
      if (said) {
        const now = await data(api.GET("/api/drawer/history"));
        say({
          sentence: said(given, made),
          action: { label, run: () => back.mutate({ to: "undo", revision: now.revision }) },
        });
      }
      await then?.(made, given);
    },
  });
}
