import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { FACES, readableOn } from "./letter/looks";

type Style = Schemas["HouseStyle"];

interface LetterSampleProps {
  style: Style;
  logos: Record<"light" | "dark", Schemas["PictureOut"] | undefined>;
}

/** A short letter in the house style, in daylight and in the dark. */
export function LetterSample({ style, logos }: LetterSampleProps) {
  return (
    <Box component="aside" aria-label="A letter in this style" sx={{ pt: 1.75 }}>
      {(["light", "dark"] as const).map((scheme) => {
        const colours = style[scheme];
        const logo = logos[scheme];
        return (
          <Box key={scheme} sx={{ mb: 2 }}>
            <Typography variant="caption" color="textSecondary">
              {scheme === "light" ? "Light mode" : "Dark mode"}
            </Typography>
            <Box sx={{ bgcolor: colours.paper, p: 2, border: 1, borderColor: "divider" }}>
              <Box
                sx={{
                  bgcolor: colours.sheet,
                  color: colours.ink,
                  p: 2.5,
                  fontFamily: FACES[style.face],
                  fontSize: 15,
                }}
              >
                {logo ? (
                  <Box
                    component="img"
                    src={logo.address}
                    alt=""
                    sx={{
                      display: "block",
                      width: Math.min(style.logo_width, logo.width),
                      aspectRatio: `${logo.width} / ${logo.height}`,
                      mb: 1.5,
                    }}
                  />
                ) : (
                  <Box sx={{ fontWeight: 700, mb: 1.5 }}>The sender’s name</Box>
                )}
                <Box sx={{ fontSize: 20, fontWeight: 700, mb: 1 }}>A heading</Box>
                <Box sx={{ mb: 1.5 }}>
                  A letter of yours, with{" "}
                  <Box component="span" sx={{ color: colours.accent, textDecoration: "underline" }}>
                    a link
                  </Box>{" "}
                  in it.
                </Box>
                <Box
                  component="span"
                  sx={{
                    display: "inline-block",
                    px: 2.5,
                    py: 1.25,
                    borderRadius: "3px",
                    bgcolor: colours.accent,
                    color: scheme === "light" ? readableOn(colours.accent) : colours.sheet,
                  }}
                >
                  A button
                </Box>
                <Box sx={{ borderTop: 1, borderColor: colours.rule, mt: 2, pt: 1, fontSize: 13 }}>
                  {style.footer || "What stands below."}
                </Box>
              </Box>
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}
