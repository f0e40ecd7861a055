import Typography from "@mui/material/Typography";

/** Says what a block lacks, where it would stand. */
export function Missing({ says }: { says: string }) {
  return (
    <Typography component="span" sx={{ color: "#855309" }}>
      {says}
    </Typography>
  );
}
