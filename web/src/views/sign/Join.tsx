/** A link that somebody was given: to make an account, or a new password for one. */
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useAct } from "../../api/acts";
import { api, data, Refusal } from "../../api/client";
import { keys } from "../../api/keys";
import { Busy } from "../../parts/Busy";
import { Door, NameField, PasswordField, Refused } from "./Door";

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
  return (
    <Door title={reset ? `Hello, ${found.data?.name}` : "Come in"} onSubmit={() => enter.mutate()}>
      {found.data && (
        <>
          <Typography>
            {reset
              ? "Choose a new password. Wherever the old one was in use, it is signed out."
              : "Somebody has made room for you at this table. Choose a name and a password of your own."}
          </Typography>
          {!reset && <NameField value={name} onChange={setName} />}
          <PasswordField
            label={reset ? "New password" : "Password"}
            value={password}
            onChange={setPassword}
            fresh
          />
        </>
      )}
      {trouble && (
        <Refused>{trouble instanceof Refusal ? trouble.message : "That did not work; try again."}</Refused>
      )}
      {found.data ? (
        <Button type="submit" variant="contained" size="medium" disabled={enter.isPending}>
          {reset ? "Keep it and go in" : "Make the account"}
        </Button>
      ) : (
        <Link to="/sign-in">To the sign-in</Link>
      )}
    </Door>
  );
}
