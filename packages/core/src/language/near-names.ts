const LEAST_PREFIX = 3;

/** The candidate that is closest to a mistyped word, if any is close: at most a third of its letters differ, or it is the only one that begins so. */
export function nearestWord(word: string, candidates: Iterable<string>): string | undefined {
  const wanted = word.toLowerCase();
  // Of a single letter nothing can be guessed.
  if (wanted.length < 2) return undefined;
  const all = [...candidates];
  const begun =
    wanted.length >= LEAST_PREFIX
      ? [...new Set(all.filter((candidate) => candidate.toLowerCase().startsWith(wanted)))]
      : [];
  if (begun.length === 1) return begun[0];
  let best: string | undefined;
  let bestDistance = Math.max(1, Math.floor(wanted.length / 3)) + 1;
  for (const candidate of all) {
    const distance = editDistance(wanted, candidate.toLowerCase(), bestDistance);
    if (distance < bestDistance) {
      bestDistance = distance;
      best = candidate;
    }
  }
  return best;
}

/** Insertions, deletions, substitutions and swaps of neighbours (optimal string alignment); gives up at `limit`. */
export function editDistance(a: string, b: string, limit = Infinity): number {
  if (Math.abs(a.length - b.length) >= limit) return limit;
  let beforeLast: number[] = [];
  let last = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const row = [i];
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1];
      let cost = Math.min(last[j]! + 1, row[j - 1]! + 1, last[j - 1]! + (same ? 0 : 1));
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        cost = Math.min(cost, beforeLast[j - 2]! + 1);
      row.push(cost);
    }
    beforeLast = last;
    last = row;
  }
  return last[b.length]!;
}
