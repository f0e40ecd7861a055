import Box from "@mui/material/Box";
import { useEffect, useState } from "react";
import { SAMPLE } from "../../parts/Band";

/** Where the sample is chosen; its name follows once that is out of sight. */
export const CHOOSER = "sample-chooser";

/** Whose answers run down the right side, under the head of the sheet. */
export function SampleName({ name }: { name: string }) {
  const [isGone, setGone] = useState(false);
  useEffect(() => {
    const chooser = document.getElementById(CHOOSER);
    if (!chooser) return;
    const observer = new IntersectionObserver(
      ([seen]) => setGone(seen !== undefined && !seen.isIntersecting),
      // The head covers as much.
      { rootMargin: "-80px 0px 0px 0px" },
    );
    observer.observe(chooser);
    return () => observer.disconnect();
  }, []);
  if (!isGone) return null;
  return (
    <Box
      sx={[
        {
          display: { xs: "none", md: "block" },
          position: "absolute",
          top: "100%",
          right: 24,
          width: 288,
          px: 2,
          py: 0.5,
          typography: "body2",
          fontWeight: 600,
          overflow: "hidden",
          textOverflow: "ellipsis",
          whiteSpace: "nowrap",
          borderBottom: 1,
          borderColor: "divider",
        },
        ...SAMPLE,
      ]}
    >
      Sample: {name}
    </Box>
  );
}
