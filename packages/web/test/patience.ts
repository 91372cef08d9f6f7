import { vi } from 'vitest';

/** How long a test waits for what it means before it calls it missing, in ms: far beyond what a busy machine takes, so that it says nothing of speed. */
export const PATIENCE = 60_000;

/** Waits until a check holds. */
export function eventually<T>(check: () => T | Promise<T>): Promise<T> {
  return vi.waitFor(check, PATIENCE);
}
