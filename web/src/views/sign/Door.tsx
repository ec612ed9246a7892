/** The page before the table: the mark, a title, and what is asked of who comes. */
import Box from "@mui/material/Box";
import Paper from "@mui/material/Paper";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { FormEvent, ReactNode } from "react";
import { Mark } from "../../parts/Mark";
import { display } from "../../theme/theme";

interface Props {
  title: string;
  onSubmit: () => void;
  children: ReactNode;
}

export function Door({ title, onSubmit, children }: Props) {
  const submit = (event: FormEvent) => {
    event.preventDefault();
    onSubmit();
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
          <Typography variant="h1" sx={{ fontFamily: display }}>
            {title}
          </Typography>
        </Box>
        {children}
      </Paper>
    </Box>
  );
}

interface Asked {
  value: string;
  onChange: (value: string) => void;
  error?: boolean;
}

export const NameField = ({ value, onChange, error = false }: Asked) => (
  <TextField
    label="Name"
    autoComplete="username"
    required
    value={value}
    onChange={(e) => onChange(e.target.value)}
    error={error}
  />
);

/** `fresh` where it is chosen now, so that a keeper of passwords offers one. */
export const PasswordField = ({
  value,
  onChange,
  error = false,
  fresh,
  label = "Password",
}: Asked & { fresh: boolean; label?: string }) => (
  <TextField
    label={label}
    type="password"
    autoComplete={fresh ? "new-password" : "current-password"}
    required
    value={value}
    onChange={(e) => onChange(e.target.value)}
    error={error}
  />
);

export const Refused = ({ children }: { children: string }) => (
  <Typography role="alert" sx={{ fontWeight: 600 }}>
    {children}
  </Typography>
);
