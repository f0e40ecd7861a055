import { counted } from "../../parts/formats";
import { useAttempt } from "../../api/useAttempt";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { confirmingQuery } from "../../api/lists";
import { api, take, type Schemas } from "../../api/client";
import { useCatalogue, useMayChange, useReload, useSlug } from "../../api/workspace";
import { Picker } from "../../parts/Picker";
import { Problem } from "../../parts/Problem";
import { ListSender } from "./ListSender";
import { PublicWords } from "./PublicWords";
import { peopleWho, subscribedTo } from "../conditions/people";
import { UsedBy } from "./UsedBy";

const OF_LISTS: [string, string][] = [
  ["fills", "filled by"],
  ["takes", "left by"],
];

/** A list: who is on it, and whether people confirm by email before they are. */
export function ListLine(props: { list: Schemas["ListOut"]; users: Schemas["UserOut"][] }) {
  const { list, users } = props;
  const workspace = useSlug();
  const mayChange = useMayChange();
  const [open, setOpen] = useState<"opt-in" | "public">();
  const toggle = (what: "opt-in" | "public") => setOpen(open === what ? undefined : what);
  return (
    <>
      <Stack
        direction={{ xs: "column", sm: "row" }}
        spacing={{ xs: 0, sm: 2.5 }}
        useFlexGap
        sx={{ alignItems: { sm: "baseline" } }}
      >
        <Typography>
          <strong>{list.name}</strong>{" "}
          <Link to={peopleWho(workspace, subscribedTo(list.id))}>
            {counted(list.subscribed, "subscriber", "subscribers")}
          </Link>
          <Typography component="span" variant="body2" color="textSecondary">
            {list.lately > 0 && ` · +${list.lately} in 30 days`}
            {list.pending > 0 && ` · ${list.pending} pending`} · {list.left} left ·{" "}
            {optIn(list, users)}
            {list.description && ` · ${list.description}`}
          </Typography>
          <UsedBy users={users} words={OF_LISTS} />
        </Typography>
        {mayChange && (
          <Stack direction="row" sx={{ ml: { sm: "auto !important" }, flexShrink: 0 }}>
            <Button
              aria-expanded={open === "public"}
              aria-label={`Names and pages of ${list.name}`}
              onClick={() => toggle("public")}
            >
              Names and pages
            </Button>
            <Button
              aria-expanded={open === "opt-in"}
              aria-label={`Opt-in of ${list.name}`}
              onClick={() => toggle("opt-in")}
            >
              Opt-in
            </Button>
          </Stack>
        )}
      </Stack>
      {open === "opt-in" && <OptIn list={list} />}
      {open === "public" && <PublicWords list={list} />}
    </>
  );
}

/** Whether people confirm: the list asks for it, or what fills it does. */
function optIn(list: Schemas["ListOut"], users: Schemas["UserOut"][]): string {
  const fills = users.filter((one) => one.live && one.how === "fills");
  const confirms = new Set(
    users.filter((one) => one.live && one.how === "confirms").map((one) => one.pk),
  );
  const asked = fills.filter((one) => confirms.has(one.pk)).length;
  if (list.confirms || (asked > 0 && asked === fills.length)) return "double opt-in";
  return asked > 0 ? `double opt-in by ${asked} of ${fills.length} sources` : "single opt-in";
}

function OptIn({ list }: { list: Schemas["ListOut"] }) {
  const workspace = useSlug();
  const reload = useReload();
  const { data: catalogue } = useCatalogue();
  const { attempt, failed } = useAttempt();
  const path = { workspace, list: list.id };
  const { data } = useQuery(confirmingQuery(workspace, list.id));
  if (!data || !catalogue) return null;
  const set = async (change: Partial<Schemas["ConfirmingIn"]>) => {
    await attempt(async () => {
      await take(
        api.PUT("/api/workspaces/{workspace}/lists/{list}/confirming", {
          params: { path },
          body: {
            confirms: data.confirms,
            asking: data.asking ?? null,
            welcome: data.welcome ?? null,
            ...change,
          },
        }),
      );
      await reload("catalogue");
    });
  };
  return (
    <Stack spacing={1.5} sx={{ py: 1 }}>
      <FormControlLabel
        control={
          <Checkbox
            size="small"
            checked={data.confirms}
            onChange={(event) => void set({ confirms: event.target.checked })}
          />
        }
        label="People confirm by email before they are subscribed (double opt-in)"
      />
      {data.drafts.length > 0 && (
        <Typography variant="body2" color="warning">
          Changes that are not live: {data.drafts.join(", ")}.
        </Typography>
      )}
      {data.confirms && (
        <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: "wrap" }}>
          <Stack sx={{ width: 280 }}>
            <Picker
              label="Message that asks"
              options={catalogue.messages}
              value={data.asking ?? null}
              onChange={(asking) => void set({ asking })}
            />
          </Stack>
          <Stack sx={{ width: 280 }}>
            <Picker
              label="Message that welcomes (optional)"
              options={catalogue.messages}
              value={data.welcome ?? null}
              onChange={(welcome) => void set({ welcome })}
            />
          </Stack>
          {data.asking && (
            <Typography variant="body2" sx={{ alignSelf: "center" }}>
              <Link to={`/w/${workspace}/messages/${data.asking}`}>Open the message that asks</Link>
            </Typography>
          )}
        </Stack>
      )}
      <Typography variant="caption" color="textSecondary">
        The link in the email runs out after 14 days, and confirms only when a button is pressed on
        its page, so that a mail scanner confirms nothing.
      </Typography>
      <Problem error={failed} />
      <ListSender list={list.id} />
    </Stack>
  );
}
