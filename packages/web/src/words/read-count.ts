/**
 * Reads a count as it is typed into a sentence: `40`, `40 seeds`, `1e3`, `2 000 steps each`.
 * @returns the count, or what is wrong with it
 */
export function readCount(text: string, most: number, what: string, least = 1): number | { readonly problem: string } {
  const match = /^\s*(\d[\d\s\u2009]*(?:\.\d+)?(?:e\d+)?)\s*(?:seeds?|steps?|runs?|draws?)?\s*(?:each)?\s*$/i.exec(
    text,
  );
  const count = match ? Number(match[1]!.replace(/[\s\u2009]/g, '')) : NaN;
  if (Number.isInteger(count) && count >= least && count <= most) return count;
  return {
    problem: `${what} is a whole number from ${least} to ${most.toLocaleString('en-GB')}, not “${text.trim()}”.`,
  };
}
