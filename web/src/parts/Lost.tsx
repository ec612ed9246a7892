import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link, useRouteError } from "react-router";

/** Nothing at this address, or a view that failed to open. */
export function Lost({ inside = false }: { inside?: boolean }) {
  const error = useRouteError();
  const gone = error === undefined || error === null || (typeof error === "object" && "status" in error);
  return (
    <Box component={inside ? "div" : "main"} sx={{ p: 6, maxWidth: 560 }}>
      <Typography variant="h1">{gone ? "There is nothing here" : "This page could not be opened"}</Typography>
      <Typography sx={{ my: 2 }}>
        {gone
          ? "The address may be mistyped, or what was here is put away."
          : "What you made is kept. Load the page again; if that does not help, go home and come back."}
      </Typography>
      <Button variant="contained" component={Link} to="/">
        Go home
      </Button>
    </Box>
  );
}
