import { z } from 'zod';
import type { ListedDesign } from './design.ts';

const number = z.number();

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
  points: z.array(z.array(number)).min(1),
  rows: z.array(number.int().nonnegative()).optional(),
  sample: z.object({ count: number.int().positive(), luck: number.int().nonnegative() }).optional(),
  names: z.array(z.string()).optional(),
  timelines: z.array(z.string()).optional(),
  ownSeeds: z.boolean().optional(),
});

/** Points of a design that are listed one by one, and how they were chosen. */
export type ListedPoints = z.infer<typeof ListedPointsSchema> & Pick<ListedDesign, 'method'>;

/** When points have had enough seeds, as it is stored. */
export const StoppingRuleSchema = z.object({
  summary: number.int().nonnegative(),
  share: number.positive(),
  most: number.int().positive(),
});

/** A condition over a run that a study asks for, as it is stored. */
export const OutcomeSchema = z.object({ name: z.string(), condition: z.string() });
