import { TagPicker } from "../../../parts/TagPicker";
import { useMaking } from "../../../parts/useMaking";
import type { ActionFormProps, ActionKind, ActionOf } from "../ActionKind";

type Tags = ActionOf<"add_tags"> | ActionOf<"remove_tags">;

function Form<One extends Tags>(props: ActionFormProps<One>) {
  const { action, catalogue, suggests, readOnly, onChange } = props;
  const making = useMaking();
  return (
    <TagPicker
      label="Tags"
      tags={catalogue.tags}
      value={action.tags}
      disabled={readOnly}
      onChange={(tags) => onChange({ ...action, tags })}
      onMake={making.tag}
      suggests={action.kind === "add_tags" ? suggests : ""}
    />
  );
}

/** Puts tags on. */
export const addTags: ActionKind<"add_tags"> = {
  words: "Tag",
  make: () => ({ kind: "add_tags", tags: [] }),
  Form,
};

/** Takes tags off. */
export const removeTags: ActionKind<"remove_tags"> = {
  words: "Remove tags",
  make: () => ({ kind: "remove_tags", tags: [] }),
  Form,
};
