import type { WatchRequest } from './protocol.ts';

/** What lets a run go on with another text, and what measures and writes networks and fields: most runs are watched without. */
let parts: typeof import('./later-parts.ts') | undefined;

export async function loadLaterParts(): Promise<void> {
  parts ??= await import('./later-parts.ts');
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
