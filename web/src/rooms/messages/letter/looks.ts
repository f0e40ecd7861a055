/** Fonts that mail programs have, as the server has them. */
export const FACES: Record<string, string> = {
  plain: "Helvetica, Arial, sans-serif",
  humanist: "Verdana, Geneva, sans-serif",
  book: "Georgia, 'Times New Roman', serif",
  typewriter: "'Courier New', Courier, monospace",
};

/** Black or white, whichever reads better on a colour (WCAG 2.2, relative luminance). */
export function readableOn(colour: string): string {
  const part = (at: number) => {
    const value = parseInt(colour.slice(at, at + 2), 16) / 255;
    return value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4;
  };
  const light = 0.2126 * part(1) + 0.7152 * part(3) + 0.0722 * part(5);
  return 1.05 / (light + 0.05) >= (light + 0.05) / 0.05 ? "#FFFFFF" : "#000000";
}
