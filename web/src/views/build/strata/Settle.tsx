/** For every pad that is missing, the one that does its work best here, all as one change. */
import Button from "@mui/material/Button";
import { useAct } from "../../../api/acts";
import { api, data } from "../../../api/client";
import { GONE } from "../../../parts/pads";
import { useShared } from "../context";

export function Settle() {
  const { id, state, change } = useShared();
  const rungs = state.elements.flatMap((e) => e.rungs);
  const missing = [...new Set(rungs.filter((r) => r.state in GONE).map((r) => r.ink))];
  const settle = useAct(
    async () => {
      const found = await Promise.all(
        missing.map((ink) =>
          data(api.GET("/api/colourings/{id}/stand-ins", { params: { path: { id }, query: { ink } } })),
        ),
      );
      return found.flatMap((all) => all.slice(0, 1));
    },
    {
      otherwise: "No stand-ins could be found.",
      then: (best) => {
        if (best.length)
          change("several", { edits: best.map((s) => ({ kind: "replace_ink", values: s.values })) });
      },
    },
  );
  // of one alone its own warning speaks
  if (missing.length < 2) return null;
  return (
    <Button variant="outlined" disabled={settle.isPending} onClick={() => settle.mutate()}>
      Stand-ins for {missing.length} missing pads
    </Button>
  );
}
