/** The order of work for all cards, and the search for a better one: begun once for each plan, followed, stopped. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { useAct } from "../../../api/acts";
import { api, data, type OrderOfWork } from "../../../api/client";
import { keys } from "../../../api/keys";
import { useShared } from "../context";

const LOOK_EVERY_MS = 700;
const QUIET_MS = 1500;
// after the last change: while somebody is still choosing, nothing is searched

export const underWay = (order: OrderOfWork | undefined) =>
  order?.job?.state === "queued" || order?.job?.state === "running";

export function useOrder() {
  const { id, state } = useShared();
  const queries = useQueryClient();
  const own = keys.order(id, state.revision, state.picture_key);
  const query = useQuery({
    queryKey: keys.order(id, state.revision, state.picture_key),
    queryFn: () => data(api.GET("/api/colourings/{id}/order", { params: { path: { id } } })),
    refetchInterval: (q) => (underWay(q.state.data) ? LOOK_EVERY_MS : false),
    placeholderData: (before) => before,
  });
  const seen = async (order: OrderOfWork) => {
    // what was asked for before the act tells of before it, and would say that nothing is under way
    await queries.cancelQueries({ queryKey: own });
    queries.setQueryData(own, order);
  };
  const look = useAct(
    () => data(api.POST("/api/colourings/{id}/order/search", { params: { path: { id } } })),
    { then: seen, otherwise: "No better order could be looked for." },
  );
  const stop = useAct(
    () => data(api.DELETE("/api/colourings/{id}/order/search", { params: { path: { id } } })),
    { then: seen },
  );
  const take = useAct(
    (taken: boolean) =>
      data(api.PUT("/api/colourings/{id}/order/taken", { params: { path: { id } }, body: { taken } })),
    { changes: [keys.colouring(id), keys.builds, keys.orders(id)] },
  );
  const order = query.data;
  const begun = useRef("");
  const { mutate } = look;
  const fresh = query.isPlaceholderData ? undefined : order;
  useEffect(() => {
    // a plan that nobody has searched for yet, and that is not known to be the shortest
    const open = fresh && fresh.visits.length > 0 && !fresh.better && !fresh.job;
    if (!open || fresh.proven || begun.current === fresh.key) return;
    const timer = setTimeout(() => {
      begun.current = fresh.key;
      mutate();
    }, QUIET_MS);
    return () => clearTimeout(timer);
  }, [fresh, mutate]);
  return { order, error: query.error, again: () => void query.refetch(), look, stop, take };
}
