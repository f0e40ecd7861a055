import MenuItem from "@mui/material/MenuItem";

const FORMS: [string, string][] = [
  ["csv", "Download the people as CSV"],
  ["jsonl", "Download the people as JSON lines"],
  ["vcf", "Download the people as vCards"],
];

/** Menu items that download the people of an audience, by what is live. `at`: where they are. */
export const exportItems = (at: string, close: () => void) =>
  FORMS.map(([form, words]) => (
    <MenuItem key={form} component="a" href={`${at}?form=${form}`} download onClick={close}>
      {words}
    </MenuItem>
  ));
