import { CountryPicker } from "../../../parts/CountryPicker";
import type { SettingsProps } from "./QuestionKind";

/** What a number without a country is a number of. */
export function PhoneSettings({ question, set }: SettingsProps) {
  return (
    <CountryPicker
      label="Country of numbers without +"
      value={question.country}
      onChange={(country) => set({ country })}
    />
  );
}
