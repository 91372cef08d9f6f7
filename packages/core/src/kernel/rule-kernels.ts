import type { RuleEffects } from '../plan/analysis.ts';
import type { Amount } from '../plan/at-most.ts';
import { atMost, NOTHING } from '../plan/at-most.ts';
import { addsField } from '../plan/seen-before.ts';
import { maySplit } from '../plan/splitting.ts';
import { columnKey, effectsOf, hasPlainTurns, kindsOfFixedSize, sharedEffects } from '../plan/analysis.ts';
import { actingStates, onlyActingState } from '../plan/acting-states.ts';
import type * as P from '../plan/plan.ts';
import { positionsIn } from '../plan/positions.ts';
import type { Column, I32, KernelFunction, Local, Statement } from './kernel.ts';
import { indexKernel } from './buckets.ts';
import type { CellsAsked } from './cells-asked.ts';
import { ChangeKernels } from './change-kernels.ts';
import { cellsAsked } from './filling-kernel.ts';
import { GridCells } from './grid-cells.ts';
import { keepingKernel, KeptBuckets } from './kept-buckets.ts';
import { NOTES } from './turn-ends.ts';
import {
  both,
  compare,
  compareWhole,
  i32,
  load,
  loadWhole,
  minus,
  number,
  plus,
  put,
  sum,
  when,
  whole,
} from './kernel.ts';
import { kindsWithoutEnd, writeRoomFor } from './lives.ts';
import { KEYS } from './luck.ts';
import { drawnAmongLiving } from './living.ts';
import { unlessMore } from './needs-more.ts';
import { Sheet } from './sheet.ts';
import { shuffleKernel } from './shuffling.ts';
import type { RuleKernel } from './rule-kernel.ts';
import type { TurnColumn } from './turn-reads.ts';
import { isBefore, TurnReads } from './turn-reads.ts';
import { TurnStatements } from './turn-statements.ts';
import type { Line } from './turn-values.ts';
import { TurnValues } from './turn-values.ts';
import { variablesWritten } from './variables.ts';
import { wholeLocals } from './whole-locals.ts';

/** The turns of lines of the order as kernel functions, where what agents do in them is within what kernels can do. */

/** So many turns before its own who acts in a drawn order is brought near in memory, if there are so many turns that not all are near anyway. */
const [TURNS_AHEAD, MANY_TURNS] = [6, 20_000] as const;

/** Columns of which each agent has one number. */
const OF_AGENTS: ReadonlySet<TurnColumn['is']> = new Set([
  'x',
  'y',
  'direction',
  'sine',
  'cosine',
  'number',
  'alive',
  'attribute',
  'state',
  'due',
  'bucket',
  'sortedAt',
]);

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
  const changes = new ChangeKernels(plan);
  const entries = plan.schedule.map((entry, i) => {
    if (entry.is !== 'rules') return undefined;
    const made = unlessMore(() => turnsOf(plan, entry, steady, changes, `turns${i}`));
    if (made) functions.push(...made.functions);
    return made?.kernel;
  });
  const areOrdered = entries.some((entry) => entry?.isOrdered);
  const kindsOf = (of: 'sorted' | 'keptUp'): number[] => [...new Set(entries.flatMap((entry) => entry?.[of] ?? []))];
  return {
    functions: [
      ...functions,
      ...changes.functions,
      ...kindsOf('sorted').map(indexKernel),
      ...kindsOf('keptUp').map(keepingKernel),
      ...(areOrdered ? [shuffleKernel()] : []),
    ],
    entries,
  };
}

