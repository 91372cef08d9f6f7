import { effectsOf } from '../plan/analysis.ts';
import type * as P from '../plan/plan.ts';
import { emitAfterMoves, emitKeys } from './rule-code.ts';
import { emitValue } from './emit-expression.ts';
import { askedKinds } from './plan-writer.ts';
import type { PlanWriter } from './plan-writer.ts';

export function emitValueFunction(script: PlanWriter, name: string, body: P.ValueBody): void {
  const { w } = script;
  const effects = script.effectsOfCode(body);
  const out = script.body({ atOnce: false, effects });
  w.block(`function ${name}()`, () => {
    script.indices(effects);
    const asked = askedKinds(body);
    if (asked.length === 1) script.shadows(effects, asked[0]);
    script.locals(body.locals);
    out.statements(body.statements);
    w.line(`return ${emitValue(out, body.value)};`);
  });
}

/** What the timeline or the surroundings do: nobody acts. */
export function emitActFunction(
  script: PlanWriter,
  name: string,
  line: { readonly body: P.Body; readonly key: number },
  test?: string,
): void {
  const { w } = script;
  const effects = effectsOf(line);
  const out = script.body({ atOnce: false, effects });
  w.block(`function ${name}()`, () => {
    if (test) w.line(`if (!${test}) return;`);
    script.indices(effects);
    script.shadows(effects);
    script.keepBounds(effects);
    emitKeys(script, line);
    script.locals(line.body.locals);
    w.line('s0 = agentKey0(key0, 0); s1 = agentKey1(key1, 0);');
    w.block('turn:', () => out.statements(line.body.statements));
  });
}

/** What one agent does by itself, outside of the rules: when a message reaches it, when others have set its machine. */
function emitSoloFunction(
  script: PlanWriter,
  name: string,
  kind: number,
  body: P.Body,
  given: string,
  from: number,
): void {
  const { w } = script;
  const effects = effectsOf({ body });
  const out = script.body({ atOnce: false, effects, actorKind: kind });
  w.block(`function ${name}(${given}, key0, key1)`, () => {
    script.indices(effects);
    script.shadows(effects);
    script.keepBounds(effects);
    script.locals(body.locals, from);
    w.line(`s0 = agentKey0(key0, k${kind}.number[L0]); s1 = agentKey1(key1, k${kind}.number[L0]);`);
    w.block('turn:', () => out.statements(body.statements));
    emitAfterMoves(script, effects, false);
  });
}

export function emitChanges(script: PlanWriter, kind: P.KindPlan, k: number): void {
  kind.machines.forEach((machine, m) => {
    emitSoloFunction(script, `ch${k}_${m}`, k, machine.change, 'L0, L1', 2);
  });
}

export function emitReaction(script: PlanWriter, reaction: P.ReactionPlan, i: number): void {
  emitSoloFunction(script, `re${i}`, reaction.kind, reaction.body, 'L0, M', 1);
}

export function emitAgentValue(script: PlanWriter, name: string, body: P.ValueBody, kind: number): void {
  const { w } = script;
  const effects = script.effectsOfCode(body);
  const out = script.body({ atOnce: false, effects, actorKind: kind });
  w.block(`function ${name}(L0)`, () => {
    script.indices(effects);
    script.locals(body.locals, 1);
    out.statements(body.statements);
    w.line(`return ${emitValue(out, body.value)};`);
  });
}

// Drawing

export function emitShows(script: PlanWriter, kind: P.KindPlan, k: number): void {
  if (kind.show?.size) emitShow(script, `sz${k}`, kind.show.size, k);
  if (kind.show?.colourBy) emitShow(script, `co${k}`, kind.show.colourBy, k);
}

function emitShow(script: PlanWriter, name: string, body: P.ValueBody, k: number): void {
  const { w } = script;
  const effects = script.effectsOfCode(body);
  const out = script.body({ atOnce: false, effects, actorKind: k });
  w.block(`function ${name}(out)`, () => {
    script.indices(effects);
    script.locals(Math.max(1, body.locals));
    w.line('let at = 0;');
    w.block(`for (let slot = 0; slot < k${k}.used; slot++)`, () => {
      w.line('L0 = slot;');
      w.line(`if (!(k${k}_alive[L0] & 1)) continue;`);
      out.statements(body.statements);
      w.line(`out[at++] = ${emitValue(out, body.value)};`);
    });
  });
}
