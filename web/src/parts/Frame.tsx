/** The frame of every planning screen: the mark, the places, who is here. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { Link, Navigate, NavLink, Outlet, useLocation, useNavigate } from "react-router";
import { useAct } from "../api/acts";
import { api } from "../api/client";
import { useSession } from "../api/hooks";
import { keys } from "../api/keys";
import { display, greys } from "../theme/theme";
import { Busy } from "./Busy";
import type { Units } from "./lengths";
import { Mark } from "./Mark";
import { forget } from "./offline";
import { useThere } from "./useThere";

const PLACES = [
  { to: "/", label: "Home" },
  { to: "/sets", label: "Sets" },
  { to: "/inks", label: "Inks" },
  { to: "/log", label: "Log" },
];

export function Frame() {
  const session = useSession();
  const place = useLocation();
  const here = useThere(session.isPending ? undefined : session);
  if (!here) return <Busy what="Opening the workshop" />;
  if (!here.data?.name) return <Navigate to="/sign-in" state={{ from: place.pathname }} replace />;
  return (
    <Box sx={{ minHeight: "100dvh", display: "flex", flexDirection: "column" }}>
      <Box
        component="a"
        href="#main"
        sx={{
          position: "absolute",
          left: -9999,
          "&:focus": { left: 8, top: 8, zIndex: 9, bgcolor: greys.white, p: 1 },
        }}
      >
        Skip to the work
      </Box>
      <TopBar name={here.data.name} units={here.data.units} />
      <Box
        component="main"
        id="main"
        sx={{ flex: 1, display: "flex", flexDirection: "column", minHeight: 0 }}
      >
        <Outlet />
      </Box>
    </Box>
  );
}

function TopBar({ name, units }: { name: string; units: Units }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const otherUnits = useAct(
    () => api.PATCH("/api/preferences", { body: { units: units === "in" ? "mm" : "in" } }),
    { changes: [keys.session], otherwise: "The units could not be changed." },
  );
  const signOut = useAct(() => api.DELETE("/api/session"), {
    then: async () => {
      queries.clear();
      await forget();
      await navigate("/sign-in");
    },
    otherwise: "Signing out did not work.",
  });
  return (
    <Box
      component="header"
      sx={{
        display: "flex",
        alignItems: "center",
        gap: { xs: 1, sm: 3 },
        px: { xs: 1, sm: 2.5 },
        height: 48,
        bgcolor: greys.sheet,
        borderBottom: `1px solid ${greys.line}`,
      }}
    >
      <Box
        component={NavLink}
        to="/"
        aria-label="Anastrata, home"
        sx={{ display: "flex", alignItems: "center", gap: 1, color: greys.ink, textDecoration: "none" }}
      >
        <Mark />
        <Typography
          component="span"
          sx={{
            fontFamily: display,
            fontSize: 21,
            fontWeight: 560,
            letterSpacing: "-0.02em",
            display: { xs: "none", sm: "inline" },
          }}
        >
          Anastrata
        </Typography>
      </Box>
      <Box component="nav" aria-label="Places" sx={{ display: "flex", gap: { xs: 0, sm: 0.5 } }}>
        {PLACES.map(({ to, label }) => (
          <Box
            key={to}
            component={NavLink}
            to={to}
            end={to === "/"}
            sx={{
              px: { xs: 0.625, sm: 1.25 },
              py: 0.5,
              color: greys.ink,
              textDecoration: "none",
              fontWeight: 500,
              borderBottom: "3px solid transparent",
              "&.active": { borderBottomColor: greys.ink, fontWeight: 640 },
            }}
          >
            {label}
          </Box>
        ))}
      </Box>
      <Box sx={{ flex: 1 }} id="bar-middle" />
      <Typography
        component={Link}
        to="/account"
        variant="caption"
        title="Everything out and in"
        sx={{ color: greys.quiet, display: { xs: "none", sm: "block" } }}
      >
        {name}
      </Typography>
      <Button variant="text" title="Show lengths in the other units" onClick={() => otherUnits.mutate()}>
        {units === "in" ? "Inches" : "Millimetres"}
      </Button>
      <Button variant="text" onClick={() => signOut.mutate()}>
        Sign out
      </Button>
    </Box>
  );
}
