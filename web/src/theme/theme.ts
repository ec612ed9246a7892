/**
 * Neutral ground for judging colour: every surface is an exact grey (R = G = B),
 * near-black for ink and action, one signal colour that only marks "now".
 */
import { createTheme } from "@mui/material/styles";

export const greys = {
  ground: "#d4d4d4",
  bench: "#e4e4e4",
  sheet: "#f1f1f1",
  line: "#b9b9b9",
  quiet: "#545454",
  ink: "#1a1a1a",
  white: "#ffffff",
  /** What is typed into. */
  field: "#f7f7f7",
  /** The rim of a drawn core or swatch, and the fine rules inside one. */
  edge: "#8a8a8a",
  rule: "#cfcfcf",
} as const;

declare module "@mui/material/Paper" {
  interface PaperPropsVariantOverrides {
    card: true;
    slip: true;
    tray: true;
    warning: true;
  }
}

export const signal = "#a8380a";
export const display = '"Fraunces Variable", Georgia, serif';
const sans = '"Commissioner Variable", "Segoe UI", sans-serif';

export const theme = createTheme({
  palette: {
    mode: "light",
    primary: { main: greys.ink, contrastText: "#ffffff" },
    secondary: { main: signal, contrastText: "#ffffff" },
    background: { default: greys.ground, paper: greys.sheet },
    text: { primary: greys.ink, secondary: greys.quiet },
    divider: greys.line,
  },
  shape: { borderRadius: 4 },
  spacing: 8,
  typography: {
    fontFamily: sans,
    fontSize: 14,
    h1: {
      fontFamily: display,
      fontSize: "2.1rem",
      fontWeight: 480,
      letterSpacing: "-0.015em",
      lineHeight: 1.15,
    },
    h2: {
      fontFamily: display,
      fontSize: "1.4rem",
      fontWeight: 520,
      letterSpacing: "-0.01em",
      lineHeight: 1.2,
    },
    h3: { fontFamily: display, fontSize: "1.1rem", fontWeight: 560, lineHeight: 1.25 },
    button: { textTransform: "none", fontWeight: 560, letterSpacing: 0 },
    caption: { fontSize: "0.78rem", lineHeight: 1.35 },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        html: { colorScheme: "light" },
        body: { fontVariantNumeric: "tabular-nums", backgroundColor: greys.ground },
        a: { color: "inherit" },
        // a list here is a shelf of things, never bullets
        "ul, ol": { listStyle: "none", margin: 0, padding: 0 },
        "*:focus-visible": {
          outline: `3px solid ${greys.ink}`,
          outlineOffset: 2,
          boxShadow: "0 0 0 2px #fff",
        },
        // by these a field learns what the browser filled in; once here, not once for each field
        "@keyframes mui-auto-fill": { from: { display: "block" } },
        "@keyframes mui-auto-fill-cancel": { from: { display: "block" } },
        "@media (prefers-reduced-motion: reduce)": {
          "*": { animation: "none !important", transition: "none !important" },
        },
      },
    },
    MuiButtonBase: {
      defaultProps: { disableRipple: true },
      styleOverrides: { root: { fontFamily: "inherit" } },
    },
    MuiButton: {
      defaultProps: { disableElevation: true, size: "small" },
      styleOverrides: {
        root: { minHeight: 32, paddingInline: 14, whiteSpace: "nowrap" },
        outlined: { borderColor: greys.ink, borderWidth: 1, backgroundColor: "transparent" },
        text: {
          textDecoration: "underline",
          textDecorationThickness: 1,
          textUnderlineOffset: 3,
          paddingInline: 8,
        },
      },
    },
    MuiIconButton: {
      defaultProps: { size: "small" },
      styleOverrides: { root: { color: greys.ink, borderRadius: 4 } },
    },
    MuiPaper: {
      defaultProps: { elevation: 0 },
      styleOverrides: { root: { backgroundImage: "none" } },
      variants: [
        // a card lies on the bench, a slip of paper on a card, a tray holds several things
        {
          props: { variant: "card" },
          style: { backgroundColor: greys.sheet, border: `1px solid ${greys.line}` },
        },
        {
          props: { variant: "slip" },
          style: { backgroundColor: greys.white, border: `1px solid ${greys.line}` },
        },
        {
          props: { variant: "tray" },
          style: { backgroundColor: greys.bench, border: `1px solid ${greys.line}` },
        },
        {
          props: { variant: "warning" },
          style: { backgroundColor: greys.sheet, border: `1px solid ${greys.ink}`, padding: "8px 12px" },
        },
      ],
    },
    MuiSnackbarContent: {
      styleOverrides: {
        root: { backgroundColor: greys.ink, color: greys.white, fontSize: 15, maxWidth: 620 },
      },
    },
    MuiTextField: { defaultProps: { size: "small", variant: "outlined" } },
    MuiSelect: { defaultProps: { size: "small" } },
    MuiInputBase: { defaultProps: { disableInjectingGlobalStyles: true } },
    MuiOutlinedInput: {
      styleOverrides: { root: { backgroundColor: greys.field }, notchedOutline: { borderColor: "#7a7a7a" } },
    },
    MuiDialog: { styleOverrides: { paper: { backgroundColor: greys.sheet } } },
    MuiTooltip: {
      defaultProps: { arrow: true, enterDelay: 500, describeChild: true },
      styleOverrides: { tooltip: { backgroundColor: greys.ink, fontSize: 13 }, arrow: { color: greys.ink } },
    },
    MuiLink: { defaultProps: { color: "inherit" } },
  },
});
