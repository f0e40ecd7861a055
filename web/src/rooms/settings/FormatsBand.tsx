import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { api, take } from "../../api/client";
import { keepSession, useSession } from "../../api/session";
import { useAttempt } from "../../api/useAttempt";
import { focusOnId } from "../../parts/focus/focus";
import { Band, BandRow } from "../../parts/Band";
import { dateFormat, number, type Formats } from "../../parts/formats";
import { Problem } from "../../parts/Problem";

const CHOICES: Record<keyof Formats, [string, [string | number, string][]]> = {
  dates: [
    "Dates",
    [
      ["day", "24 Nov 2026"],
      ["month", "Nov 24, 2026"],
      ["year", "2026-11-24"],
    ],
  ],
  clock: [
    "Times",
    [
      [24, "14:30"],
      [12, "2:30 pm"],
    ],
  ],
  numbers: [
    "Numbers",
    [
      ["comma", "12,345.6"],
      ["point", "12.345,6"],
      ["space", "12 345,6"],
    ],
  ],
};

/** How dates, times and numbers are written for the member who is signed in. It is saved at once. */
export function FormatsBand() {
  const client = useQueryClient();
  const { data } = useSession();
  const { attempt, failed } = useAttempt();
  if (!data) return null;
  const { formats } = data;
  const choose = (change: Partial<Formats>) =>
    attempt(async () => {
      const body = { ...formats, ...change };
      keepSession(client, await take(api.PUT("/api/session/formats", { body })));
    });
  const select = (key: keyof Formats) => {
    const [label, options] = CHOICES[key];
    return (
      <TextField
        select
        label={label}
        value={formats[key]}
        onChange={(event) => {
          const chosen = options.find(([one]) => one === event.target.value);
          if (!chosen) return;
          // All is shown anew; one goes on where one was.
          void choose({ [key]: chosen[0] }).then(() => focusOnId(`format-${key}`, "into"));
        }}
        id={`format-${key}`}
        sx={{ width: 160 }}
      >
        {options.map(([value, example]) => (
          <MenuItem key={String(value)} value={value}>
            {example}
          </MenuItem>
        ))}
      </TextField>
    );
  };
  const example = dateFormat({
    weekday: "short",
    day: "numeric",
    month: "short",
    year: "numeric",
    hour: "2-digit",
    minute: "2-digit",
    timeZone: "UTC",
  })(new Date("2026-11-24T14:30:00Z"));
  return (
    <Band name="Dates and numbers" note="for you only">
      <BandRow>
        <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: "wrap", pt: 1 }}>
          {select("dates")}
          {select("clock")}
          {select("numbers")}
        </Stack>
        <Typography variant="body2" color="textSecondary" sx={{ pt: 0.5 }}>
          For example: {example}, {number(12345)} people. Your choice is saved at once.
        </Typography>
        <Problem error={failed} />
      </BandRow>
    </Band>
  );
}
