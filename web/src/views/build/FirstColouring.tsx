/** An address that names a build only: its first colouring, at the same place. */
import { useQuery } from "@tanstack/react-query";
import { Navigate, useLocation, useParams } from "react-router";
import { api, data } from "../../api/client";
import { keys } from "../../api/keys";
import { Busy } from "../../parts/Busy";
import { Trouble } from "../../parts/Trouble";
import { placeOf, PLACES } from "./paths";

export function Component() {
  const { buildId, tab } = useParams();
  const { search } = useLocation();
  const id = Number(buildId);
  const build = useQuery({
    queryKey: keys.build(id),
    queryFn: () => data(api.GET("/api/builds/{id}", { params: { path: { id } } })),
  });
  const first = build.data?.colourings[0];
  if (build.error) return <Trouble alone error={build.error} again={() => void build.refetch()} />;
  if (!first) return <Busy what="Laying out the build" />;
  const wanted = PLACES.find((t) => t === tab) ?? "strata";
  return <Navigate to={placeOf(id, first.id, wanted) + search} replace />;
}
