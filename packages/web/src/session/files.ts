import type { ModelFile } from '@vole/core';
import { mapFromBytes, MapProblem } from '@vole/core';
import { filesBeside, putBeside } from '../simulation/beside.ts';
import { repository } from '../storage/repository.ts';

/** Takes the files of a project that is opened; one that cannot be read is said to be so where the text names it. */
export async function openFiles(projectId: string): Promise<void> {
  const rows = await repository.files(projectId).catch(() => []);
  if (rows.length === 0 && filesBeside().size === 0) return;
  putBeside(
    new Map<string, ModelFile>(
      rows.map(({ name, bytes }) => {
        try {
          return [name, mapFromBytes(bytes)] as const;
        } catch (error) {
          if (error instanceof MapProblem) return [name, error] as const;
          throw error;
        }
      }),
    ),
  );
}
