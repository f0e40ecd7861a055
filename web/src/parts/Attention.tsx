import { counted } from "./formats";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { useSlug } from "../api/workspace";

/** What needs attention of a thing of a list, with the way to its cause. */
export function Attention({ children }: { children: ReactNode }) {
  const workspace = useSlug();
  return (
    <Typography component="div" variant="caption" color="error">
      ▲ {children} · <Link to={`/w/${workspace}/snags`}>see why</Link>
    </Typography>
  );
}

/** How often something went wrong with a thing of a list, where that is enough to need attention. */
export function Failed({ times }: { times: number }) {
  return times > 0 && <Attention>failed {counted(times, "time", "times")}</Attention>;
}