function turnsOf(
  plan: P.Plan,
  entry: Extract<P.ScheduleEntry, { is: 'rules' }>,
  steady: ReadonlySet<number>,
  changes: ChangeKernels,
  name: string,
): { readonly functions: readonly KernelFunction[]; readonly kernel: RuleKernel } {
  const rules = entry.rules.map((index) => plan.rules[index]!);
  const [sheet, reads] = [new Sheet(), new TurnReads(plan)];
  const turns = new LineTurns(plan, rules, entry.mode, steady, sheet, reads, name);
  const { cells } = turns;
  const networksOf = (begin: string): number[] => [
    ...new Set(reads.columns.flatMap(({ is }) => ('network' in is && is.is.startsWith(begin) ? [is.network] : []))),
  ];
  return {
    kernel: {
      name,
      rules,
      kinds: turns.kinds,
      cells: cells.map((one) => one.cells),
      isOrdered: turns.isOrdered,
      maySplit: turns.maySplit,
      countsStates: reads.columns.some(({ is }) => is.is === 'in state'),
      notes: turns.notes,
      takesNotes: reads.columns.some(({ is }) => is.is === 'notes'),
      joined: reads.columns.flatMap(({ is }) => (is.is === 'life' ? [is.kind] : [])),
      sorted: reads.columns.flatMap(({ is }) => (is.is === 'members' ? [is.kind] : [])),
      keptUp: reads.columns.flatMap(({ is }) => (is.is === 'head' ? [is.kind] : [])),
      circles: reads.circles,
      masks: reads.columns.flatMap(({ is }) => (is.is === 'mask' ? [is.of] : [])),
      inBlocks: [...new Set(reads.columns.flatMap(({ is }) => (is.is === 'living' ? [is.kind] : [])))],
      rows: networksOf('tied '),
      ties: networksOf('tie '),
      before: reads.columns.flatMap(({ is }) => (isBefore(is) ? [is] : [])),
      lists: reads.columns.flatMap(({ is }) => (is.is === 'list' || is.is === 'weights' ? [is] : [])),
      changes: entry.mode === 'all at once' ? rules.flatMap(({ body }) => changes.of(body)) : [],
      columns: reads.columns.map(({ is }) => is),
      numbers: reads.numbers.map(({ is }) => is),
    },
    functions: cells
      .map(({ filling }) => filling)
      .concat({
        name,
        columns: reads.columns.map(({ column }) => column),
        given: [FROM, TO, ...turns.given, ...reads.numbers.map(({ local }) => local)],
        locals: [...sheet.locals.values()],
        body: turns.body,
      }),
  };
}

const [FROM, TO] = [i32('from'), i32('to')];

/** What one rule of a line does in the turns of its kind. */
interface Part {
  readonly rule: P.RulePlan;
  readonly values: TurnValues;
  readonly written: TurnStatements;
  /** Of a rule that shares turns: whether it is due, and its keys of luck. */
  readonly given: readonly Local<'i32'>[];
}

/** The turns of a line of the order, while they are written. */
class LineTurns {
  readonly kinds: readonly number[];
  readonly isOrdered: boolean;
  readonly maySplit: boolean;
  readonly given: readonly Local[];
  readonly body: readonly Statement[];
  private readonly place: Local<'i32'>;
  /** How much may be noted in one turn, where that can be told. */
  readonly notes: Amount;
  private readonly grids = new Map<number, GridCells>();
  private readonly keptBuckets = new Map<number, KeptBuckets>();

