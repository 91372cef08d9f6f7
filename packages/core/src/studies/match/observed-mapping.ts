import * as z from 'zod/mini';

/** Which columns of a table held what, before matches had a text. */
export const ObservedMappingSchema = z.object({
  timeColumn: z.string(),
  /** Dates were matched with the calendar, times counted from the start in the unit of the clock. */
  timeIs: z.enum(['date', 'time']),
  columns: z.array(z.object({ column: z.string(), measure: z.string() })),
});
export type ObservedMapping = z.infer<typeof ObservedMappingSchema>;
