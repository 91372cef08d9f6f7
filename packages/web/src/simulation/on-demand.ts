import type { CompiledPlan, Crew, Plan } from '@vole/core';
import { compileLightly } from '@vole/core';
import type { WatchRequest } from './protocol.ts';

/**
 * What lets a run go on with another text, what measures and writes networks and fields, and what makes many agents and cells quick: most runs are watched
 * without.
 */
let parts: typeof import('./later-parts.ts') | undefined;

export async function loadLaterParts(): Promise<void> {
  parts ??= await import('./later-parts.ts');
  helping ??= parts.startCrew();
}

/** Absent while they are not loaded, or cannot be. */
export function laterParts(): typeof parts {
  return parts;
}

/** Whether a request has to wait until they are. */
export function waitsForParts(request: WatchRequest): boolean {
  const needs =
    request.is === 'load' ? request.goesOn === true : request.is === 'take' || request.is === 'draft network';
  return needs && !parts;
}

/** Those who help with large runs, once what starts them is there; memory that several threads see is to be had on isolated pages alone. */
const crew: Crew | undefined = globalThis.crossOriginIsolated
  ? {
      get helpers() {
        return helping?.helpers ?? 0;
      },
      get least() {
        return helping?.least ?? Infinity;
      },
      call: () => helping?.call(),
      together: (...of) => helping!.together(...of),
    }
  : undefined;
let helping: Crew | undefined;

/** A plan as code that runs, with kernels if what makes them is there. */
export function compiledByNow(plan: Plan): CompiledPlan {
  const compiled = compileLightly(plan);
  compiled.crew = crew;
  if (parts) compiled.takeUp(parts.makeKernels);
  return compiled;
}
