import Link from "@mui/material/Link";
import Stack from "@mui/material/Stack";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { Band, BandRow } from "../../../parts/Band";
import { FindingsAt } from "../../../parts/Findings";
import { LanguageSelect } from "../../../parts/LanguageSelect";
import { OwnWords } from "../../../parts/OwnWords";
import { Snippet } from "../../../parts/Snippet";
import { useRoute } from "../RouteContext";
import { CameBy } from "./CameBy";
import { SampleAnswers } from "./SampleAnswers";
import { SampleChooser } from "./SampleChooser";

/** A form of somebody's own: where it posts to, and the names that came. */
export function ArrivesPosted() {
  const { source, document, edit, findings, readOnly, answers, onType, choice, seen } = useRoute();
  const own = document.own_form;
  const set = (change: Partial<typeof own>) =>
    edit((route) => ({ ...route, own_form: { ...route.own_form, ...change } }));
  const setForm = (change: Partial<typeof document.form>) =>
    edit((route) => ({ ...route, form: { ...route.form, ...change } }));
  const names = seen.length ? seen.map((one) => one.name) : ["email", "first_name"];
  return (
    <Band
      name="Arrives"
      id="arrives"
      note={source.state === "draft" ? "not open yet" : `${source.arrivals.this_week} this week`}
    >
      <BandRow sample={choice && <SampleChooser {...choice} />}>
        <Typography variant="body2" color="textSecondary">
          A form on your own website, in your own style, that posts to this address. Any names of
          inputs will do: those that come are kept and listed here.
          {source.state === "draft" &&
            " Until the sheet is turned on, posts are kept as tests and start nothing."}
          {source.state === "paused" && " It is paused, and takes no posts."}
        </Typography>
        <Snippet label="Address to post to" text={source.address} />
        <Snippet label="Sample HTML" text={html(source.address, names)} />
      </BandRow>
      <BandRow
        ruled
        sample={choice && <SampleAnswers answers={answers} choice={choice} onType={onType} />}
      >
        <CameBy seen={seen} document={document} />
      </BandRow>
      <BandRow ruled id="own_form">
        <Stack spacing={1.5} sx={{ py: 1 }}>
          <TextField
            label="Page for answers with errors"
            placeholder="https://www.example.org/sign-up"
            value={own.errors_to}
            disabled={readOnly}
            onChange={(event) => set({ errors_to: event.target.value })}
            helperText="It gets wrong=NAME:CODE for each error. Leave empty to send visitors back to the form if its website is listed below, or else to a plain page of ours."
          />
          <TextField
            label="Websites that visitors may be sent back to, one on each line"
            placeholder="https://www.example.org"
            multiline
            value={own.sites.join("\n")}
            disabled={readOnly}
            onChange={(event) => set({ sites: event.target.value.split("\n") })}
            onBlur={() => set({ sites: own.sites.map((one) => one.trim()).filter(Boolean) })}
          />
          <LanguageSelect
            label="Language of what visitors read"
            inherits="As the workspace"
            value={document.form.language}
            disabled={readOnly}
            onChange={(language) => setForm({ language })}
          />
          <OwnWords
            about="form"
            language={document.form.language}
            words={document.form.words}
            readOnly={readOnly}
            wrong={(key) => findings.find((one) => one.place === `form.words.${key}`)?.sentence}
            onChange={(words) => setForm({ words })}
          />
          <Typography variant="caption" color="textSecondary">
            Where visitors go after a valid submission is set in{" "}
            <Link href="#visitor_sees">Visitor sees</Link>. No visitor can choose where.
          </Typography>
        </Stack>
        <FindingsAt findings={findings} place="own_form" />
      </BandRow>
    </Band>
  );
}

function html(address: string, names: string[]): string {
  const inputs = names
    .slice(0, 12)
    .map(
      (name) =>
        `  <label>${name} <input name="${name}"${/mail/i.test(name) ? ' type="email" required' : ""}></label>`,
    );
  return [
    `<form method="post" action="${address}" accept-charset="utf-8">`,
    ...inputs,
    '  <p hidden><label>Leave this empty <input name="_website" tabindex="-1"></label></p>',
    "  <button>Send</button>",
    "</form>",
  ].join("\n");
}
