/** One question at a time: while an answer is on its way only the latest wish is remembered. */
import { useEffect, useRef, useState } from "react";
import { api, data, Refusal, type Recipes, type Wanted } from "../../../api/client";

export function useLatest(wanted: Wanted | null) {
  const [answer, setAnswer] = useState<Recipes | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const busy = useRef(false);
  const next = useRef<Wanted | null>(null);
  const key = JSON.stringify(wanted);

  useEffect(() => {
    next.current = JSON.parse(key) as Wanted | null;
    const ask = async () => {
      if (busy.current) return;
      busy.current = true;
      while (next.current) {
        const body = next.current;
        next.current = null;
        try {
          setAnswer(await data(api.POST("/api/recipes", { body })));
          setTrouble(null);
        } catch (error) {
          setTrouble(error instanceof Refusal ? error.message : "That could not be asked; try again.");
        }
      }
      busy.current = false;
    };
    void ask();
  }, [key]);
  return { answer, trouble };
}
