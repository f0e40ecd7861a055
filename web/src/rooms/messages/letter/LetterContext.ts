import { createContext, useContext } from "react";
import type { Schemas } from "../../../api/client";

/** What every block of a letter stands in. */
export interface LetterContext {
  catalogue: Schemas["CatalogueOut"];
  fields: Schemas["FieldOut"][];
  pictures: Schemas["PictureOut"][];
  style: Schemas["HouseStyle"];
  /** By id of a block, whom it is for. */
  words: Record<string, string>;
  readOnly: boolean;
  /** The block that is open for editing. */
  open: string | undefined;
  setOpen: (id: string | undefined) => void;
}

export const Letter = createContext<LetterContext | undefined>(undefined);

export function useLetter(): LetterContext {
  const found = useContext(Letter);
  if (!found) throw new Error("outside of a letter");
  return found;
}
