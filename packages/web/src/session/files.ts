import { filesBeside, putBeside } from '../simulation/beside.ts';
import { repository } from '../storage/repository.ts';

/** Takes the files of a project that is opened; one that cannot be read is said to be so where the text names it. */
export async function openFiles(projectId: string): Promise<void> {
  const rows = await repository.files(projectId).catch(() => []);
  if (rows.length === 0) {
    if (filesBeside().size > 0) putBeside(new Map());
    return;
  }
  const { fileOf } = await import('../storage/stored-files.ts');
  putBeside(new Map(rows.map(({ name, bytes }) => [name, fileOf(bytes)])));
}
