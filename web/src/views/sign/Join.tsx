/** A link that somebody was given: to make an account, or a new password for one. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useAct } from "../../api/acts";
import { api, data, Refusal } from "../../api/client";
import { keys } from "../../api/keys";
import { Busy } from "../../parts/Busy";
import { Mark } from "../../parts/Mark";

export function Component() {
  const token = useParams().token ?? "";
  const found = useQuery({
    queryKey: keys.invitation(token),
    queryFn: () => data(api.GET("/api/invitations/{token}", { params: { path: { token } } })),
    retry: false,
  });
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const reset = found.data?.kind === "reset";
  const enter = useAct(
    () => {
      const body = { password };
      const kept = (): undefined => undefined;
      return reset
        ? api.POST("/api/invitations/{token}", { params: { path: { token } }, body }).then(kept)
        : api.POST("/api/accounts", { body: { name, password, token } }).then(kept);
    },
    {
      ownTrouble: true,
      then: () => {
        queries.clear();
        return navigate("/", { replace: true });
      },
    },
  );
  if (found.isPending) return <Busy what="Looking at the link" />;
  const trouble = enter.error ?? found.error;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    enter.mutate();
  };
  return (
    <Box component="main" sx={{ minHeight: "100dvh", display: "grid", placeItems: "center", p: 2 }}>
      <Paper
        variant="card"
        component="form"
        onSubmit={submit}
        sx={{ width: 380, maxWidth: "100%", p: 4, display: "grid", gap: 2 }}
      >
        <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
          <Mark size={36} />
          <Typography variant="h1">{reset ? `Hello, ${found.data?.name}` : "Come in"}</Typography>
        </Box>
        {found.data && (
          <>
            <Typography>
              {reset
                ? "Choose a new password. Wherever the old one was in use, it is signed out."
                : "Somebody has made room for you at this table. Choose a name and a password of your own."}
            </Typography>
            {!reset && (
              <TextField
                label="Name"
                autoComplete="username"
                required
                value={name}
                onChange={(e) => setName(e.target.value)}
              />
            )}
            <TextField
              label={reset ? "New password" : "Password"}
              type="password"
              autoComplete="new-password"
              required
              value={password}
              onChange={(e) => setPassword(e.target.value)}
            />
          </>
        )}
        {trouble && (
          <Typography role="alert" sx={{ fontWeight: 600 }}>
            {trouble instanceof Refusal ? trouble.message : "That did not work; try again."}
          </Typography>
        )}
        {found.data ? (
          <Button type="submit" variant="contained" size="medium" disabled={enter.isPending}>
            {reset ? "Keep it and go in" : "Make the account"}
          </Button>
        ) : (
          <Link to="/sign-in">To the sign-in</Link>
        )}
      </Paper>
    </Box>
  );
}
