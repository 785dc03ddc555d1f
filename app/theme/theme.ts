/** The colours and type of the desk. Components name a role; the values stand only here. */

import { createTheme } from "@mui/material/styles";
import type {} from "@mui/material/themeCssVarsAugmentation";

interface Ink {
  main: string;
  wash: string;
}

declare module "@mui/material/styles" {
  interface Palette {
    /** What is ours: actions, sent. */
    tile: Ink & { deep: string; line: string };
    /** Needs a person. */
    clay: Ink;
    /** They answered; good. */
    kelp: Ink & { text: string; bright: string };
    /** Waiting, undecided. */
    ochre: Ink & { text: string; bright: string };
    margin: string;
  }
  interface PaletteOptions {
    tile: Palette["tile"];
    clay: Ink;
    kelp: Palette["kelp"];
    ochre: Palette["ochre"];
    margin: string;
  }
  interface TypographyVariants {
    /** Every word a prospect will read or wrote. */
    letter: React.CSSProperties;
    /** Small headings in the margin. */
    label: React.CSSProperties;
  }
  interface TypographyVariantsOptions {
    letter?: React.CSSProperties;
    label?: React.CSSProperties;
  }
}
declare module "@mui/material/Typography" {
  interface TypographyPropsVariantOverrides {
    letter: true;
    label: true;
  }
}

const serif = '"Newsreader Variable", Georgia, serif';
const sans = '"Hanken Grotesk Variable", "Segoe UI", sans-serif';

/** On a phone whatever is pressed is as large as a thumb. */
const PHONE = "@media (max-width: 599.95px)";
const forThumbs = { [PHONE]: { minHeight: 44 } };

export const theme = createTheme({
  cssVariables: true,
  palette: {
    primary: { main: "#1F4F8F", dark: "#153A6B", light: "#E4ECF6", contrastText: "#FFFFFF" },
    error: { main: "#A9481F" },
    warning: { main: "#B5512B" },
    success: { main: "#2F7A5F" },
    info: { main: "#1F4F8F" },
    background: { default: "#FAF8F3", paper: "#FFFFFF" },
    text: { primary: "#1B2338", secondary: "#5C6275" },
    divider: "#E0D9CA",
    tile: { main: "#1F4F8F", deep: "#153A6B", wash: "#E4ECF6", line: "#8FAFD8" },
    clay: { main: "#A9481F", wash: "#F7E6DD" },
    kelp: { main: "#2F7A5F", wash: "#DDEFE7", text: "#256650", bright: "#7FD1AE" },
    ochre: { main: "#B88A2A", wash: "#F6ECD3", text: "#7A5A12", bright: "#F2C56B" },
    margin: "#F3EFE5",
  },
  shape: { borderRadius: 7 },
  typography: {
    fontFamily: sans,
    fontSize: 14,
    htmlFontSize: 16,
    h1: { fontFamily: serif, fontSize: 28, fontWeight: 500, lineHeight: 1.2, letterSpacing: "-0.01em" },
    h2: { fontFamily: serif, fontSize: 19, fontWeight: 500, lineHeight: 1.3 },
    h3: { fontFamily: sans, fontSize: 14.5, fontWeight: 650, lineHeight: 1.35 },
    body1: { fontSize: 14, lineHeight: 1.5 },
    body2: { fontSize: 13, lineHeight: 1.5 },
    caption: { fontSize: 12, lineHeight: 1.4 },
    letter: { fontFamily: serif, fontSize: 17, lineHeight: 1.5 },
    label: { fontFamily: sans, fontSize: 12, fontWeight: 650, letterSpacing: "0.04em" },
    button: { textTransform: "none", fontWeight: 600, fontSize: 14 },
    // Unused; each is one more that every text is compared with.
    ...{ h4: undefined, h5: undefined, h6: undefined },
    ...{ subtitle1: undefined, subtitle2: undefined, overline: undefined },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        body: { fontVariantNumeric: "tabular-nums", overflowY: "hidden" },
        "main a, aside a, .MuiDialogContent-root a": {
          color: "#153A6B",
          textUnderlineOffset: "2px",
          textDecorationColor: "#8FAFD8",
        },
        // A link that stands alone is pressed as easily as a button; within a sentence it keeps the line's height.
        [PHONE]: {
          "main nav a": { minHeight: 44, display: "inline-flex", alignItems: "center" },
          "main summary": { paddingBlock: 11 },
        },
        ":focus-visible": { outline: "2px solid #1F4F8F", outlineOffset: 2 },
      },
    },
    MuiButton: {
      defaultProps: { disableElevation: true, variant: "outlined" },
      styleOverrides: {
        root: { paddingInline: 14, whiteSpace: "nowrap", gap: 6, ...forThumbs },
        outlined: { backgroundColor: "#FFFFFF", borderColor: "#E0D9CA", color: "#1B2338" },
      },
    },
    MuiIconButton: { styleOverrides: { root: { [PHONE]: { minHeight: 44, minWidth: 44 } } } },
    MuiOutlinedInput: { styleOverrides: { root: forThumbs } },
    MuiTab: { styleOverrides: { root: forThumbs } },
    MuiMenuItem: { styleOverrides: { root: forThumbs } },
    MuiCheckbox: { styleOverrides: { root: { [PHONE]: { minHeight: 44, minWidth: 44 } } } },
    MuiDialogActions: { styleOverrides: { root: { padding: "8px 24px 20px" } } },
    MuiTextField: { defaultProps: { size: "small", fullWidth: true } },
    MuiFormControl: { defaultProps: { size: "small" } },
    MuiTooltip: { defaultProps: { arrow: true, enterDelay: 150 } },
    MuiTypography: { defaultProps: { variantMapping: { letter: "p", label: "h2" } } },
    MuiLink: { defaultProps: { underline: "hover" } },
    MuiAlert: { styleOverrides: { root: { fontSize: 13.5 } } },
  },
});

/**
 * The variables behind the theme, as a stylesheet of the page's head. Left to the theme's provider they are
 * taken away and set again when the scripts start, and the whole page jumps.
 */
export const themeVariables = theme
  .generateStyleSheets()
  .flatMap((sheet) => Object.entries(sheet))
  .map(([selector, variables]) => {
    const lines = Object.entries(variables).map(([name, value]) => `${name}:${value}`);
    return `${selector}{${lines.join(";")}}`;
  })
  .join("");
