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

/** A question of the plan page, as the text has it in its remarks. */
export type PlanHeading = (typeof PLAN_QUESTIONS)[number]['heading'];

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

function headingOf(line: string): PlanHeading | undefined {
  return PLAN_QUESTIONS.find(({ heading }) => line.trim().toLowerCase().startsWith(`${heading.toLowerCase()}:`))
    ?.heading;
}

/** The answers that stand in a text; those that do not are empty. */
export function readPlan(text: string): Record<PlanHeading, string> {
  const answers = Object.fromEntries(PLAN_QUESTIONS.map(({ heading }) => [heading, ''])) as Record<PlanHeading, string>;
  const { lines, title, end } = proseLines(text);
  let open: PlanHeading | undefined;
  for (let i = title + 1; i <= end && title >= 0; i++) {
    const heading = headingOf(lines[i]!);
    if (heading) open = heading;
    const words = (heading ? lines[i]!.trim().slice(heading.length + 1) : lines[i]!).trim();
    if (open && words) answers[open] = answers[open] ? `${answers[open]} ${words}` : words;
  }
  return answers;
}

/** The text with an answer written, changed, or taken out if it is empty. */
export function writePlan(text: string, heading: PlanHeading, answer: string): string {
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
  const place = PLAN_QUESTIONS.findIndex((question) => question.heading === heading);
  const next = lines.findIndex(
    (line, i) =>
      i > title && i <= end && PLAN_QUESTIONS.findIndex((question) => question.heading === headingOf(line)) > place,
  );
  lines.splice(next >= 0 ? next : end + 1, 0, ...written);
  return lines.join('\n');
}
