import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { fieldsQuery, listsQuery, tagsQuery } from "../../api/lists";
import { useMayChange, useSlug } from "../../api/workspace";
import { Band, BandRow } from "../../parts/Band";
import { Loading } from "../../parts/Loading";
import { NameDialog } from "../../parts/NameDialog";
import { Sheet } from "../../parts/Sheet";
import { useMaking } from "../../parts/useMaking";
import { ListLine } from "./ListLine";
import { TagLine } from "./TagLine";
import { useUses } from "./UsedBy";

/** What people can be on, be tagged with, and what can be known of them. */
export function Lists() {
  const workspace = useSlug();
  const [asking, setAsking] = useState<"list" | "tag">();
  const making = useMaking();
  const { data: uses } = useUses();
  const mayChange = useMayChange();
  const lists = useQuery(listsQuery(workspace));
  const tags = useQuery(tagsQuery(workspace));
  const fields = useQuery(fieldsQuery(workspace));
  if (!lists.data || !tags.data || !fields.data) {
    return <Loading error={lists.error ?? tags.error ?? fields.error} />;
  }
  const make = async (name: string) => {
    if (asking === "list") await making.list(name);
    if (asking === "tag") await making.tag(name);
    setAsking(undefined);
  };
  const button = (what: "list" | "tag", word: string) =>
    mayChange && (
      <Button onClick={() => setAsking(what)} sx={{ ml: 1.5, mt: 0.5 }}>
        {word}
      </Button>
    );
  return (
    <Sheet
      title="Lists, tags and fields"
      name="Lists"
      actions={<Link to={`/w/${workspace}/suppression`}>Suppression list</Link>}
    >
      <Band name="Lists" note="people subscribe">
        {lists.data.length === 0 && (
          <BandRow>No list yet. A form subscribes people to one.</BandRow>
        )}
        {lists.data.map((one, index) => (
          <BandRow key={one.id} ruled={index > 0}>
            <ListLine list={one} users={uses?.[one.id] ?? []} />
          </BandRow>
        ))}
        {button("list", "New list")}
      </Band>
      <Band name="Tags" note="short labels">
        {tags.data.length === 0 && <BandRow>No tag yet. A rule of a route gives them.</BandRow>}
        {tags.data.map((one, index) => (
          <BandRow key={one.id} ruled={index > 0}>
            <TagLine tag={one} tags={tags.data} users={uses?.[one.id] ?? []} />
          </BandRow>
        ))}
        {button("tag", "New tag")}
      </Band>
      <Band name="Fields" note="what is known">
        <BandRow>
          <Typography>
            {fields.data.map((one) => one.label).join(", ")}.{" "}
            <Link to={`/w/${workspace}/fields`}>Fields, who has them and what fills them</Link>
          </Typography>
        </BandRow>
      </Band>
      {asking && (
        <NameDialog
          title={`New ${asking}`}
          label="Name"
          hint={HINTS[asking]}
          action="Make it"
          onClose={() => setAsking(undefined)}
          onName={make}
        />
      )}
    </Sheet>
  );
}

const HINTS = {
  list: "What people subscribe to: “Open-night news”.",
  tag: "A short label: “looks at planets”.",
};
