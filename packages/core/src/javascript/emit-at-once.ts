import { effectsOf } from '../plan/analysis.ts';
import * as P from '../plan/plan.ts';
import { attributeColumnId } from '../plan/settling.ts';
import type { BodyWriter } from './body-writer.ts';
import { emitAfterMoves, emitBeginTrace, emitEachAgent, emitKeys, everyTest, seedOf } from './rule-code.ts';
import { addsField, keepsAttribute, keepsField, keepsPositions, keepsState } from './emit-expression.ts';
import { emitTurn } from './emit-statement.ts';
import { changesCode, emitTurnsByKernel } from './emit-turns.ts';
import type { PlanWriter } from './plan-writer.ts';

export function emitAtOnceEntry(script: PlanWriter, rule: P.RulePlan, i: number): void {
  const { w } = script;
  // Who moves or comes does so for others when the rule is over.
  const asked = effectsOf(rule);
  const effects = { ...asked, standing: asked.askedFar };
  const k = rule.kind;
  const own = [...effects.contested]
    .filter(([key, how]) => how !== 'none' && key.startsWith(`${k}:`))
    .map(([key, how]) => ({ column: Number(key.split(':')[1]), how }));
  w.block(`function e${i}()`, () => {
    const every = everyTest(script, rule);
    if (every) w.line(`if (!${every}) return;`);
    const kernel = script.turnKernels[i];
    const classes = script.counts([rule]);
    const out = script.body({ atOnce: true, effects, actorKind: k, classes, holdsRows: true });
    emitKept(script, out);
    script.shadows(effects, rule.kind);
    script.heldRows(effects, rule.kind);
    script.heldFields(effects);
    emitKeys(script, rule);
    script.locals(rule.body.locals);
    const turns = (): void => {
      script.indices(effects);
      script.beginCounts([rule]);
      emitEachAgent(script, rule, effects, true, () => {
        if (!script.shared.steady.has(k)) w.line(`if (!(k${k}_alive[L0] & 1)) continue;`);
        for (const { column } of own) {
          const seen = effects.addedColumns.has(`${k}:${column}`) ? `k${k}_ba${column}` : `k${k}_a${column}`;
          w.line(`let o${k}_${column} = ${seen}[L0], os${k}_${column} = false;`);
        }
        emitBeginTrace(script, rule, k);
        w.block('turn:', () => emitTurn(out, rule.body.statements, seedOf(k)));
        for (const { column, how } of own) {
          if (how === '=')
            w.line(`if (os${k}_${column}) writes.add(${attributeColumnId(k, column)}, L0, 0, o${k}_${column});`);
        }
      });
    };
    if (kernel) emitTurnsByKernel(script, out, i, kernel, ['key0', 'key1'], undefined, turns);
    else turns();
    emitKeepAdded(script, out);
    w.line(`S.settle(${rule.key});`);
    const moves = effects.movedKinds.size > 0;
    if (moves && P.spaceOfKind(script.plan, k)?.oneAgentACell) w.line(`S.settleMoves(${k}, ${rule.key});`);
    emitAfterMoves(script, effects, true);
    w.line('S.runLater();');
    if (effects.removes || effects.createdKinds.size > 0) w.line('S.endOfRule();');
    if ([...effects.movedKinds].some((moved) => P.spaceOfKind(script.plan, moved)?.tracksCells))
      w.line('S.countCells();');
    if (effects.changes) w.line(`S.settleChanges(${rule.key}, ${changesCode(script, kernel?.changes ?? [])});`);
    if (script.plan.tallies.length > 0) w.line('for (let i = 0; i < TL.length; i++) TL[i].settle();');
  });
}

/** Fields that were only added to are kept within their bounds when all have added. */
function emitKeepAdded(script: PlanWriter, out: BodyWriter): void {
  script.plan.fields.forEach((field, g) => {
    if (field.bounds && addsField(out, g)) script.w.line(`S.keepInBounds(${g});`);
  });
}

function emitKept(script: PlanWriter, out: BodyWriter): void {
  const { w } = script;
  script.plan.fields.forEach((_, g) => {
    if (keepsField(out, g)) w.line(`const g${g}_b = S.holdField(${g});`);
  });
  script.plan.kinds.forEach((kind, k) => {
    if (keepsPositions(out, k)) {
      w.line(`k${k}.keepPositions();`);
      w.line(
        `const k${k}_bx = k${k}.before.x, k${k}_by = k${k}.before.y, k${k}_bdir = k${k}.before.direction, k${k}_bsin = k${k}.before.sine, k${k}_bcos = k${k}.before.cosine;`,
      );
    }
    kind.columns.forEach((_, c) => {
      if (!keepsAttribute(out, k, c)) return;
      w.line(`k${k}.keepAttribute(${c});`);
      w.line(`const k${k}_ba${c} = k${k}.before.attributes[${c}];`);
    });
    kind.machines.forEach((_, m) => {
      if (!keepsState(out, k, m)) return;
      w.line(`k${k}.keepStates(${m});`);
      w.line(`const k${k}_bs${m} = k${k}.before.states[${m}];`);
    });
  });
}
