import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useEffect, useRef } from "react";
import { useMoments } from "../../../parts/moment";
import type { SampleChoice } from "../RouteContext";

/** The head of the sheet covers as much. */
const BELOW_THE_HEAD = "-80px 0px 0px 0px";

/** Which submission passes through the sheet: a past one, or one typed in. */
export function SampleChooser(props: SampleChoice) {
  const { submissions, chosen, onChoose, onTypeOne, onTest, onSight } = props;
  const moments = useMoments();
  const root = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!root.current) return;
    const observer = new IntersectionObserver(
      ([seen]) => onSight(seen === undefined || seen.isIntersecting),
      { rootMargin: BELOW_THE_HEAD },
    );
    observer.observe(root.current);
    return () => {
      observer.disconnect();
      onSight(true);
    };
  }, [onSight]);
  return (
    <div ref={root}>
      <Typography variant="h3" component="h3">
        Sample
      </Typography>
      <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
        <Select
          variant="standard"
          value={chosen}
          onChange={(event) => onChoose(event.target.value)}
          inputProps={{ "aria-label": "Sample" }}
          sx={{ flex: 1, minWidth: 0, fontSize: "0.875rem" }}
        >
          {chosen === "typed" && <MenuItem value="typed">typed in</MenuItem>}
          {submissions.slice(0, 20).map((one) => (
            <MenuItem key={one.id} value={one.id}>
              {one.answers[0]?.text ?? "no answers"}, {moments.moment(one.received_at)}
            </MenuItem>
          ))}
        </Select>
        {chosen !== "typed" && <Button onClick={onTypeOne}>Enter a sample</Button>}
      </Stack>
      {onTest && (
        <Button onClick={() => void onTest()} sx={{ ml: -0.5 }}>
          Send it to me as a test
        </Button>
      )}
    </div>
  );
}
