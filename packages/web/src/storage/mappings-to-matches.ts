import { matchOfMapping, ObservedMappingSchema } from '@vole/core';
import type { Transaction } from 'dexie';
import * as z from 'zod/mini';

/** Observed data of which an earlier version kept what their columns hold get the text of a match in its place. */

const EarlierSchema = z.object({
  id: z.string(),
  projectId: z.string(),
  name: z.string(),
  csv: z.string(),
  mapping: ObservedMappingSchema,
});

export async function mappingsToMatches(transaction: Transaction): Promise<void> {
  const observed = transaction.table('observed');
  const projects = transaction.table('projects');
  for (const stored of await observed.toArray()) {
    const { data } = EarlierSchema.safeParse(stored);
    if (!data) continue;
    const { mapping, ...table } = data;
    await observed.put(table);
    await projects.update(table.projectId, { matchDraft: matchOfMapping(table.name, mapping) });
  }
}
