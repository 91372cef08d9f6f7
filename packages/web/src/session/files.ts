import type { ModelFile } from '@vole/core';
import { filesBeside, putBeside } from '../simulation/beside.ts';
import { repository, storageProblem } from '../storage/repository.ts';
import type { StoredFile } from '../storage/stored-files.ts';
import { projectActions } from '../store/project-slice.ts';
import { store } from '../store/store.ts';
import { tellTabs } from './tabs.ts';

/** The files beside the model of the open project: opened, kept, and kept again where there was no room. */

/** Files that could not be stored yet, with the project they are of. */
const unstored: { readonly project: string; readonly file: StoredFile }[] = [];

/** Files by name, with their marks. */
type ReadFiles = ReadonlyMap<string, { readonly file: ModelFile; readonly mark: string }>;

/** Whether there are files that would be lost if the page were closed now. */
export function hasUnstoredFiles(): boolean {
  return unstored.length > 0;
}

/** The files of a project, stored or not; one that cannot be read is said to be so where the text names it. */
export async function readFiles(projectId: string): Promise<ReadFiles> {
  const rows = await repository.files(projectId).catch(() => []);
  const found = new Map<string, StoredFile>(rows.map((row) => [row.name, row]));
  for (const { project, file } of unstored) if (project === projectId) found.set(file.name, file);
  if (found.size === 0) return new Map();
  const { readStored } = await import('../storage/stored-files.ts');
  return new Map([...found].map(([name, file]) => [name, readStored(file)]));
}

/** Lays files beside the model of the open project, in the place of all that lay there. */
export function openFiles(read: ReadFiles): void {
  if (read.size > 0 || filesBeside().size > 0) putBeside(new Map([...read].map(([name, { file }]) => [name, file])));
  store.dispatch(projectActions.filesPut(Object.fromEntries([...read].map(([name, { mark }]) => [name, mark]))));
}

/** Puts a file beside the model of the open project, in the place of one of the same name, and stores it. */
export async function putFile(
  project: string,
  stored: StoredFile & { readonly mark: string },
  file: ModelFile,
): Promise<void> {
  putBeside(new Map(filesBeside()).set(stored.name, file));
  store.dispatch(projectActions.filesPut({ ...store.getState().project.files, [stored.name]: stored.mark }));
  forget(project, stored.name);
  unstored.push({ project, file: stored });
  await storeFiles();
}

function forget(project: string, name: string): void {
  const at = unstored.findIndex((one) => one.project === project && one.file.name === name);
  if (at >= 0) unstored.splice(at, 1);
}

/** Stores what could not be stored yet; what is wrong is told. */
export async function storeFiles(): Promise<void> {
  for (const waiting of [...unstored]) {
    const { project, file } = waiting;
    try {
      await repository.keepFile(project, file);
    } catch (error) {
      store.dispatch(projectActions.storageFailed(storageProblem(error)));
      return;
    }
    // Another one of the name may have come meanwhile, which is stored in its turn.
    const at = unstored.indexOf(waiting);
    if (at >= 0) unstored.splice(at, 1);
    tellTabs({ id: project, file: file.name });
    const { problem, dirty } = store.getState().project;
    if (unstored.length === 0 && problem !== undefined && !dirty)
      store.dispatch(projectActions.storageFailed(undefined));
  }
}
