import type { RunContext } from '../engine/run-context.ts';
import { drawInMask } from '../engine/zones.ts';
import type { Called } from '../kernel/kernels.ts';
import { dueAfter } from '../plan/values.ts';
import { TALLIED } from '../kernel/turn-ends.ts';
import { addToList, gatherTally } from './engine-functions.ts';
import type { GeneratedState } from './generated-state.ts';

/** What kernels of turns read and write that does not lie in the memory of a run (`kernel/outside.ts`). @param seam as it is once the run is made */
export function outsideOf(context: RunContext, seam: () => GeneratedState): Called {
  /** What was said for what is told next. */
  const said: number[] = [];
  return {
    tableValue: (table: number, column: number, row: number) => seam().tables[table]![column]![row],
    tally(index: number, which: number, level: number) {
      const tally = seam().tallies[index]!;
      const fn = TALLIED[which]!;
      return fn === 'count' ? tally.count : gatherTally(tally, fn, level);
    },
    /** A coordinate of a place in a zone, or with -1 of one that is free of obstacles. */
    drawnInZone(space: number, zone: number, axis: number, a: number, b: number, c: number) {
      const { grounds, zones } = seam();
      const mask = zone < 0 ? zones.free[space]! : zones.masks[zone]!;
      return drawInMask(mask, axis === 0 ? 'x' : 'y', a, b, c, grounds[space]!.space);
    },
    isRecording: () => (seam().recording ? 1 : 0),
    setParameter: (index: number, value: number) => {
      context.beneath[index] = value;
    },
    addToTally: (tally: number, value: number, waits: number) => seam().tallies[tally]!.add(value, waits === 1),
    say: (value: number) => {
      said.push(value);
    },
    /** Ties two agents. @returns whether there is no room for it, so that nothing is done yet */
    tie(network: number, a: number, b: number) {
      if (a >= 0 && b >= 0 && !seam().networks[network]!.hasRoomFor(a, b)) return 1;
      seam().tie(network, a, b, said.splice(0));
      return 0;
    },
    tieLater(network: number, a: number, b: number) {
      const values = said.splice(0);
      seam().later.push(() => seam().tie(network, a, b, values));
    },
    cut: (network: number, a: number, b: number) => seam().untie(network, a, b),
    cutLater(network: number, a: number, b: number) {
      seam().later.push(() => seam().untie(network, a, b));
    },
    isolate: (network: number, side: number, slot: number) => seam().isolate(network, side, slot),
    isolateLater(network: number, side: number, slot: number) {
      seam().later.push(() => seam().isolate(network, side, slot));
    },
    addToListLater(
      kind: number,
      column: number,
      size: number,
      stride: number,
      ofAgents: number,
      slot: number,
      a: number,
      b: number,
    ) {
      const { attributes } = seam().populations[kind]!;
      seam().later.push(() => addToList(attributes, slot, column, size, stride, ofAgents === 1, a, b));
    },
    logged: (site: number, kind: number, slot: number) => seam().note(site, said.splice(0), kind, slot),
    recorded: (record: number) => seam().recordRow(record, said.splice(0)),
    sent(message: number, kind: number, number: number, senderKind: number, sender: number, delay: number) {
      const due = delay === delay ? dueAfter(delay, context) : NaN;
      seam().mail.send(message, kind, number, senderKind, sender, due, context.end, said.splice(0));
    },
  };
}
