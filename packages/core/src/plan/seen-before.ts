import type { RuleEffects } from './analysis.ts';
import { columnKey, effectsOf } from './analysis.ts';
import * as P from './plan.ts';

/** What of a rule that acts all at once is read as it was before it. */
export interface RuleSight {
  readonly plan: P.Plan;
  readonly atOnce: boolean;
  readonly effects: RuleEffects;
}

/** Whether everybody only adds to a field, so that it needs no settling. */
export function addsField({ plan, atOnce, effects }: RuleSight, field: number): boolean {
  const hows = effects.writtenFields.get(field);
  return atOnce && hows?.size === 1 && hows.has('+=') && !plan.fields[field]!.kept;
}

/** Such a field, where it is read as well. */
export function keepsField(sight: RuleSight, field: number): boolean {
  return addsField(sight, field) && sight.effects.readFields.has(field);
}

/** The fields that are read as they were before some rule. */
export function heldFields(plan: P.Plan): ReadonlySet<number> {
  const sights = plan.schedule.flatMap((entry) =>
    entry.is === 'rules' && entry.mode === 'all at once'
      ? [{ plan, atOnce: true, effects: effectsOf(plan.rules[entry.rules[0]!]!) }]
      : [],
  );
  return new Set([...plan.fields.keys()].filter((field) => sights.some((sight) => keepsField(sight, field))));
}

export function keepsState({ atOnce, effects }: RuleSight, kind: number, machine: number): boolean {
  const key = columnKey(kind, machine);
  return atOnce && effects.writtenStates.has(key) && effects.othersStatesRead.has(key);
}

export function keepsAttribute({ atOnce, effects }: RuleSight, kind: number, column: number): boolean {
  const key = columnKey(kind, column);
  if (!atOnce) return false;
  if (effects.contested.has(key)) return effects.addedColumns.has(key);
  return effects.writtenColumns.has(key) && effects.othersRead.has(key);
}

/** All at once on cells that hold one agent, wishes are settled against the places before. */
export function keepsPositions({ plan, atOnce, effects }: RuleSight, kind: number): boolean {
  if (!atOnce) return false;
  if (P.spaceOfKind(plan, kind)?.oneAgentACell && effects.movedKinds.size > 0) return true;
  return effects.movedKinds.has(kind) && effects.othersPlacesRead.has(kind);
}
