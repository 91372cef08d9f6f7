import type * as P from '../plan/plan.ts';
import type { BodyWriter, Of } from './body-writer.ts';
import { emitCountedHere } from './cell-classes.ts';
import { reloads } from './column-names.ts';
import { emitTellOf } from './emit-events.ts';
import { actorArgs, emitValue, placedIn, spaceOfKind } from './emit-expression.ts';
import { cellOfPlace, hasObstacles } from './emit-movement.ts';

export function emitBecome(out: BodyWriter, s: Of<'become'>): void {
  const { w } = out;
  const { firstCounter, groups } = out.shared.plan.kinds[s.kind]!.machines[s.machine]!;
  const target = `k${s.kind}_s${s.machine}[L${s.agent.local}]`;
  const count = (which: 'entered' | 'left', counter: string): string =>
    `${which === 'entered' ? 'WE' : 'WL'}[${counter}]++;`;
  if (s.agent.fresh) {
    w.line(count('entered', `${firstCounter + s.state}`));
    for (const { members, counter } of groups) if (members.includes(s.state)) w.line(count('entered', `${counter}`));
  } else {
    w.block(out.shared.steady.has(s.kind) ? '' : `if (k${s.kind}_alive[L${s.agent.local}] & 1)`, () => {
      w.line(`${count('left', `${firstCounter} + ${target}`)} ${count('entered', `${firstCounter + s.state}`)}`);
      if (out.shared.steady.has(s.kind)) w.line(`IN[${firstCounter} + ${target}]--; IN[${firstCounter + s.state}]++;`);
      for (const { members, counter } of groups) {
        const wasIn = `(${members.map((member) => `${target} === ${member}`).join(' || ')})`;
        w.line(
          members.includes(s.state)
            ? `if (!${wasIn}) ${count('entered', `${counter}`)}`
            : `if (${wasIn}) ${count('left', `${counter}`)}`,
        );
      }
    });
  }
  const agent = `L${s.agent.local}`;
  // Who is new was of no state before.
  if (!s.agent.fresh) emitCountedHere(out, s.kind, agent, -1, s.machine);
  w.line(`${target} = ${s.state};`);
  emitCountedHere(out, s.kind, agent, 1, s.machine);
  emitTellOf(
    out,
    s.kind,
    s.agent,
    (number) => `{ is: "become", kind: ${s.kind}, number: ${number}, machine: ${s.machine}, state: ${s.state} }`,
  );
}

export function emitCreate(out: BodyWriter, s: Of<'create'>): void {
  const { w } = out;
  const { plan } = out.shared;
  const k = s.kind;
  const on = plan.kinds[k]!.space;
  const space = spaceOfKind(out, k);
  const mayBeNowhere = plan.kinds[k]!.mayBeNowhere;
  w.block('', () => {
    const finite = (e: P.Expr): string => `fin(${emitValue(out, e)}, ${s.site}, ${actorArgs(out)})`;
    if (s.x && s.y) {
      const { x, y } = s;
      const [placedX, placedY] = placedIn(plan, on, finite(x), finite(y));
      const orNowhere = (e: P.Expr, placed: string): string =>
        mayBeNowhere ? `(${emitValue(out, e)} !== ${emitValue(out, e)} ? NaN : ${placed})` : placed;
      w.line(`const cx = ${orNowhere(x, placedX)}, cy = ${orNowhere(y, placedY)};`);
    } else w.line('const cx = 0, cy = 0;');
    const tracked = s.x && space?.tracksCells;
    const cell = space && cellOfPlace(out, on, 'cx', 'cy');
    const make = (): void => {
      w.line(`if (total() >= W.ceiling) FL(${s.site});`);
      w.line(`L${s.local} = k${k}.add(cx, cy, ${out.options.atOnce ? 2 : 1});`);
      if (tracked) w.line(`${mayBeNowhere ? 'if (cx === cx) ' : ''}OCC${on}[${cell}]++;`);
      w.line(`if (k${k}.version !== k${k}_version) { ${reloads(plan.kinds[k]!, k)} }`);
      emitCountedHere(out, k, `L${s.local}`, 1, -1);
      out.statements(s.found);
    };
    const refusals =
      s.x && !s.always
        ? [
            space?.oneAgentACell ? `OCC${on}[${cell}]` : '',
            hasObstacles(out, on) ? `isInMask(S.zones.blocked[${on}], cx, cy, SP${on})` : '',
          ].filter(Boolean)
        : [];
    if (refusals.length === 0) return make();
    w.line(`if (${mayBeNowhere ? 'cx === cx && ' : ''}(${refusals.join(' || ')})) W.refused++;`);
    w.block('else', make);
  });
}
