import * as P from '../plan/plan.ts';
import type { CellClass } from '../plan/cell-classes.ts';
import { classAsked, className } from '../plan/cell-classes.ts';
import { visitStatements } from '../plan/visit.ts';
import type { BodyWriter, Of } from './body-writer.ts';
import { emitValue, keepsPositions, keepsState } from './emit-expression.ts';

/** Those of a grid who are counted cell by cell in generated JavaScript (`engine/spaces/cell-counts.ts`). */

/** Whom a query asks for, if these can be counted by adding cells. */
function classOf(plan: P.Plan, query: P.Query): CellClass | undefined {
  const { over, reach, kind, where } = query;
  if (over.is !== 'agents' || (reach.is !== 'within' && reach.is !== 'square')) return undefined;
  if (P.spaceOfKind(plan, kind)?.form !== 'grid') return undefined;
  const found = classAsked(plan, query);
  return where && !found.asked ? undefined : found;
}

/** The classes that rules count near a place, each once. */
export function classesCounted(plan: P.Plan, bodies: readonly P.Body[]): CellClass[] {
  const found = new Map<string, CellClass>();
  for (const { statements } of bodies)
    visitStatements(statements, {
      statement(s) {
        if (s.op !== 'count' && s.op !== 'any' && s.op !== 'pick') return;
        const counted = classOf(plan, s.query);
        // All of a kind are found as quickly by their index.
        if (counted && (s.op !== 'pick' || counted.asked)) found.set(className(counted), counted);
      },
    });
  return [...found.values()];
}

/**
 * Counts by adding cells, where the line of the order has counted them.
 * @returns the name that holds the number, below 0 where it has to be found otherwise; nothing if these are not counted by cell
 */
export function emitCellCount(out: BodyWriter, { query }: Of<'count' | 'any'>, list: number): string | undefined {
  const counted = classOf(out.shared.plan, query);
  if (!counted || !isAsked(out, counted)) return undefined;
  const name = className(counted);
  const { reach, except, kind } = query;
  if (reach.is !== 'within' && reach.is !== 'square') return undefined;
  const [x, y, distance] = [reach.x, reach.y, reach.distance].map((part) => emitValue(out, part));
  let exceptPlace = 'NaN, NaN';
  if (except !== undefined) {
    const b = keepsPositions(out, kind) ? 'b' : '';
    const asOthersSee = counted.asked && keepsState(out, kind, counted.asked.machine) ? 'b' : '';
    const test = memberTest(out, counted, `L${except}`, asOthersSee);
    exceptPlace = `${test ? `${test} ? k${kind}_${b}x[L${except}] : NaN` : `k${kind}_${b}x[L${except}]`}, k${kind}_${b}y[L${except}]`;
  }
  out.w.line(
    `const a${list} = ${name}.isReady ? ${name}.${reach.is === 'within' ? 'within' : 'inSquare'}(${x}, ${y}, ${distance}, ${exceptPlace}) : -1;`,
  );
  return `a${list}`;
}

/** Code for how many the list of a query has once it is filled by going through the cells where somebody of its class stands; below 0 where that was not to be. */
export function cellList(out: BodyWriter, query: P.Query, list: string): string | undefined {
  const { reach, kind, except } = query;
  const counted = classOf(out.shared.plan, query);
  const isUpToDate = !out.options.atOnce && !out.options.effects.standing.has(kind);
  if (!counted?.asked || !isUpToDate || !isAsked(out, counted)) return undefined;
  if (reach.is !== 'within' && reach.is !== 'square') return undefined;
  const name = className(counted);
  const [x, y, distance] = [reach.x, reach.y, reach.distance].map((part) => emitValue(out, part));
  return `${name}.isReady ? ${name}.${reach.is === 'within' ? 'listWithin' : 'listInSquare'}(k${kind}.index, ${x}, ${y}, ${distance}, ${except === undefined ? '-1' : `L${except}`}, ${list}) : -1`;
}

function isAsked(out: BodyWriter, counted: CellClass): boolean {
  return out.options.classes?.some((one) => className(one) === className(counted)) ?? false;
}

/** Whether an agent is of a class, as a condition; nothing where everybody is. @param before `b` for the state it had before the rule */
function memberTest(out: BodyWriter, { kind, asked }: CellClass, agent: string, before = ''): string {
  const tests = out.shared.steady.has(kind) ? [] : [`k${kind}_alive[${agent}] & 1`];
  if (asked) {
    const states = asked.states
      .map((state) => `k${kind}_${before}s${asked.machine}[${agent}] === ${state}`)
      .join(' || ');
    tests.push(asked.states.length > 1 ? `(${states})` : states);
  }
  return tests.join(' && ');
}

function classesOf(out: BodyWriter, kind: number): readonly CellClass[] {
  // All at once nothing is seen of what the rule does, until it is over.
  return out.options.atOnce ? [] : (out.options.classes?.filter((counted) => counted.kind === kind) ?? []);
}

/**
 * Where somebody stands there is one less of the classes it is of, or, with 1, one more: before and after it moves, changes, comes or goes.
 * @param machine only of the states of this machine; -1 for the kind as such
 */
export function emitCountedHere(out: BodyWriter, k: number, agent: string, more: 1 | -1, machine?: number): void {
  for (const counted of classesOf(out, k)) {
    if (machine !== undefined && (counted.asked?.machine ?? -1) !== machine) continue;
    const name = className(counted);
    const tests = [`${name}.isReady`];
    if (out.shared.plan.kinds[k]!.mayBeNowhere) tests.push(`k${k}_x[${agent}] === k${k}_x[${agent}]`);
    const test = [...tests, memberTest(out, counted, agent)].filter(Boolean).join(' && ');
    out.w.line(`if (${test}) ${name}.add(k${k}_x[${agent}], k${k}_y[${agent}], ${more});`);
  }
}
