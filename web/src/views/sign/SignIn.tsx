/** Signing in, making an account, or going in as the demo maker. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { api, Refusal } from "../../api/client";
import { useSession } from "../../api/hooks";
import { Mark } from "../../parts/Mark";
import { display } from "../../theme/theme";

export function Component() {
  const session = useSession();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const place = useLocation();
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [wanted, setFresh] = useState(false);
  const first = session.data?.joining === "first";
  const fresh = wanted || first;
  const [trouble, setTrouble] = useState<Refusal | null>(null);
  const [busy, setBusy] = useState(false);

  const enter = async (act: () => Promise<unknown>) => {
    if (busy) return;
    setBusy(true);
    setTrouble(null);
    try {
      await act();
      queries.clear();
      const from = (place.state as { from?: string } | null)?.from ?? "/";
      await navigate(from, { replace: true });
    } catch (error) {
      setTrouble(
        error instanceof Refusal ? error : new Refusal(0, "failed", "Signing in did not work; try again."),
      );
    } finally {
      setBusy(false);
    }
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const body = { name, password };
    void enter(() =>
      fresh
        ? api.POST("/api/accounts", { body: { ...body, token: "" } })
        : api.POST("/api/session", { body }),
    );
  };

  return (
    <Box component="main" sx={{ minHeight: "100dvh", display: "grid", placeItems: "center", p: 2 }}>
      <Paper
        variant="card"
        component="form"
        onSubmit={submit}
        sx={{
          width: 360,
          maxWidth: "100%",
          p: 4,
          display: "grid",
          gap: 2,
        }}
      >
        <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
          <Mark size={36} />
          <Typography variant="h1" sx={{ fontFamily: display }}>
            Anastrata
          </Typography>
        </Box>
        <Typography>
          {first
            ? "Nobody is here yet. The account that you make now runs the house: it invites the others."
            : "See the card before you ink it."}
        </Typography>
        {session.data?.demo && (
          <Button
            variant="contained"
            size="medium"
            disabled={busy}
            onClick={() => enter(() => api.POST("/api/session/demo"))}
          >
            Go in as the demo maker
          </Button>
        )}
        <TextField
          label="Name"
          autoComplete="username"
          required
          value={name}
          onChange={(e) => setName(e.target.value)}
          error={trouble?.field === "name"}
        />
        <TextField
          label="Password"
          type="password"
          autoComplete={fresh ? "new-password" : "current-password"}
          required
          value={password}
          onChange={(e) => setPassword(e.target.value)}
          error={trouble?.field === "password"}
        />
        {trouble && (
          <Typography role="alert" sx={{ fontWeight: 600 }}>
            {trouble.message}
          </Typography>
        )}
        <Button
          type="submit"
          size="medium"
          variant={session.data?.demo ? "outlined" : "contained"}
          disabled={busy}
        >
          {fresh ? "Make the account" : "Sign in"}
        </Button>
        {session.data?.joining === "open" && (
          <Button variant="text" onClick={() => setFresh(!fresh)}>
            {fresh ? "I have an account" : "Make an account"}
          </Button>
        )}
        {session.data?.joining === "invited" && (
          <Typography variant="body2">
            Accounts are made by invitation here. Ask who runs it for a link, also if your password is gone.
          </Typography>
        )}
      </Paper>
    </Box>
  );
}
