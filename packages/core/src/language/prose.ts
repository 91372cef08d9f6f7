/** The questions to answer before a model is written, kept as prose under its title: one line each, beginning with its heading. */
export const PLAN_QUESTIONS = [
  { heading: 'Purpose', asks: 'What question is the model to answer, for whom?' },
  { heading: 'Pattern', asks: 'Which pattern, seen in the field, must it show to be believed?' },
  { heading: 'Agents', asks: 'Who acts, and how many are there?' },
  { heading: 'Attributes', asks: 'What makes one of them differ from another, and what changes in it?' },
  { heading: 'Surroundings', asks: 'Where do they live, and what else is there?' },
  { heading: 'Process', asks: 'What happens in a step, in which order?' },
  { heading: 'Start and end', asks: 'How does a run begin, and when is it over?' },
  { heading: 'Left out', asks: 'What is left out on purpose, and why may it be?' },
] as const;

/** What a report asks for besides, as no text of a model tells it. */
export const REPORT_QUESTIONS = [
  { heading: 'Principles', asks: 'Which theory or earlier finding does the model stand on?' },
  { heading: 'Emergence', asks: 'What comes of what agents do, and what is put in by rules?' },
  { heading: 'Adaptation', asks: 'How do agents answer to what changes around them or in them?' },
  { heading: 'Objectives', asks: 'What do agents strive for, if they do, and how is it measured?' },
  { heading: 'Learning', asks: 'Do agents change how they decide by what they went through?' },
  { heading: 'Prediction', asks: 'Do agents act on what they expect to come?' },
  { heading: 'Sources', asks: 'Where do the values of the parameters come from?' },
] as const;

const QUESTIONS = [...PLAN_QUESTIONS, ...REPORT_QUESTIONS];

/** What the prose of a text answers, each on a line that begins with its heading. */
export type ProseHeading = (typeof QUESTIONS)[number]['heading'];

function proseLines(text: string): { lines: string[]; title: number; end: number } {
  const lines = text.split('\n');
  const title = lines.findIndex((line) => /^model\b/i.test(line));
  let end = title;
  if (title >= 0)
    for (
      let i = title + 1;
      i < lines.length && (/^\s+\S/.test(lines[i]!) || (lines[i]!.trim() === '' && /^\s+\S/.test(lines[i + 1] ?? '')));
      i++
    )
      end = i;
  return { lines, title, end };
}

function headingOf(line: string): ProseHeading | undefined {
  return QUESTIONS.find(({ heading }) => line.trim().toLowerCase().startsWith(`${heading.toLowerCase()}:`))?.heading;
}

/** Prose under a title: what stands before the first heading, and the answers; those that are not there are empty. */
export interface Prose {
  readonly opening: string;
  readonly answers: Readonly<Record<ProseHeading, string>>;
}

/** What the prose of a text says. */
export function readProse(text: string): Prose {
  const answers = Object.fromEntries(QUESTIONS.map(({ heading }) => [heading, ''])) as Record<ProseHeading, string>;
  const { lines, title, end } = proseLines(text);
  let open: ProseHeading | undefined;
  let opening = '';
  for (let i = title + 1; i <= end && title >= 0; i++) {
    const heading = headingOf(lines[i]!);
    if (heading) open = heading;
    const words = (heading ? lines[i]!.trim().slice(heading.length + 1) : lines[i]!).trim();
    if (!words) continue;
    if (open) answers[open] = answers[open] ? `${answers[open]} ${words}` : words;
    else opening = opening ? `${opening} ${words}` : words;
  }
  return { opening, answers };
}

/** Where the answers under a title stand, and their headings: from the end of the line before the first of them to the end of the last. */
export function answersIn(
  text: string,
): { readonly from: number; readonly to: number; readonly headings: readonly ProseHeading[] } | undefined {
  const { lines, title, end } = proseLines(text);
  const first = lines.findIndex((line, i) => i > title && i <= end && headingOf(line) !== undefined);
  if (title < 0 || first < 0) return undefined;
  const lengthTo = (line: number): number => lines.slice(0, line).reduce((sum, { length }) => sum + length + 1, 0);
  const headings = lines.slice(first, end + 1).flatMap((line) => headingOf(line) ?? []);
  return { from: lengthTo(first) - 1, to: lengthTo(end) + lines[end]!.length, headings };
}

/** The text with an answer written, changed, or taken out if it is empty. */
export function writeProse(text: string, heading: ProseHeading, answer: string): string {
  const { lines, title, end } = proseLines(text);
  if (title < 0) return text;
  const words = answer.trim().replace(/\s+/g, ' ');
  const first = lines.findIndex((line, i) => i > title && i <= end && headingOf(line) === heading);
  const written = words ? [`  ${heading}: ${words}`] : [];
  if (first >= 0) {
    let last = first;
    while (last + 1 <= end && lines[last + 1]!.trim() !== '' && !headingOf(lines[last + 1]!)) last++;
    lines.splice(first, last - first + 1, ...written);
    return lines.join('\n');
  }
  // Answers stand in the order of the questions, after whatever prose there is.
  const place = QUESTIONS.findIndex((question) => question.heading === heading);
  const next = lines.findIndex(
    (line, i) =>
      i > title && i <= end && QUESTIONS.findIndex((question) => question.heading === headingOf(line)) > place,
  );
  lines.splice(next >= 0 ? next : end + 1, 0, ...written);
  return lines.join('\n');
}
