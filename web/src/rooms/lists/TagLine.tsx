import { counted } from "../../parts/formats";
import { useAttempt } from "../../api/useAttempt";
import { FormActions } from "../../drafts/FormActions";
import { useTagForm } from "./useTagForm";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { tagCausesQuery } from "../../api/lists";
import { api, take, type Schemas } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { Problem } from "../../parts/Problem";
import { peopleWho, tagged } from "../conditions/people";
import { UsedBy } from "./UsedBy";

type Tag = Schemas["TagOut"];
type User = Schemas["UserOut"];

/** A tag: who has it and why, another that looks like it, and what can be done with it. */
export function TagLine({ tag, tags, users }: { tag: Tag; tags: Tag[]; users: User[] }) {
  const workspace = useSlug();
  const [open, setOpen] = useState(false);
  return (
    <>
      <Stack direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
        <Typography>
          <strong>{tag.name}</strong>{" "}
          <Link to={peopleWho(workspace, tagged(tag.id))}>
            {counted(tag.people, "person", "people")}
          </Link>
          {tag.like && (
            <Typography component="span" variant="body2" color="warning">
              {" "}
              · looks like “{tag.like}”
            </Typography>
          )}
          {tag.lately > 0 && (
            <Typography component="span" variant="body2" color="textSecondary">
              {" "}
              · +{tag.lately} in 30 days
            </Typography>
          )}
          <UsedBy users={users} />
          {tag.people === 0 && users.length === 0 && (
            <Typography component="span" variant="body2" color="textSecondary">
              {" "}
              · unused
            </Typography>
          )}
        </Typography>
        <Button
          sx={{ ml: "auto !important" }}
          aria-expanded={open}
          aria-label={`Details: ${tag.name}`}
          onClick={() => setOpen(!open)}
        >
          Details
        </Button>
      </Stack>
      {open && <TagChange tag={tag} tags={tags} />}
    </>
  );
}

function TagChange({ tag, tags }: { tag: Tag; tags: Tag[] }) {
  const workspace = useSlug();
  const mayChange = useMayChange();
  const reload = useReload();
  const rename = useTagForm(tag);
  const [chosen, setInto] = useState<string>();
  const into = chosen ?? tags.find((one) => one.name === tag.like)?.id ?? "";
  const { attempt: tryTo, failed } = useAttempt();
  const [sure, setSure] = useState(false);
  const params = { path: { workspace, tag: tag.id } };
  const { data: causes = [] } = useQuery(tagCausesQuery(workspace, tag.id));
  const attempt = async (asked: Promise<unknown>) => {
    await tryTo(async () => {
      await asked;
      await reload("catalogue", "people", "person", "source");
    });
  };
  return (
    <Stack spacing={1.5} sx={{ py: 1 }}>
      {causes.slice(0, 8).map((one) => (
        <Typography key={one.because} variant="body2">
          {counted(one.people, "person", "people")}{" "}
          <Typography component="span" variant="body2" color="textSecondary">
            because of {one.because}
          </Typography>
        </Typography>
      ))}
      {mayChange && (
        <Stack
          direction="row"
          spacing={1}
          useFlexGap
          sx={{ flexWrap: "wrap", alignItems: "flex-end" }}
        >
          <TextField
            label="Name"
            value={rename.form.name}
            error={Boolean(rename.wrong("name"))}
            onChange={(event) => rename.set({ name: event.target.value })}
            sx={{ width: 200 }}
          />
          <FormActions draft={rename} label="Rename" disabled={!rename.form.name.trim()} />
          <TextField
            select
            label="Merge into"
            value={into}
            onChange={(event) => setInto(event.target.value)}
            sx={{ width: 200 }}
          >
            {tags
              .filter((one) => one.id !== tag.id)
              .map((one) => (
                <MenuItem key={one.id} value={one.id}>
                  {one.name}
                </MenuItem>
              ))}
          </TextField>
          <Button
            disabled={!into}
            onClick={() =>
              void attempt(
                take(
                  api.POST("/api/workspaces/{workspace}/tags/{tag}/merge", {
                    params,
                    body: { into },
                  }),
                ),
              )
            }
          >
            Merge {tag.people}
          </Button>
          <Button
            color="error"
            variant={sure ? "contained" : "text"}
            onClick={() => {
              // What cannot be undone is pressed twice, with the count before one's eyes.
              if (!sure) {
                setSure(true);
                return;
              }
              void attempt(take(api.DELETE("/api/workspaces/{workspace}/tags/{tag}", { params })));
            }}
          >
            {sure ? `Really remove from ${tag.people}` : `Remove from ${tag.people}`}
          </Button>
        </Stack>
      )}
      <Problem error={failed} />
    </Stack>
  );
}
