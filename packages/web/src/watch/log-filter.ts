import type { Plan } from '@vole/core';
import type { NoteRow } from '../simulation/protocol.ts';

/** Notes that fit what was typed, the newest first: words of the text, an agent as `vole 7`, a step as `step 12`. */
export function notesWith(notes: readonly NoteRow[], typed: string): NoteRow[] {
  const kinds = new Set(notes.map(({ agent }) => agent.replace(/ \d+$/, '').toLowerCase()));
  let step: number | undefined;
  let agent: string | undefined;
  const words: string[] = [];
  const parts = typed.toLowerCase().split(/\s+/).filter(Boolean);
  for (let i = 0; i < parts.length; i++) {
    const [part, next] = [parts[i]!, parts[i + 1]];
    const isNumbered = next !== undefined && /^\d+$/.test(next);
    if (isNumbered && part === 'step') step = Number(parts[++i]);
    else if (isNumbered && kinds.has(part)) agent = `${part} ${parts[++i]!}`;
    else words.push(part);
  }
  return notes
    .filter(
      (note) =>
        (step === undefined || note.step === step) &&
        (agent === undefined || note.agent.toLowerCase() === agent) &&
        words.every((word) => `${note.agent} ${note.text}`.toLowerCase().includes(word)),
    )
    .reverse();
}

/** The agent that is named, such as `Vole 7`; nothing where the note is of nobody. */
export function agentNamed(plan: Plan, name: string): { readonly kind: number; readonly number: number } | undefined {
  const [, kindName, number] = /^(.+) (\d+)$/.exec(name) ?? [];
  const kind = plan.kinds.findIndex((each) => each.name === kindName);
  return kind < 0 ? undefined : { kind, number: Number(number) };
}
