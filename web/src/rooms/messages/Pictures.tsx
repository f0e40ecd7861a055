import { counted, number } from "../../parts/formats";
import { useAttempt } from "../../api/useAttempt";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useRef } from "react";
import { api, take, type Schemas } from "../../api/client";
import { useMayChange, useReload, useSlug } from "../../api/workspace";
import { FormActions } from "../../drafts/FormActions";
import { Empty } from "../../parts/Empty";
import { Loading } from "../../parts/Loading";
import { Problem } from "../../parts/Problem";
import { Sheet } from "../../parts/Sheet";
import { MailRooms } from "./MailRooms";
import { usePictureForm } from "./usePictureForm";
import { usePictures } from "./usePictures";

type Picture = Schemas["PictureOut"];

/** The picture library: what each shows, how large it is, what has it. */
export function Pictures() {
  const workspace = useSlug();
  const mayChange = useMayChange();
  const reload = useReload();
  const { pictures, loaded, error, add } = usePictures();
  const { attempt, failed, dismiss } = useAttempt();
  const file = useRef<HTMLInputElement>(null);
  const act = async (asked: () => Promise<unknown>) => {
    await attempt(async () => {
      await asked();
      await reload("pictures");
    });
  };
  if (!loaded) return <Loading error={error} />;
  const button = mayChange && (
    <Button variant="contained" onClick={() => file.current?.click()}>
      Add pictures
    </Button>
  );
  const bytes = pictures.reduce((sum, one) => sum + one.size, 0);
  return (
    <Sheet
      title="Pictures"
      name="Pictures"
      back={{ to: `/w/${workspace}/messages`, label: "Messages" }}
      state={
        pictures.length > 0 && (
          <Typography variant="body2" color="textSecondary">
            {counted(pictures.length, "picture", "pictures")}, {sizeOf(bytes)}
          </Typography>
        )
      }
      actions={pictures.length > 0 && button}
    >
      <MailRooms here="pictures" />
      <Problem error={failed} onDismiss={dismiss} />
      {pictures.length === 0 && (
        <Empty says="Pictures for letters: each is kept in two sizes, for ordinary and for sharp screens, and served from here.">
          {button}
        </Empty>
      )}
      {pictures.map((one) => (
        <Line
          key={one.id}
          picture={one}
          readOnly={!mayChange}
          onDelete={() =>
            act(() =>
              take(
                api.DELETE("/api/workspaces/{workspace}/mail/pictures/{picture}", {
                  params: { path: { workspace, picture: one.id } },
                }),
              ),
            )
          }
        />
      ))}
      <input
        ref={file}
        type="file"
        multiple
        accept="image/png,image/jpeg,image/webp"
        aria-label="Pictures as files"
        hidden
        onChange={(event) => {
          const chosen = [...(event.target.files ?? [])];
          event.target.value = "";
          void act(async () => {
            for (const one of chosen) await add(one);
          });
        }}
      />
    </Sheet>
  );
}

function Line(props: { picture: Picture; readOnly: boolean; onDelete: () => Promise<void> }) {
  const { picture, readOnly, onDelete } = props;
  const draft = usePictureForm(picture);
  const { form, set } = draft;
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "96px minmax(0,1fr)", md: "140px 220px minmax(0,1fr) auto" },
        columnGap: 2,
        rowGap: 1,
        alignItems: "center",
        py: 1.5,
        borderBottom: 1,
        borderColor: "divider",
        maxWidth: 1120,
      }}
    >
      <Box
        component="img"
        src={picture.address}
        alt=""
        sx={{ width: "100%", height: 80, objectFit: "contain" }}
      />
      <TextField
        label="Name"
        value={form.name}
        disabled={readOnly}
        onChange={(event) => set({ name: event.target.value })}
      />
      <TextField
        label="Alternative text"
        value={form.alt}
        disabled={readOnly}
        onChange={(event) => set({ alt: event.target.value })}
        helperText={`${picture.width} × ${picture.height}, ${sizeOf(picture.size)}${picture.used ? `, in ${picture.used}` : ""}`}
        error={!form.alt.trim()}
      />
      {!readOnly && (
        <FormActions draft={draft}>
          <Button
            color="inherit"
            disabled={picture.used !== ""}
            aria-label={`Delete ${picture.name}`}
            onClick={() => void onDelete()}
          >
            Delete
          </Button>
        </FormActions>
      )}
    </Box>
  );
}

function sizeOf(bytes: number): string {
  return bytes < 1024 * 1024
    ? `${Math.max(1, Math.round(bytes / 1024))} KB`
    : `${number(bytes / 1024 / 1024, 1)} MB`;
}
