import type {} from "@mui/x-date-pickers/themeAugmentation";
import { createTheme } from "@mui/material/styles";

const sans = '"Digits", "Atkinson Hyperlegible Next", system-ui, sans-serif';
export const mono = '"Atkinson Hyperlegible Mono", ui-monospace, monospace';

/** A screen so low that what stays at its top has one line: a phone that lies, or a page enlarged four times. */
export const LOW = "@media (max-height: 500px)";

/** Paper, sheets and thin rules; cedar acts, quince asks for a look, madder is wrong. */
export const theme = createTheme({
  cssVariables: true,
  colorSchemes: {
    light: {
      palette: {
        primary: { main: "#1D5B4F" },
        warning: { main: "#855309" },
        error: { main: "#A3352B" },
        info: { main: "#3D5A80" },
        success: { main: "#1D5B4F" },
        background: { default: "#FAF7F1", paper: "#FFFFFF" },
        text: { primary: "#22282B", secondary: "#566165" },
        divider: "#E3DCCF",
      },
    },
    dark: {
      palette: {
        primary: { main: "#7CC3B3" },
        warning: { main: "#E0AC5B" },
        error: { main: "#F0988F" },
        info: { main: "#9DBBE3" },
        success: { main: "#7CC3B3" },
        background: { default: "#1B1F21", paper: "#23282A" },
        text: { primary: "#ECE7DD", secondary: "#A9B0B0" },
        divider: "#3B4344",
      },
    },
  },
  shape: { borderRadius: 4 },
  typography: {
    fontFamily: sans,
    fontSize: 14,
    body1: { fontSize: "0.9375rem", lineHeight: 1.55 },
    body2: { fontSize: "0.875rem", lineHeight: 1.5 },
    caption: { fontSize: "0.8125rem", lineHeight: 1.45 },
    button: { textTransform: "none", fontWeight: 600 },
    h1: { fontSize: "1.5rem", fontWeight: 600, lineHeight: 1.25 },
    h2: { fontSize: "1.0625rem", fontWeight: 600, lineHeight: 1.35 },
    h3: { fontSize: "0.9375rem", fontWeight: 600, lineHeight: 1.4 },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        table: { fontVariantNumeric: "tabular-nums" },
        // Where it stands by itself it is a target of 24 pixels; in a sentence it is as high as that.
        a: { color: "var(--mui-palette-info-main)", minHeight: 24 },
        "@media (prefers-reduced-motion: reduce)": {
          "*": { transition: "none !important", animation: "none !important" },
        },
      },
    },
    // What cannot be changed here is still there to be read: past revisions, and for readers all.
    MuiInputBase: {
      styleOverrides: {
        input: {
          "&.Mui-disabled": {
            WebkitTextFillColor: "var(--mui-palette-text-secondary)",
            color: "var(--mui-palette-text-secondary)",
          },
        },
      },
    },
    // A label stands above its box, and never moves.
    MuiInputLabel: {
      defaultProps: { shrink: true },
      styleOverrides: {
        root: {
          position: "static",
          transform: "none",
          maxWidth: "none",
          marginBottom: 4,
          fontSize: "0.78125rem",
          fontWeight: 600,
          lineHeight: 1.35,
          whiteSpace: "normal",
          color: "var(--mui-palette-text-primary)",
          "&.Mui-focused": { color: "var(--mui-palette-text-primary)" },
          "&.Mui-error": { color: "var(--mui-palette-error-main)" },
          "&.Mui-disabled": { color: "var(--mui-palette-text-secondary)" },
        },
      },
    },
    MuiOutlinedInput: {
      styleOverrides: {
        root: {
          backgroundColor: "var(--mui-palette-background-paper)",
          "&.MuiInputBase-sizeSmall.MuiInputBase-multiline": { padding: "5px 10px" },
        },
        input: {
          "&.MuiInputBase-inputSizeSmall": { padding: "5px 10px" },
          "&.MuiInputBase-inputMultiline": { padding: 0 },
        },
        notchedOutline: ({ theme }) => ({
          top: 0,
          borderColor: "#B9B09F",
          "& legend": { display: "none" },
          ...theme.applyStyles("dark", { borderColor: "#5E6A6C" }),
        }),
      },
    },
    MuiFormHelperText: {
      styleOverrides: {
        root: {
          marginLeft: 0,
          marginRight: 0,
          "&.Mui-disabled": { color: "var(--mui-palette-text-secondary)" },
        },
      },
    },
    // Boxes for dates, as all other boxes.
    MuiPickersOutlinedInput: {
      styleOverrides: {
        root: { backgroundColor: "var(--mui-palette-background-paper)", padding: "0 4px 0 10px" },
        sectionsContainer: { padding: "8.5px 0", fontSize: "0.9375rem" },
        notchedOutline: ({ theme }) => ({
          top: 0,
          borderColor: "#B9B09F",
          "& legend": { display: "none" },
          ...theme.applyStyles("dark", { borderColor: "#5E6A6C" }),
        }),
      },
    },
    MuiPickersTextField: { styleOverrides: { root: { maxWidth: 480 } } },
    MuiFormControlLabel: {
      styleOverrides: {
        label: { "&.Mui-disabled": { color: "var(--mui-palette-text-secondary)" } },
      },
    },
    MuiButton: {
      defaultProps: { disableElevation: true, size: "small", disableRipple: true },
      styleOverrides: {
        // A target has 24 pixels at least.
        root: { minWidth: 24, minHeight: 24, whiteSpace: "nowrap", flexShrink: 0 },
      },
    },
    // On a phone the buttons go on in another row.
    MuiToggleButtonGroup: { styleOverrides: { root: { flexWrap: "wrap" } } },
    MuiToggleButton: {
      styleOverrides: { root: { color: "var(--mui-palette-text-primary)" } },
    },
    MuiButtonBase: {
      defaultProps: { disableRipple: true },
      styleOverrides: {
        root: {
          "&.Mui-focusVisible": { outline: "2px solid currentColor", outlineOffset: 2 },
        },
      },
    },
    MuiTextField: {
      defaultProps: { size: "small", fullWidth: true },
      // A line of text is read, and typed, best where it is not longer.
      styleOverrides: { root: { maxWidth: 480 } },
    },
    // A choice that stands for nothing chosen is shown too.
    MuiSelect: { defaultProps: { size: "small", displayEmpty: true } },
    MuiAutocomplete: {
      defaultProps: { size: "small" },
      styleOverrides: {
        inputRoot: {
          "&.MuiOutlinedInput-root.MuiInputBase-sizeSmall": {
            paddingTop: 2,
            paddingBottom: 2,
            // As high as the boxes beside it.
            minHeight: 38,
          },
        },
      },
    },
    MuiPaper: { styleOverrides: { root: { backgroundImage: "none" } } },
    MuiTableCell: {
      styleOverrides: {
        root: {
          padding: "7px 12px 7px 0",
          borderColor: "var(--mui-palette-divider)",
          fontVariantNumeric: "tabular-nums",
          "& a": { textDecoration: "none" },
          "& a:hover, & a:focus-visible": { textDecoration: "underline" },
        },
        head: {
          color: "var(--mui-palette-text-secondary)",
          fontWeight: 600,
          fontSize: "0.8125rem",
        },
        paddingCheckbox: { "& > .MuiCheckbox-root": { padding: 2 } },
      },
    },
    MuiTableBody: {
      styleOverrides: {
        root: { "& tr:hover": { backgroundColor: "var(--mui-palette-action-hover)" } },
      },
    },
    MuiLink: { defaultProps: { color: "info", underline: "always" } },
    MuiTooltip: { defaultProps: { arrow: false } },
  },
});
