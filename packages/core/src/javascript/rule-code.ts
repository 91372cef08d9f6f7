import type { RuleEffects } from '../plan/analysis.ts';
import { keepsToItself } from '../plan/analysis.ts';
import * as P from '../plan/plan.ts';
import type { PlanWriter } from './plan-writer.ts';

export function everyTest(script: PlanWriter, rule: P.RulePlan): string | undefined {
  return rule.every && `W.isMultipleNow(${script.shared.valueName(rule.every)}())`;
}

export function emitKeys(script: PlanWriter, rule: { readonly key: number }): void {
  script.w.line(`const key0 = ruleKey0(W.seed, W.step, ${rule.key}), key1 = ruleKey1(W.seed, W.step, ${rule.key});`);
}

export function seedOf(kind: number): string {
  return `s0 = agentKey0(key0, k${kind}_num[L0]); s1 = agentKey1(key1, k${kind}_num[L0]);`;
}

export function emitBeginTrace(script: PlanWriter, rule: P.RulePlan, k: number): void {
  if (script.shared.traces) script.w.line(`tr = TR.begin(${script.plan.rules.indexOf(rule)}, ${k}, k${k}.number[L0]);`);
}

export function emitAfterMoves(script: PlanWriter, effects: RuleEffects, always: boolean): void {
  for (const k of effects.movedKinds) if (always || !effects.queried.has(k)) script.w.line(`k${k}.index.invalidate();`);
}

/**
 * Goes through the agents of a rule in the order of their slots; where nobody's turn can be seen from another's and they ask for their
 * own kind by place, in the order of their places, so that those near one another lie near in memory. Where that is not the order of
 * the turns, and somebody's turn fails, those who come before in the order of the turns have theirs: the first failure is told.
 *
 * @param drawn the key by which the order of the turns is drawn, if it is
 */
export function emitEachAgent(
  script: PlanWriter,
  rule: P.RulePlan,
  effects: RuleEffects,
  orderFree: boolean,
  turn: () => void,
  drawn?: number,
): void {
  const { w } = script;
  const k = rule.kind;
  const byPlace =
    orderFree &&
    effects.standing.has(k) &&
    keepsToItself(rule.body, effects) &&
    !script.plan.kinds[k]!.mayBeNowhere &&
    !P.spaceOfKind(script.plan, k)!.tracksCells;
  if (!byPlace && drawn === undefined) {
    w.block(`for (let slot = 0, n = k${k}.used; slot < n; slot++)`, () => {
      w.line('L0 = slot;');
      turn();
    });
    return;
  }
  const began = effects.removes ? `k${k}.alive.slice(0, k${k}.used)` : `k${k}.alive`;
  w.line(
    `const began = ${began}; let at = 0, n = ${byPlace ? `k${k}.index.count` : `k${k}.used`}, order = ${byPlace ? `k${k}.index.members` : 'undefined'}, failure;`,
  );
  w.block('for (;;)', () => {
    w.block('try', () => {
      w.block('for (; at < n; at++)', () => {
        w.line(byPlace ? 'L0 = order[at];' : 'L0 = order === undefined ? at : order[at];');
        turn();
      });
      w.line('break;');
    });
    w.line(
      `catch (e) { if (failure !== undefined) throw e; failure = e; order = S.turnsBefore(k${k}, began, ${drawn ?? 'undefined'}, order, at); n = S.turnCount; at = 0; }`,
    );
  });
  w.line('if (failure !== undefined) throw failure;');
}
