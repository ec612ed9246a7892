/** Everything a maker has, carried away as one file and brought in on another machine. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import { useAct } from "../../api/acts";
import { type AccountCarried, api, data, uploadFile } from "../../api/client";
import { useSession } from "../../api/hooks";
import { underWay } from "../../api/jobs";
import { keys } from "../../api/keys";
import { Busy } from "../../parts/Busy";
import { FileButton } from "../../parts/FileButton";
import { JobProgress } from "../../parts/JobProgress";
import { Trouble } from "../../parts/Trouble";
import { signal } from "../../theme/theme";
import { GiveUp, OtherPassword } from "./Mine";

const COUNTED = [
  ["inks", "pads"],
  ["sets", "sets"],
  ["builds", "builds"],
  ["records", "cards in the log"],
  ["photographs", "photographs"],
] as const;

type Way = NonNullable<AccountCarried["out"]>;

export function Component() {
  const carried = useQuery({
    queryKey: keys.account,
    queryFn: () => data(api.GET("/api/account")),
    refetchInterval: (query) => {
      const ways = [query.state.data?.out, query.state.data?.into];
      return ways.some((way) => underWay(way?.job)) ? 400 : false;
    },
  });
  const session = useSession();
  useEffect(() => {
    document.title = "Everything · Anastrata";
  }, []);
  if (carried.error) return <Trouble alone error={carried.error} again={() => void carried.refetch()} />;
  if (!carried.data) return <Busy what="Looking it up" />;
  return (
    <Box sx={{ p: { xs: 2, sm: 4 }, maxWidth: 760, width: "100%", mx: "auto", display: "grid", gap: 3 }}>
      <Box sx={{ display: "flex", gap: 2, alignItems: "baseline", flexWrap: "wrap" }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          Everything, out and in
        </Typography>
        {session.data?.owner && <Link to="/house">The house: how it is, who may come in</Link>}
      </Box>
      <Out way={carried.data.out} />
      <Into way={carried.data.into} empty={carried.data.empty} />
      {!session.data?.demo && <OtherPassword />}
      {!session.data?.demo && <GiveUp />}
    </Box>
  );
}

function Out({ way }: { way: AccountCarried["out"] }) {
  const pack = useAct(() => data(api.POST("/api/account/out")), {
    changes: [keys.account],
    otherwise: "It could not be packed.",
  });
  const working = underWay(way?.job);
  return (
    <Box component="section" aria-label="Out" sx={{ display: "grid", gap: 1 }}>
      <Typography variant="h2">Out</Typography>
      <Typography>
        One file with all of it: pads and their readings, sets, builds with everything that can be undone, the
        log with its photographs. Inside, the same can be read without Anastrata: tables, drawings, plans and
        pictures.
      </Typography>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        <Button
          variant={way?.ready ? "outlined" : "contained"}
          disabled={working || pack.isPending}
          onClick={() => pack.mutate()}
        >
          {way?.ready ? "Pack it anew" : "Pack everything"}
        </Button>
        {way?.ready && !working && (
          <Button variant="contained" component="a" href="/api/account/archive.zip" download>
            Fetch the archive
          </Button>
        )}
      </Box>
      <HowFar way={way} what="Packing" done="Packed" />
    </Box>
  );
}

function Into({ way, empty }: { way: AccountCarried["into"]; empty: boolean }) {
  const queries = useQueryClient();
  const bring = useAct((file: File) => uploadFile<AccountCarried>("/api/account/in", file), {
    changes: [keys.account],
    otherwise: "That archive could not be brought in.",
  });
  const working = underWay(way?.job);
  const done = way?.job?.state === "done";
  useEffect(() => {
    // everything there was to see is other than it was
    if (done) void queries.invalidateQueries();
  }, [done, queries]);
  return (
    <Box component="section" aria-label="In" sx={{ display: "grid", gap: 1 }}>
      <Typography variant="h2">In</Typography>
      <Typography>
        {empty || working
          ? "Bring in an archive that was packed here or on another machine: all of it comes, or nothing."
          : "An archive can be brought into an empty account. This one has something in it: make a new account, sign in to it, and bring the archive in there."}
      </Typography>
      {empty && (
        <Box>
          <FileButton
            what="The archive"
            accept=".zip,application/zip"
            variant="contained"
            disabled={working || bring.isPending}
            onFile={(file) => bring.mutate(file)}
          >
            {bring.isPending ? "Sending it…" : "Bring an archive in"}
          </FileButton>
        </Box>
      )}
      <HowFar way={way} what="Bringing it in" done="Brought in" />
    </Box>
  );
}

function HowFar({ way, what, done }: { way: Way | null; what: string; done: string }) {
  const state = way?.job?.state;
  if (!way || !state) return null;
  if (underWay(way.job)) return <JobProgress job={way.job} what={what} />;
  if (state === "failed") {
    return (
      <Typography role="alert" sx={{ borderLeft: `4px solid ${signal}`, pl: 1 }}>
        {way.job?.sentence}
      </Typography>
    );
  }
  const told = way.told;
  if (!told) return null;
  return (
    <Typography role="status">
      {done}: {COUNTED.map(([kind, said]) => `${told[kind] ?? 0} ${said}`).join(", ")}.
    </Typography>
  );
}
