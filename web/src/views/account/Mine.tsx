/** One's own account: another password, signed out everywhere, given up for good. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { type FormEvent, useState } from "react";
import { useAct } from "../../api/acts";
import { api } from "../../api/client";
import { say } from "../../parts/said";
import { signal } from "../../theme/theme";

/** Nothing of what was seen stays: the page begins anew. */
const outside = () => window.location.assign("/sign-in");

function Trouble({ error }: { error: Error | null }) {
  if (!error) return null;
  return (
    <Typography role="alert" sx={{ borderLeft: `4px solid ${signal}`, pl: 1 }}>
      {error.message}
    </Typography>
  );
}

function Password({
  label,
  value,
  onType,
  fresh = false,
}: {
  label: string;
  value: string;
  onType: (v: string) => void;
  fresh?: boolean;
}) {
  return (
    <TextField
      label={label}
      type="password"
      required
      autoComplete={fresh ? "new-password" : "current-password"}
      value={value}
      onChange={(e) => onType(e.target.value)}
      sx={{ width: 240 }}
    />
  );
}

export function OtherPassword() {
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const change = useAct(() => api.POST("/api/session/password", { body: { old, new: fresh } }), {
    ownTrouble: true,
    then: () => {
      setOld("");
      setFresh("");
      say({ sentence: "That is your password from now on. Your other devices are signed out." });
    },
  });
  const everywhere = useAct(() => api.POST("/api/session/everywhere"), {
    then: outside,
    otherwise: "It did not work; try again.",
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    change.mutate();
  };
  return (
    <Box component="section" aria-label="Password" sx={{ display: "grid", gap: 1 }}>
      <Typography variant="h2">Password</Typography>
      <Box
        component="form"
        onSubmit={submit}
        sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}
      >
        <Password label="As it is" value={old} onType={setOld} />
        <Password label="As it is to be" value={fresh} onType={setFresh} fresh />
        <Button type="submit" variant="outlined" disabled={change.isPending || !old || !fresh}>
          Change it
        </Button>
      </Box>
      <Trouble error={change.error} />
      <Box>
        <Button variant="text" disabled={everywhere.isPending} onClick={() => everywhere.mutate()}>
          Sign out on every device
        </Button>
      </Box>
    </Box>
  );
}

export function GiveUp() {
  const [open, setOpen] = useState(false);
  const [password, setPassword] = useState("");
  const gone = useAct(() => api.POST("/api/accounts/gone", { body: { password } }), {
    ownTrouble: true,
    then: outside,
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    gone.mutate();
  };
  return (
    <Box component="section" aria-label="Giving it up" sx={{ display: "grid", gap: 1 }}>
      <Typography variant="h2">Giving it up</Typography>
      {open ? (
        <>
          <Typography sx={{ fontWeight: 600 }}>
            Pads, sets, builds, the log and its photographs are gone for good, and nobody can bring them back.
            Fetch the archive first if you may want them.
          </Typography>
          <Box
            component="form"
            onSubmit={submit}
            sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}
          >
            <Password label="Your password" value={password} onType={setPassword} />
            <Button type="submit" variant="contained" disabled={gone.isPending || !password}>
              Everything of mine is to go
            </Button>
            <Button variant="text" onClick={() => setOpen(false)}>
              Stay
            </Button>
          </Box>
          <Trouble error={gone.error} />
        </>
      ) : (
        <Box>
          <Button variant="text" onClick={() => setOpen(true)}>
            Give this account up
          </Button>
        </Box>
      )}
    </Box>
  );
}
