import * as z from 'zod/mini';
import type { ListedDesign } from './design.ts';

/** A listed design as it is stored and handed over, without what stands beside it: factors and seeds. */
export const ListedPointsSchema = z.object({
  method: z.enum([
    'every combination',
    'one at a time',
    'random',
    'latin hypercube',
    'sobol sequence',
    'elementary effects',
    'sobol indices',
    'scenarios',
  ]),
  points: z.array(z.array(z.number())).check(z.minLength(1)),
  rows: z.optional(z.array(z.int().check(z.nonnegative()))),
  sample: z.optional(z.object({ count: z.int().check(z.positive()), luck: z.int().check(z.nonnegative()) })),
  names: z.optional(z.array(z.string())),
  timelines: z.optional(z.array(z.string())),
  ownSeeds: z.optional(z.boolean()),
});

/** Points of a design that are listed one by one, and how they were chosen. */
export type ListedPoints = z.infer<typeof ListedPointsSchema> & Pick<ListedDesign, 'method'>;

/** When points have had enough seeds, as it is stored. */
export const StoppingRuleSchema = z.object({
  summary: z.int().check(z.nonnegative()),
  share: z.number().check(z.positive()),
  most: z.int().check(z.positive()),
});

/** A condition over a run that a study asks for, as it is stored. */
export const OutcomeSchema = z.object({ name: z.string(), condition: z.string() });
