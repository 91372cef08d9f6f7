import { effectsOf, hasPlainTurns, sharedEffects } from '../plan/analysis.ts';
import type { RuleEffects } from '../plan/analysis.ts';
import type * as P from '../plan/plan.ts';
import { classesCounted } from './cell-classes.ts';
import { emitAtOnceEntry } from './emit-at-once.ts';
import { emitActFunction } from './emit-functions.ts';
import { emitTurn } from './emit-statement.ts';
import { emitTurnsByKernel, mayPass } from './emit-turns.ts';
import type { PlanWriter } from './plan-writer.ts';
import { everyTest, emitKeys, emitBeginTrace, seedOf, emitEachAgent, emitAfterMoves } from './rule-code.ts';

const NO_EFFECTS: RuleEffects = effectsOf({ body: { statements: [], locals: 0 } });

export function emitEntry(script: PlanWriter, entry: P.ScheduleEntry, i: number): void {
  if (entry.is === 'fields') return;
  if (entry.is === 'surroundings') {
    const rule = script.plan.rules[entry.rule]!;
    emitActFunction(script, `e${i}`, rule, everyTest(script, rule));
    return;
  }
  const rules = entry.rules.map((index) => script.plan.rules[index]!);
  if (entry.mode === 'all at once') emitAtOnceEntry(script, rules[0]!, i);
  else if (rules.length === 1) emitSoleEntry(script, rules[0]!, entry, i);
  else emitSharedTurns(script, rules, entry, i);
}

function emitSoleEntry(
  script: PlanWriter,
  rule: P.RulePlan,
  entry: Extract<P.ScheduleEntry, { is: 'rules' }>,
  i: number,
): void {
  const { w } = script;
  const effects = effectsOf(rule);
  const k = rule.kind;
  w.block(`function e${i}()`, () => {
    const every = everyTest(script, rule);
    if (every) w.line(`if (!${every}) return;`);
    const kernel = script.turnKernels[i];
    const classes = script.counts([rule]);
    const out = script.body({ atOnce: false, effects, actorKind: k, classes, holdsRows: true });
    script.shadows(effects, rule.kind);
    script.heldRows(effects, rule.kind);
    script.heldFields(effects);
    script.keepBounds(effects);
    emitKeys(script, rule);
    script.locals(rule.body.locals);
    const isPlain = hasPlainTurns(script.plan, effects, entry.mode);
    const turn = (): void => {
      if (!script.shared.steady.has(k)) w.line(`if (!(k${k}_alive[L0] & 1)) continue;`);
      emitBeginTrace(script, rule, k);
      w.block('turn:', () => emitTurn(out, rule.body.statements, seedOf(k)));
    };
    const drawn = entry.mode === 'in turn' ? entry.key : undefined;
    const turns = (): void => {
      script.indices(effects);
      script.beginCounts([rule]);
      if (isPlain) return emitEachAgent(script, rule, effects, effects.orderFree, turn, drawn);
      w.line(`const list = turns([k${k}], ${entry.key}, true), n = S.turnCount;`);
      w.block('for (let i = 0; i < n; i++)', () => {
        w.line('L0 = list[i];');
        turn();
      });
    };
    if (kernel) emitTurnsByKernel(script, out, i, kernel, ['key0', 'key1'], drawn, turns);
    else turns();
    emitAfterMoves(script, effects, kernel !== undefined);
  });
}