  constructor(
    plan: P.Plan,
    rules: readonly P.RulePlan[],
    private readonly mode: P.Mode,
    private readonly steady: ReadonlySet<number>,
    private readonly sheet: Sheet,
    private readonly reads: TurnReads,
    name: string,
  ) {
    const bodies = rules.map(({ body }) => body);
    const all = rules.map(effectsOf);
    this.notes = mode === 'all at once' ? mostNotes(plan, rules[0]!, all[0]!) : NOTHING;
    const line: Line = {
      sheet,
      reads,
      steady,
      notesInMemory: this.notes !== undefined,
      prologue: [],
      inBlocks: drawnAmongLiving(bodies, steady),
      variablesWritten: mode === 'all at once' ? new Set() : variablesWritten(bodies),
      mayRunOut: kindsWithoutEnd(bodies, new Set(all.flatMap(({ createdKinds }) => [...createdKinds]))),
      cells: (space) => {
        let known = this.grids.get(space);
        if (!known) {
          known = new GridCells(name, space, bodies, sheet, reads, mode !== 'all at once');
          this.grids.set(space, known);
        }
        return known;
      },
      keptBuckets: (kind) => {
        let known = this.keptBuckets.get(kind);
        if (!known) this.keptBuckets.set(kind, (known = new KeptBuckets(sheet, reads, kind)));
        return known;
      },
    };
    const isShared = rules.length > 1;
    this.kinds = [...new Set(rules.map(({ kind }) => kind))];
    this.isOrdered = isShared || !hasPlainTurns(plan, all[0]!, mode);
    const parts = rules.map((rule, r): Part => {
      const sight = { plan, atOnce: mode === 'all at once', effects: { ...all[r]!, ...sharedEffects(all) } };
      const prefix = isShared ? `r${r}` : '';
      const actingIn = this.isOrdered ? undefined : onlyActingState(rule.body);
      const values = new TurnValues(
        line,
        sight,
        wholeLocals(rule.body),
        positionsIn(rule.body),
        rule.kind,
        prefix,
        actingIn,
      );
      const given = isShared ? [i32(`${prefix}on`), i32(`${prefix}key0`), i32(`${prefix}key1`)] : [];
      return { rule, values, written: new TurnStatements(values), given };
    });
    this.given = isShared ? parts.flatMap(({ given }) => given) : KEYS;
    this.place = this.isOrdered ? sheet.i32('place') : parts[0]!.values.slot(0);
    const turns = isShared ? this.shared(parts) : [this.sole(parts[0]!)];
    const grids = [...this.grids.values()];
    this.body = [...[line, ...grids, ...this.keptBuckets.values()].flatMap(({ prologue }) => prologue), ...turns];
    // Cells that are listed have one place for it.
    const listsCells = grids.some(({ reaches }) => reaches.some((table) => table.as === 'steps'));
    this.maySplit =
      !this.isOrdered && this.notes !== undefined && !listsCells && maySplit(plan, rules[0]!, mode, all[0]!);
  }

  /** What has to be laid out of cells, and the kernels that fill them. */
  get cells(): readonly { readonly cells: CellsAsked; readonly filling: KernelFunction }[] {
    return [...this.grids.values()].flatMap((grid) => cellsAsked(this.reads.plan, grid) ?? []);
  }

  private nextTurn(): I32 {
    return loadWhole(this.reads.wholesOf({ is: 'order' }), this.place);
  }

  private sole(part: Part): Statement {
    const { sheet } = this;
    const { values, rule, written } = part;
    const { list } = sheet.apart(() => {
      if (this.isOrdered) sheet.add(put(values.slot(0), this.nextTurn()));
      this.writeRoomForNotes(values);
      writeRoomFor(values, rule.body.statements, this.place);
      this.turn(part);
    });
    const { before, after } = written.overlays();
    const turn: Statement = { is: 'block', name: 'turn', body: list };
    const loop = { index: this.place, from: FROM, to: TO, body: [...this.ahead([]), ...before, turn, ...after] };
    return this.isOrdered ? { is: 'loop', ...loop } : turnLoop(rule, this.reads, loop);
  }

  /** Ends the kernel before a turn for whose notes there may be no room. */
  private writeRoomForNotes(values: TurnValues): void {
    const { notes, place, reads } = this;
    if (!notes || (notes.fixed === 0 && notes.perAgent.size === 0)) return;
    const most = reads.number({ op: 'most notes', fixed: notes.fixed, perAgent: [...notes.perAgent] });
    const [many, room] = [NOTES.many, NOTES.room].map((at) => load(reads.of({ is: 'notes' }), whole(at)));
    this.sheet.when(compare(sum(many!, most), '>', room!), () => values.fail('notes', 0, number(0), place));
  }

  private turn({ rule, values, written }: Part): void {
    if (!this.steady.has(rule.kind))
      this.sheet.when({ is: 'not', test: values.isThere(rule.kind, 0) }, () =>
        this.sheet.add({ is: 'leave', block: 'turn' }),
      );
    written.block(rule.body.statements, false);
  }

