import { webAssembly } from '../engine/memory/web-assembly.ts';
import type { CrewMessage } from '../kernel/crew.ts';
import { helping } from '../kernel/crew.ts';
import { ENGINE } from './engine-functions.ts';

export { helpersFor, HelpingCrew } from '../kernel/crew.ts';

/** Kernels that tell something are for the thread of the run alone. */
const TOLD = { note: refuse, endRun: refuse, refused: refuse, untied: refuse, moreRoom: refuse };

function refuse(): never {
  throw new Error('A part of a kernel tells nobody');
}

/** What a thread does that helps with large runs: it is to be called with each message that the thread is sent. */
export function helpingThread(): (message: CrewMessage) => void {
  return helping(({ module, memory }) => {
    const instance = new webAssembly!.Instance(module, { m: { m: memory }, e: { ...ENGINE, ...TOLD } });
    return instance.exports as Readonly<Record<string, (...given: readonly number[]) => number>>;
  });
}
