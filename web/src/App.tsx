/** The screens, with what all of them share. */
import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { RouterProvider } from "react-router/dom";
import { Notices } from "./parts/Notices";
import { queries } from "./queries";
import { router } from "./routes";
import { theme } from "./theme/theme";

export function App() {
  return (
    <StrictMode>
      <ThemeProvider theme={theme}>
        <CssBaseline />
        <QueryClientProvider client={queries}>
          <RouterProvider router={router} />
          <Notices />
        </QueryClientProvider>
      </ThemeProvider>
    </StrictMode>
  );
}
