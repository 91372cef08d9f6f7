const CLOCK = 'clock\n  end after 25 steps\n';

/** A model of a title and parts, which ends after 25 steps unless the parts say otherwise. */
export function model(title: string, parts: string): readonly [string, string] {
  if (parts.includes('\nclock\n')) return [title, `model ${title}\n${parts.trim()}\n`];
  return [title, `model ${title}\n\n${CLOCK}\n${parts.trim()}\n`];
}
