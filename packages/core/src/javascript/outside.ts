import type { RunContext } from '../engine/run-context.ts';
import type { Called } from '../kernel/kernels.ts';
import { dueAfter } from '../plan/values.ts';
import type { GeneratedState } from './generated-state.ts';

/** What kernels of turns read and write that does not lie in the memory of a run (`kernel/outside.ts`). @param seam as it is once the run is made */
export function outsideOf(context: RunContext, seam: () => GeneratedState): Called {
  /** What was said for what is told next. */
  const said: number[] = [];
  return {
    variable: (index: number) => context.variables[index]!,
    tableValue: (table: number, column: number, row: number) => seam().tables[table]![column]![row],
    isRecording: () => (seam().recording ? 1 : 0),
    setVariable: (index: number, value: number) => {
      context.variables[index] = value;
    },
    setParameter: (index: number, value: number) => {
      context.beneath[index] = value;
    },
    addToTally: (tally: number, value: number, waits: number) => seam().tallies[tally]!.add(value, waits === 1),
    say: (value: number) => {
      said.push(value);
    },
    logged: (site: number, kind: number, slot: number) => seam().note(site, said.splice(0), kind, slot),
    recorded: (record: number) => seam().recordRow(record, said.splice(0)),
    sent(message: number, kind: number, number: number, senderKind: number, sender: number, delay: number) {
      const due = delay === delay ? dueAfter(delay, context) : NaN;
      seam().mail.send(message, kind, number, senderKind, sender, due, context.end, said.splice(0));
    },
  };
}
