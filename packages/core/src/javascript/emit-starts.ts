import { effectsOf } from '../plan/analysis.ts';
import type * as P from '../plan/plan.ts';
import { emitTest, emitValue } from './emit-expression.ts';
import { emitAgentValue } from './emit-functions.ts';
import type { PlanWriter } from './plan-writer.ts';

// Agents at the start

export function emitStarts(script: PlanWriter, kind: P.KindPlan, k: number): void {
  const { w } = script;
  kind.starts.forEach((start, i) => {
    const effects = effectsOf({ body: start.one });
    const out = script.body({ atOnce: false, effects });
    w.block(`function st${k}_${i}(count, key0, key1)`, () => {
      script.indices(effects);
      script.shadows(effects);
      script.locals(start.one.locals);
      w.block('for (let i = 0; i < count; i++)', () => {
        w.line('L0 = i;');
        w.line('s0 = agentKey0(key0, i); s1 = agentKey1(key1, i);');
        out.statements(start.one.statements);
      });
    });
  });
  kind.starts.forEach((start, i) => {
    const where = start.cells?.where;
    if (!where) return;
    const effects = script.effectsOfCode(where);
    const out = script.body({ atOnce: false, effects });
    w.block(`function cl${k}_${i}(cells)`, () => {
      script.indices(effects);
      script.locals(Math.max(1, where.locals));
      w.line('let n = 0;');
      w.block('for (let i = 0; i < cells.length; i++)', () => {
        w.line('L0 = cells[i];');
        out.statements(where.statements);
        w.line(`if (${emitTest(out, where.value)}) cells[n++] = cells[i];`);
      });
      w.line('return n;');
    });
  });
  kind.machines.forEach((machine, m) =>
    machine.exact.forEach((exact, i) => {
      const effects = effectsOf({ body: exact.enter });
      const out = script.body({ atOnce: false, effects, actorKind: k });
      w.block(`function ex${k}_${m}_${i}(L0, key0, key1)`, () => {
        script.locals(exact.enter.locals, 1);
        w.line(`s0 = agentKey0(key0, k${k}_num[L0]); s1 = agentKey1(key1, k${k}_num[L0]);`);
        w.block('turn:', () => out.statements(exact.enter.statements));
      });
    }),
  );
}

// Networks and records

export function emitNetwork(script: PlanWriter, network: P.NetworkPlan, n: number): void {
  const { w } = script;
  network.firsts.forEach((first, c) => {
    const effects = script.effectsOfCode(first);
    const out = script.body({ atOnce: false, effects });
    w.block(`function nf${n}_${c}(i, key0, key1)`, () => {
      script.indices(effects);
      script.locals(first.locals);
      w.line('s0 = agentKey0(key0, i); s1 = agentKey1(key1, i);');
      out.statements(first.statements);
      w.line(`return ${emitValue(out, first.value)};`);
    });
  });
  const ofEach = agentBodyOf(network);
  if (ofEach) emitAgentValue(script, `nb${n}`, ofEach, network.from);
}

/** What the makers of a network ask of each agent. */
export function agentBodyOf({ maker }: P.NetworkPlan): P.ValueBody | undefined {
  return maker.is === 'blocks' ? maker.by : maker.is === 'groups' ? maker.where : undefined;
}
