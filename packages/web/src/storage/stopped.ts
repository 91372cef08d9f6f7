/** Which project stopped a view, and at which revision, so that the front door does not open into it again. */

const KEY = 'vole-stopped';

export function noteStopped(id: string, revision: number): void {
  try {
    localStorage.setItem(KEY, `${id} ${revision}`);
  } catch {
    // A browser that stores nothing has nothing to open into either.
  }
}

export function hasStopped({ id, revision }: { readonly id: string; readonly revision: number }): boolean {
  try {
    return localStorage.getItem(KEY) === `${id} ${revision}`;
  } catch {
    return false;
  }
}
