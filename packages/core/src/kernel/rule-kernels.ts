import { effectsOf, hasPlainTurns, kindsOfFixedSize } from '../plan/analysis.ts';
import { actingStates } from '../plan/acting-states.ts';
import type * as P from '../plan/plan.ts';
import { visitStatements } from '../plan/visit.ts';
import type { Column, KernelFunction, Statement } from './kernel.ts';
import { indexKernel } from './buckets.ts';
import { i32, loadWhole, put } from './kernel.ts';
import { writeRoomFor } from './lives.ts';
import { KEYS } from './luck.ts';
import { unlessMore } from './needs-more.ts';
import { Sheet } from './sheet.ts';
import type { ColumnBefore, TurnColumn, TurnNumber } from './turn-reads.ts';
import { isBefore, TurnReads } from './turn-reads.ts';
import { TurnStatements } from './turn-statements.ts';
import { TurnValues } from './turn-values.ts';

/** The turns of lines of the order as kernel functions, where what agents do in them is within what kernels can do. */

/**
 * A kernel that gives the agents of a kind their turns, from one slot, or place in the drawn order, up to below another; it is given those two and the two keys of
 * luck first. It gives -1, or the slot of the agent whose turn failed, or at which turn it has to have more room.
 */
export interface RuleKernel {
  readonly name: string;
  readonly kind: number;
  /** The rule whose turns they are. */
  readonly rule: P.RulePlan;
  /** Whether it goes through agents in a drawn order. */
  readonly isDrawn: boolean;
  /** The kinds whose agents have to be sorted by bucket before. */
  readonly sorted: readonly number[];
  /** The rows of ties that it goes through. */
  readonly ties: readonly { readonly network: number; readonly side: number }[];
  /** The columns that it reads as they were before it. */
  readonly before: readonly ColumnBefore[];
  /** For how many lists of agents it has to have room, by kind. */
  readonly lists: readonly { readonly is: 'list' | 'weights'; readonly list: number; readonly kind: number }[];
  readonly columns: readonly TurnColumn[];
  readonly numbers: readonly TurnNumber[];
}

/** More than so many are as soon looked at one by one. */
const MOST_STATES = 4;

export interface RuleKernels {
  readonly functions: readonly KernelFunction[];
  /** Of each line of the order, where it has one. */
  readonly entries: readonly (RuleKernel | undefined)[];
}

export function ruleKernels(plan: P.Plan): RuleKernels {
  const functions: KernelFunction[] = [];
  const steady = kindsOfFixedSize(plan);
  const entries = plan.schedule.map((entry, i) => {
    if (entry.is !== 'rules' || entry.rules.length > 1) return undefined;
    const rule = plan.rules[entry.rules[0]!]!;
    const made = unlessMore(() => turnsOf(plan, rule, entry, steady, `turns${i}`));
    if (made) functions.push(made.function);
    return made?.kernel;
  });
  const indexed = new Set(entries.flatMap((entry) => entry?.sorted ?? []));
  return { functions: [...functions, ...[...indexed].map(indexKernel)], entries };
}

function turnsOf(
  plan: P.Plan,
  rule: P.RulePlan,
  { mode }: Extract<P.ScheduleEntry, { is: 'rules' }>,
  steady: ReadonlySet<number>,
  name: string,
): { readonly function: KernelFunction; readonly kernel: RuleKernel } {
  const effects = effectsOf(rule);
  const isDrawn = !hasPlainTurns(plan, effects, mode);
  const [sheet, reads] = [new Sheet(), new TurnReads(plan)];
  const sight = { plan, atOnce: mode === 'all at once', effects };
  const values = new TurnValues(sheet, reads, sight, steady, agentLocals(rule.body), rule.kind);
  const written = new TurnStatements(values);
  const [from, to, place] = [i32('from'), i32('to'), isDrawn ? sheet.i32('place') : values.slot(0)];
  const { list } = sheet.apart(() => {
    if (isDrawn) sheet.add(put(values.slot(0), loadWhole(reads.wholesOf({ is: 'order' }), place)));
    writeRoomFor(values, rule.body.statements, place);
    if (!steady.has(rule.kind))
      sheet.when({ is: 'not', test: values.isThere(rule.kind, 0) }, () => sheet.add({ is: 'leave', block: 'turn' }));
    written.block(rule.body.statements, false);
  });
  const { before, after } = written.overlays();
  const turn: Statement = { is: 'block', name: 'turn', body: list };
  const loop = { index: place, from, to, body: [...before, turn, ...after] };
  const turns: Statement = isDrawn ? { is: 'loop', ...loop } : turnLoop(rule, reads, loop);
  return {
    kernel: {
      name,
      kind: rule.kind,
      rule,
      isDrawn,
      sorted: reads.columns.flatMap(({ is }) => (is.is === 'members' ? [is.kind] : [])),
      ties: reads.columns.flatMap(({ is }) => (is.is === 'tied many' ? [is] : [])),
      before: reads.columns.flatMap(({ is }) => (isBefore(is) ? [is] : [])),
      lists: reads.columns.flatMap(({ is }) => (is.is === 'list' || is.is === 'weights' ? [is] : [])),
      columns: reads.columns.map(({ is }) => is),
      numbers: reads.numbers.map(({ is }) => is),
    },
    function: {
      name,
      columns: reads.columns.map(({ column }) => column),
      given: [from, to, ...KEYS, ...reads.numbers.map(({ local }) => local)],
      locals: [...sheet.locals.values()],
      body: [turns],
    },
  };
}

/** Goes through those agents that are in a state in which they do something. */
function turnLoop(
  { kind, body }: P.RulePlan,
  reads: TurnReads,
  of: Omit<Extract<Statement, { is: 'loop' }>, 'is'>,
): Statement {
  const acting = actingStates(body);
  if (!acting || acting.states.length > MOST_STATES) return { is: 'loop', ...of };
  const column = reads.wholesOf({ is: 'state', kind, column: acting.machine }) as Column<'u8'>;
  return { is: 'loop over', ...of, column, values: acting.states };
}

/** The locals of a body that hold agents: who acts, who is asked for, found and picked. */
function agentLocals(body: P.Body): ReadonlySet<number> {
  const found = new Set([0]);
  const note = (agent: P.AgentRef | undefined): void => {
    if (agent) found.add(agent.local);
  };
  visitStatements(body.statements, {
    statement: (s) => {
      if ('agent' in s) note(s.agent);
      if (s.op === 'find' || s.op === 'nobody' || s.op === 'demand' || s.op === 'other end') found.add(s.local);
      if (s.op === 'pick' && s.query.over.is === 'agents') found.add(s.local);
    },
    query: (q) => {
      if (q.over.is === 'agents') found.add(q.candidate);
      if (q.except !== undefined) found.add(q.except);
    },
    expr: (e) => {
      if ('agent' in e) note(e.agent);
      if (e.op === 'somebody' || e.op === 'number or 0') found.add(e.local);
      if (e.op === 'same agent') [e.a, e.b].forEach(note);
    },
  });
  return found;
}