  /** Of each agent, in one order of all kinds, whose slots follow one another there, the rules of its kind. */
  private shared(parts: readonly Part[]): Statement[] {
    const { sheet, kinds, place } = this;
    const next = sheet.i32('next');
    sheet.use(...KEYS);
    const before = sheet.apart(() => kinds.map((kind) => this.slotsOf(kind)));
    const turnFrom = (at: number, first: I32): void => {
      const own = parts.filter(({ rule }) => rule.kind === kinds[at]);
      const turns = (): void => this.turnsOfKind(own, minus(next, first));
      const end = plus(first, before.made[at]!);
      if (at === kinds.length - 1) turns();
      else sheet.when(compareWhole(next, '<', end), turns, () => turnFrom(at + 1, end));
    };
    const { list } = sheet.apart(() => {
      sheet.add(put(next, this.nextTurn()));
      turnFrom(0, whole(0));
    });
    return [
      ...before.list,
      { is: 'loop', index: place, from: FROM, to: TO, body: [...this.ahead(before.made), ...list] },
    ];
  }

  /** Brings those near in memory who have their turns soon, in an order that nobody can foretell. @param slots how many of each kind there are, where turns are shared */
  private ahead(slots: readonly I32[]): Statement[] {
    if (!this.isOrdered || this.mode !== 'in turn') return [];
    const { sheet, place, kinds, reads } = this;
    const soon = sheet.i32('soon');
    const column = reads.wholesOf({ is: 'order' });
    const touch = (at: number, first: I32): Statement[] => {
      const own = reads.columns.filter(({ is }) => OF_AGENTS.has(is.is) && 'kind' in is && is.kind === kinds[at]);
      const touched = own.map((one): Statement => ({ is: 'touch', column: one.column, at: minus(soon, first) }));
      if (at === kinds.length - 1) return touched;
      const end = plus(first, slots[at]!);
      return [when(compareWhole(soon, '<', end), touched, touch(at + 1, end))];
    };
    const { list } = sheet.apart(() => {
      sheet.add(put(soon, loadWhole(column, plus(place, whole(TURNS_AHEAD)))));
      sheet.add(...touch(0, whole(0)));
    });
    const areMany = compareWhole(TO, '>', whole(MANY_TURNS));
    return [when(both(areMany, compareWhole(place, '<', minus(TO, whole(TURNS_AHEAD)))), list)];
  }

  private slotsOf(kind: number): I32 {
    return this.sheet.keptWhole({ is: 'truncated', value: this.reads.number({ op: 'slots', kind }) });
  }

  private turnsOfKind(parts: readonly Part[], slot: I32): void {
    const { sheet } = this;
    const all = parts.flatMap(({ rule }) => rule.body.statements);
    writeRoomFor(parts[0]!.values, all, this.place);
    for (const part of parts) {
      const [on, ...keys] = part.given;
      sheet.when(compareWhole(on!, '!=', whole(0)), () => {
        sheet.add(put(part.values.slot(0), slot), ...KEYS.map((key, i) => put(key, keys[i]!)));
        const { list } = sheet.apart(() => this.turn(part));
        sheet.add({ is: 'block', name: 'turn', body: list });
      });
    }
  }
}

/** How much a turn may write at most that waits for the end of the rule. */
function mostNotes(plan: P.Plan, { body }: P.RulePlan, effects: RuleEffects): Amount {
  const sight = { plan, atOnce: true, effects };
  return atMost(body.statements, (s) => {
    if (s.op === 'change' || s.op === 'write variable' || s.op === 'write tie') return 1;
    if (s.op === 'write') return effects.contested.has(columnKey(s.kind, s.column)) ? 1 : 0;
    return s.op === 'write field' && !addsField(sight, s.field) ? 1 : 0;
  });
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
  return { is: 'loop over', ...of, column, values: acting.states, isLive: acting.bringsOthers };
}
