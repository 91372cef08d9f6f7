/**
 * Reads a share as it is typed into a sentence: `5 %`, `2.5`, `within 1 %`.
 * @returns the share from 0 to 1, or what is wrong with it
 */
export function readPercent(text: string, what: string): number | { readonly problem: string } {
  const match = /^\s*(?:within\s+)?(\d+(?:\.\d+)?)\s*%?\s*$/i.exec(text);
  const percent = match ? Number(match[1]) : NaN;
  if (percent > 0 && percent <= 100) return percent / 100;
  return { problem: `${what} is a share above 0 and up to 100 %, not “${text.trim()}”.` };
}
