/** Signing in, making an account, or going in as the demo maker. */
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { api, Refusal } from "../../api/client";
import { useSession } from "../../api/hooks";
import { Door, NameField, PasswordField, Refused } from "./Door";

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
  const submit = () => {
    const body = { name, password };
    void enter(() =>
      fresh
        ? api.POST("/api/accounts", { body: { ...body, token: "" } })
        : api.POST("/api/session", { body }),
    );
  };

  return (
    <Door title="Anastrata" onSubmit={submit}>
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
      <NameField value={name} onChange={setName} error={trouble?.field === "name"} />
      <PasswordField
        value={password}
        onChange={setPassword}
        error={trouble?.field === "password"}
        fresh={fresh}
      />
      {trouble && <Refused>{trouble.message}</Refused>}
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
    </Door>
  );
}
