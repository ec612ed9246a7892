/** How it is, for who runs the house: disk, backup, who is here, who may come in. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useEffect, useState } from "react";
import { useAct } from "../../api/acts";
import { api, data, type House } from "../../api/client";
import { useSession } from "../../api/hooks";
import { keys } from "../../api/keys";
import { Busy } from "../../parts/Busy";
import { Trouble } from "../../parts/Trouble";
import { greys, signal } from "../../theme/theme";
import { day } from "../log/words";

const megabytes = (mb: number) => (mb >= 1000 ? `${(mb / 1000).toFixed(1)} GB` : `${Math.round(mb)} MB`);

export function Component() {
  const house = useQuery({ queryKey: keys.house, queryFn: () => data(api.GET("/api/house")) });
  useEffect(() => {
    document.title = "The house · Anastrata";
  }, []);
  if (house.error) return <Trouble alone error={house.error} again={() => void house.refetch()} />;
  if (!house.data) return <Busy what="Looking round the house" />;
  return (
    <Box sx={{ p: { xs: 2, sm: 4 }, maxWidth: 860, width: "100%", mx: "auto", display: "grid", gap: 3 }}>
      <Typography variant="h1">The house</Typography>
      <HowItIs house={house.data} />
      <Makers house={house.data} />
      <ComingIn house={house.data} />
      <Tablets house={house.data} />
    </Box>
  );
}

export function HowItIs({ house }: { house: House }) {
  const { backup } = house;
  const worry = !backup || backup.old || house.free_mb < 1000;
  return (
    <Box component="section" aria-label="How it is" sx={{ display: "grid", gap: 0.5 }}>
      <Typography variant="h2">How it is</Typography>
      <Typography sx={worry ? { borderLeft: `4px solid ${signal}`, pl: 1, fontWeight: 600 } : {}}>
        {backup ? `Last backed up on ${day(backup.made)}.` : "Never backed up yet."}{" "}
        {(!backup || backup.old) &&
          "Run “make backup” on the house computer, or set its timer (docs/running)."}
      </Typography>
      <Typography>
        {megabytes(house.data_mb)} of data, {megabytes(house.free_mb)} free on the disk.{" "}
        {house.jobs ? `${house.jobs} under way. ` : "Nothing under way. "}
        {house.failed > 0 && `${house.failed} ended badly.`}
      </Typography>
      <Typography variant="caption">Anastrata {house.version}</Typography>
    </Box>
  );
}

function Makers({ house }: { house: House }) {
  const session = useSession();
  const [link, setLink] = useState<{ of: string; token: string } | null>(null);
  const reset = useAct(
    (maker: House["makers"][number]) =>
      data(api.POST("/api/house/invitations", { body: { said: "", reset: maker.id } })),
    {
      changes: [keys.house],
      then: ({ token }, maker) => setLink({ of: maker.name, token }),
      otherwise: "No link was made.",
    },
  );
  return (
    <Box component="section" aria-label="Who is here" sx={{ display: "grid", gap: 1 }}>
      <Typography variant="h2">Who is here</Typography>
      <Box component="ul" aria-label="Makers">
        {house.makers.map((maker) => (
          <Box
            component="li"
            key={maker.id}
            sx={{
              display: "flex",
              gap: 1.5,
              alignItems: "center",
              flexWrap: "wrap",
              borderBottom: `1px solid ${greys.line}`,
              py: 0.5,
            }}
          >
            <Typography sx={{ fontWeight: 600, flex: "1 1 160px" }}>{maker.name}</Typography>
            <Typography variant="body2">{megabytes(maker.kept_mb)} of pictures</Typography>
            <Typography variant="body2">
              {maker.seen ? `last in on ${day(maker.seen)}` : "not in yet"}
            </Typography>
            <Button
              variant="text"
              disabled={reset.isPending || maker.name === session.data?.name}
              onClick={() => reset.mutate(maker)}
            >
              New password for {maker.name}
            </Button>
          </Box>
        ))}
      </Box>
      {link && <Given house={house} said={`For ${link.of}, to choose a new password:`} token={link.token} />}
    </Box>
  );
}

/** A link to hand on; it is told once. */
export function Given({ house, said, token }: { house: House; said: string; token: string }) {
  // who sits at the house computer itself hands on the address at which the others find it
  const here = ["localhost", "127.0.0.1", "[::1]"].includes(window.location.hostname);
  const address = `${(here && house.addresses[0]?.address) || window.location.origin}/join/${token}`;
  const [copied, setCopied] = useState(false);
  return (
    <Box role="status" sx={{ bgcolor: greys.white, p: 1.5, display: "grid", gap: 0.5 }}>
      <Typography>{said}</Typography>
      <Typography component="code" sx={{ fontFamily: "monospace", overflowWrap: "anywhere" }}>
        {address}
      </Typography>
      {"clipboard" in navigator && (
        <Box>
          <Button
            variant="outlined"
            onClick={() => void navigator.clipboard.writeText(address).then(() => setCopied(true))}
          >
            {copied ? "Copied" : "Copy it"}
          </Button>
        </Box>
      )}
      <Typography variant="caption">
        It works once, for a week, and is not shown again. Give it only to whom it is for.
      </Typography>
    </Box>
  );
}

