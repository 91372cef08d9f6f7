import { webAssembly } from '../engine/memory/web-assembly.ts';
import type { CrewMessage } from '../kernel/crew.ts';
import { helping } from '../kernel/crew.ts';
import { ENGINE } from './engine-functions.ts';

export { helpersFor, HelpingCrew } from '../kernel/crew.ts';

/** What a module calls: functions of the engine; what else there is, is known to the thread of the run alone, whose kernels are not done in parts. */
function calledIn(module: object): Readonly<Record<string, unknown>> {
  const functions = webAssembly!.Module.imports(module).filter(({ kind }) => kind === 'function');
  return { ...Object.fromEntries(functions.map(({ name }) => [name, refuse])), ...ENGINE };
}

function refuse(): never {
  throw new Error('A part of a kernel asks and tells nobody');
}

/** What a thread does that helps with large runs: it is to be called with each message that the thread is sent. */
export function helpingThread(): (message: CrewMessage) => void {
  return helping(({ module, memory }) => {
    const instance = new webAssembly!.Instance(module, { m: { m: memory }, e: calledIn(module) });
    return instance.exports as Readonly<Record<string, (...given: readonly number[]) => number>>;
  });
}
