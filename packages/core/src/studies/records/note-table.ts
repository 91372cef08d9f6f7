import type { Cell } from '../../csv.ts';
import { placeOf } from '../../diagnostics.ts';
import type { Note } from '../../engine/run-context.ts';
import { logLines } from '../../plan/analysis.ts';
import type { Plan } from '../../plan/plan.ts';
import { heading, timeOf } from '../results/table.ts';

/** Whether a model has `log` lines: without them no run has notes. */
export function writesNotes(plan: Plan): boolean {
  return logLines(plan).size > 0;
}

/** Columns of the table of notes: run, seed, step, its time, who wrote, the line of the text, and what was written. */
export function noteHeader(plan: Plan): Cell[] {
  return ['run', 'seed', 'step', heading('time', plan.clock.unitLabel), 'agent', 'line', 'note'];
}

/**
 * Notes of a run as cells of their table.
 * @param run its number in the study, from 1
 * @param text of the model, whose lines are counted from 1
 */
export function noteCells(plan: Plan, text: string, run: number, seed: number, notes: readonly Note[]): Cell[][] {
  const lines = noteLines(plan, text);
  return notes.map((note) => [
    run,
    seed,
    note.step,
    timeOf(plan, note.step),
    note.agent,
    lines.get(note.site)!,
    note.text,
  ]);
}

/** The lines of the text, from 1, that write notes, by the places of the plan that notes name. */
export function noteLines(plan: Plan, text: string): ReadonlyMap<number, number> {
  return new Map(
    [...logLines(plan).keys()].map((site) => [site, placeOf(text, plan.sites[site]!.span.start).line] as const),
  );
}