/** Several rules on one line share a turn (D25): each agent, in one order of all their kinds, does those that are its own. */
function emitSharedTurns(
  script: PlanWriter,
  rules: readonly P.RulePlan[],
  entry: Extract<P.ScheduleEntry, { is: 'rules' }>,
  i: number,
): void {
  const all = rules.map(effectsOf);
  const shared = sharedEffects(all);
  const effects = all.map((own) => ({ ...own, ...shared }));
  const drawn = entry.mode === 'in turn' ? entry.key : undefined;
  const kernel = script.turnKernels[i];
  const turns = emitSharedBodies(script, rules, effects, entry, i, kernel === undefined || mayPass(kernel));
  script.w.block(`function e${i}()`, () => {
    if (!kernel) return turns();
    script.keepBounds(effects[0]!);
    script.locals(0);
    emitDue(script, rules);
    const out = script.body({ atOnce: false, effects: effects[0]!, actorKind: rules[0]!.kind });
    const given = rules.flatMap((_, r) => [`on${r} ? 1 : 0`, `a${r}`, `b${r}`]);
    emitTurnsByKernel(script, out, i, kernel, given, drawn, turns);
    for (const k of shared.movedKinds) script.w.line(`k${k}.index.invalidate();`);
  });
}

/** Which of the rules that share turns are due, and their keys. */
function emitDue(script: PlanWriter, rules: readonly P.RulePlan[]): void {
  rules.forEach((rule, r) => {
    script.w.line(
      `const on${r} = ${everyTest(script, rule) ?? 'true'}, a${r} = ruleKey0(W.seed, W.step, ${rule.key}), b${r} = ruleKey1(W.seed, W.step, ${rule.key});`,
    );
  });
}

/** The rules that share turns, each a function, and what gives the turns. */
function emitSharedBodies(
  script: PlanWriter,
  rules: readonly P.RulePlan[],
  allEffects: readonly RuleEffects[],
  entry: Extract<P.ScheduleEntry, { is: 'rules' }>,
  i: number,
  isNeeded: boolean,
): () => void {
  const { w } = script;
  const kinds = [...new Set(rules.map((rule) => rule.kind))];
  const { queried, movedKinds: moved, standing } = allEffects[0]!;
  const classes = classesCounted(
    script.plan,
    rules.map(({ body }) => body),
  );
  if (!isNeeded) return () => undefined;
  rules.forEach((rule, r) => {
    const effects = allEffects[r]!;
    const out = script.body({ atOnce: false, effects, actorKind: rule.kind, classes });
    w.block(`function e${i}_${r}(L0, key0, key1)`, () => {
      // What one of the rules lets grow, the turns of the others must find where it is now.
      script.shadows(effects, rule.kind);
      script.keepBounds(effectsOf(rule));
      script.locals(rule.body.locals, 1);
      w.line(`if (!(k${rule.kind}.alive[L0] & 1)) return;`);
      if (effects.draws)
        w.line(`s0 = agentKey0(key0, k${rule.kind}.number[L0]); s1 = agentKey1(key1, k${rule.kind}.number[L0]);`);
      emitBeginTrace(script, rule, rule.kind);
      w.block('turn:', () => out.statements(rule.body.statements));
    });
  });
  return () => {
    script.indices({ ...NO_EFFECTS, queried, standing });
    script.counts(rules);
    script.beginCounts(rules);
    emitDue(script, rules);
    kinds.forEach((_, at) =>
      w.line(`const from${at} = ${at === 0 ? '0' : `from${at - 1} + k${kinds[at - 1]!}.used`};`),
    );
    w.line(
      `const list = turns([${kinds.map((k) => `k${k}`).join(', ')}], ${entry.key}, ${entry.mode === 'in turn'}), n = S.turnCount;`,
    );
    kinds.forEach((k, at) => w.line(`const end${at} = from${at} + k${k}.used;`));
    w.block('for (let i = 0; i < n; i++)', () => {
      w.line('const turn = list[i];');
      kinds.forEach((k, at) => {
        w.block(`if (turn >= from${at} && turn < end${at})`, () => {
          rules.forEach((rule, r) => {
            if (rule.kind === k) w.line(`if (on${r}) e${i}_${r}(turn - from${at}, a${r}, b${r});`);
          });
          w.line('continue;');
        });
      });
    });
    for (const k of moved) if (!queried.has(k)) w.line(`k${k}.index.invalidate();`);
  };
}