function ComingIn({ house }: { house: House }) {
  const [said, setSaid] = useState("");
  const [token, setToken] = useState("");
  const invite = useAct(() => data(api.POST("/api/house/invitations", { body: { said } })), {
    changes: [keys.house],
    then: (made) => {
      setToken(made.token);
      setSaid("");
    },
    otherwise: "No invitation was made.",
  });
  const take = useAct(
    (id: number) => api.DELETE("/api/house/invitations/{id}", { params: { path: { id } } }),
    {
      changes: [keys.house],
      otherwise: "It could not be taken back.",
    },
  );
  const open = useAct((value: boolean) => data(api.PATCH("/api/house", { body: { open: value } })), {
    changes: [keys.house, keys.session],
    otherwise: "It stays as it was.",
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    invite.mutate();
  };
  return (
    <Box component="section" aria-label="Coming in" sx={{ display: "grid", gap: 1 }}>
      <Typography variant="h2">Coming in</Typography>
      <Box
        component="form"
        onSubmit={submit}
        sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}
      >
        <TextField
          label="For whom (only you see it)"
          value={said}
          onChange={(e) => setSaid(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 120 } }}
          sx={{ width: 280 }}
        />
        <Button type="submit" variant="outlined" disabled={invite.isPending}>
          Invite somebody
        </Button>
      </Box>
      {token && <Given house={house} said="To make an account here:" token={token} />}
      {house.invitations.length > 0 && (
        <Box component="ul" aria-label="Invitations that are out">
          {house.invitations.map((one) => (
            <Box component="li" key={one.id} sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
              <Typography variant="body2" sx={{ flex: 1 }}>
                {one.reset ? `New password for ${one.reset}` : one.said || "An invitation"}, until{" "}
                {day(one.expires)}
              </Typography>
              <Button variant="text" disabled={take.isPending} onClick={() => take.mutate(one.id)}>
                Take it back
              </Button>
            </Box>
          ))}
        </Box>
      )}
      <FormControlLabel
        control={<Switch checked={house.open} onChange={(e) => open.mutate(e.target.checked)} />}
        label="Anybody who finds this house may make an account"
      />
    </Box>
  );
}

/** Where a tablet finds it: as an address, and as a code for its camera. */
export function Tablets({ house }: { house: House }) {
  return (
    <Box component="section" aria-label="On a tablet" sx={{ display: "grid", gap: 1 }}>
      <Typography variant="h2">On a tablet</Typography>
      {house.addresses.length === 0 && (
        <Typography>
          It is served on the house computer alone. Start it with “make serve HOST=0.0.0.0” and a tablet in
          the same network finds it; docs/running says how with a certificate, which the table needs to work
          without a network.
        </Typography>
      )}
      <Box sx={{ display: "flex", gap: 3, flexWrap: "wrap" }}>
        {house.addresses.map(({ address, code, side }) => (
          <Box key={address} sx={{ display: "grid", gap: 0.5, justifyItems: "center" }}>
            <svg
              viewBox={`0 0 ${side} ${side}`}
              role="img"
              aria-label={`${address} as a code for a camera`}
              width={180}
            >
              <rect width={side} height={side} fill="#fff" />
              <path d={code} fill="#000" />
            </svg>
            <Typography sx={{ fontWeight: 600 }}>{address}</Typography>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
