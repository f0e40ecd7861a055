import Typography from "@mui/material/Typography";

const COLOURS = { adds: "success.main", changes: "info.main", removes: "error.main" } as const;

/** What changes about somebody, in words; the colour only repeats what the words say. */
export function EffectWords({ effects }: { effects: { kind: string; text: string }[] }) {
  return (
    <>
      {effects.map((one, index) => (
        <Typography
          key={index}
          component="span"
          variant="body2"
          sx={{
            display: "inline-block",
            mr: 1.5,
            color: one.kind in COLOURS ? COLOURS[one.kind as keyof typeof COLOURS] : "text.primary",
          }}
        >
          {one.text}
        </Typography>
      ))}
    </>
  );
}
