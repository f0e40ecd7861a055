import Box from "@mui/material/Box";

/** The id of what a page is about, besides the rail. */
export const CONTENT = "content";

/** The first thing that the keyboard comes to: past the rooms, to what the page is about. */
export function SkipLink() {
  return (
    <Box
      component="a"
      href={`#${CONTENT}`}
      onClick={(event) => {
        event.preventDefault();
        document.getElementById(CONTENT)?.focus();
      }}
      sx={{
        position: "fixed",
        top: 8,
        left: 8,
        zIndex: 20,
        px: 2,
        py: 1,
        bgcolor: "background.paper",
        color: "primary.main",
        border: 1,
        "&:not(:focus)": { transform: "translateY(-200%)" },
      }}
    >
      Skip to content
    </Box>
  );
}
