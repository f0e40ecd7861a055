import { LimitedField } from "../../parts/LimitedField";
import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useMayChange, useSlug } from "../../api/workspace";
import { FormActions, FormTrouble } from "../../drafts/FormActions";
import { Band } from "../../parts/Band";
import { Loading } from "../../parts/Loading";
import { NumberField } from "../../parts/NumberField";
import { LanguageSelect } from "../../parts/LanguageSelect";
import { Sheet } from "../../parts/Sheet";
import { CountingBand } from "./CountingBand";
import { ColourField } from "./ColourField";
import { LetterSample } from "./LetterSample";
import { LogoField } from "./LogoField";
import { MailRooms } from "./MailRooms";
import { PictureChooser } from "./PictureChooser";
import { StyleLinks } from "./StyleLinks";
import { useMailForm, useMailSettings, type MailSettings } from "./useMailSettings";
import { usePictures } from "./usePictures";

type Settings = MailSettings;
type Colours = Settings["style"]["light"];
const COLOURS: [keyof Colours, string][] = [
  ["paper", "Around the letter"],
  ["sheet", "Background"],
  ["ink", "Text"],
  ["accent", "Links and buttons"],
  ["rule", "Lines"],
];
const FACES: [Settings["style"]["face"], string][] = [
  ["plain", "Plain (Helvetica, Arial)"],
  ["humanist", "Wide (Verdana)"],
  ["book", "Book (Georgia)"],
  ["typewriter", "Typewriter (Courier)"],
];

/** How letters look, and what is counted of them. */
export function HouseStyle() {
  const { data, error } = useMailSettings();
  if (!data) return <Loading error={error} />;
  return <StyleForm stored={data} />;
}

function StyleForm({ stored }: { stored: Schemas["MailSettingsOut"] }) {
  const workspace = useSlug();
  const readOnly = !useMayChange();
  const { pictures } = usePictures();
  const draft = useMailForm("house style", stored);
  const { form: settings, set, edit } = draft;
  const [choosing, setChoosing] = useState<"logo" | "dark_logo">();
  const { style } = settings;
  const setStyle = (change: Partial<Settings["style"]>) =>
    edit((before) => ({ ...before, style: { ...before.style, ...change } }));
  const light = pictures.find((one) => one.id === style.logo);
  const ownDark = pictures.find((one) => one.id === style.dark_logo);
  const logos = { light, dark: light && (ownDark ?? light) };
  const colours = (scheme: "light" | "dark") => (
    <Stack direction="row" spacing={1.5} useFlexGap sx={{ flexWrap: "wrap" }}>
      {COLOURS.map(([key, label]) => (
        <ColourField
          key={key}
          label={label}
          value={style[scheme][key]}
          disabled={readOnly}
          onChange={(colour) => setStyle({ [scheme]: { ...style[scheme], [key]: colour } })}
        />
      ))}
    </Stack>
  );
  return (
    <Sheet
      title="House style"
      name="House style"
      back={{ to: `/w/${workspace}/messages`, label: "Messages" }}
      actions={!readOnly && <FormActions draft={draft} quiet />}
    >
      <MailRooms here="style" />
      <FormTrouble draft={draft} />
      {stored.findings.map((one) => (
        <Typography key={one.sentence} color="warning" variant="body2" sx={{ pt: 1 }}>
          {one.sentence} {one.fix}
        </Typography>
      ))}
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "minmax(0,1fr)", lg: "minmax(0,1fr) 420px" },
          columnGap: 3,
          maxWidth: 1320,
        }}
      >
        <div>
          <Band name="Logo">
            <LogoField
              what="logo"
              logo={logos.light}
              ground={style.light.sheet}
              without="Without a logo, the sender’s name is shown."
              readOnly={readOnly}
              onChoose={() => setChoosing("logo")}
              onRemove={() => setStyle({ logo: "", dark_logo: "" })}
            />
            {logos.light && !readOnly && (
              <NumberField
                label="Width in pixels"
                value={style.logo_width}
                min={40}
                max={400}
                onChange={(logo_width) => setStyle({ logo_width })}
                sx={{ width: 130 }}
              />
            )}
          </Band>
          <Band name="Type">
            <Stack direction={{ xs: "column", sm: "row" }} spacing={1.5} sx={{ maxWidth: 480 }}>
              <TextField
                select
                label="Typeface"
                value={style.face}
                disabled={readOnly}
                onChange={(event) =>
                  setStyle({ face: event.target.value as Settings["style"]["face"] })
                }
              >
                {FACES.map(([key, words]) => (
                  <MenuItem key={key} value={key}>
                    {words}
                  </MenuItem>
                ))}
              </TextField>
              <NumberField
                label="Width in pixels"
                value={style.width}
                min={400}
                max={760}
                disabled={readOnly}
                onChange={(width) => setStyle({ width })}
                sx={{ width: 150 }}
              />
            </Stack>
          </Band>
          <Band name="Colours">{colours("light")}</Band>
          <Band name="Dark mode" note="for mail programs in dark mode">
            {logos.light && (
              <LogoField
                what="logo for dark mode"
                logo={ownDark}
                ground={style.dark.sheet}
                without="The logo above is shown."
                readOnly={readOnly}
                onChoose={() => setChoosing("dark_logo")}
                onRemove={() => setStyle({ dark_logo: "" })}
              />
            )}
            {colours("dark")}
          </Band>
          <Band name="Footer">
            <Stack spacing={1.5} sx={{ maxWidth: 480 }}>
              <LimitedField
                most={600}
                multiline
                minRows={2}
                label="Text below every letter (optional)"
                value={style.footer}
                disabled={readOnly}
                onChange={(text) => setStyle({ footer: text })}
                helperText="Who sends it, the postal address and the way to unsubscribe follow by themselves."
              />
              <StyleLinks
                links={style.links}
                readOnly={readOnly}
                onChange={(links) => setStyle({ links })}
              />
            </Stack>
          </Band>
          <CountingBand settings={settings} readOnly={readOnly} onChange={set} />
          <Band name="Language">
            <Stack direction={{ xs: "column", sm: "row" }} spacing={1.5} sx={{ maxWidth: 480 }}>
              <LanguageSelect
                label="Language of pages and emails"
                value={settings.language}
                disabled={readOnly}
                onChange={(language) => set({ language })}
              />
              <TextField
                label="Replies go to (empty: the sender)"
                value={settings.reply_to}
                disabled={readOnly}
                onChange={(event) => set({ reply_to: event.target.value })}
              />
            </Stack>
          </Band>
        </div>
        <LetterSample style={style} logos={logos} />
      </Box>
      {choosing && (
        <PictureChooser
          onClose={() => setChoosing(undefined)}
          onChoose={(picture) => {
            setStyle({ [choosing]: picture.id });
            setChoosing(undefined);
          }}
        />
      )}
    </Sheet>
  );
}
