import { effectsOf, kindsOfFixedSize } from '../plan/analysis.ts';
import { NOTHING } from '../plan/at-most.ts';
import type * as P from '../plan/plan.ts';
import { positionsIn } from '../plan/positions.ts';
import { visitStatements } from '../plan/visit.ts';
import type { Column, KernelFunction, Statement } from './kernel.ts';
import { i32, loadWhole, minus, set, whole } from './kernel.ts';
import { KEYS } from './luck.ts';
import { NeedsMore, unlessMore } from './needs-more.ts';
import type { ChangeKernel, RuleKernel } from './rule-kernel.ts';
import { Sheet } from './sheet.ts';
import type { TurnColumn } from './turn-reads.ts';
import { TurnReads } from './turn-reads.ts';
import { TurnStatements } from './turn-statements.ts';
import type { Line } from './turn-values.ts';
import { TurnValues } from './turn-values.ts';
import { variablesWritten } from './variables.ts';
import { wholeLocals } from './whole-locals.ts';

/** Changes of machines that others have set all at once, as kernels: agent by agent in the order of slots. */

/** Columns that are there without anything being prepared. Who needs others is left to the generated code. */
const ALWAYS_THERE: ReadonlySet<TurnColumn['is']> = new Set([
  'number',
  'alive',
  'state',
  'due',
  'attribute',
  'entered',
  'left',
  'in state',
  'trouble',
  'tables',
  'variables',
  'wanted',
]);

const [FROM, TO] = [i32('from'), i32('to')];

/** The kernels of a plan for changes, each made when it is first asked for. */
export class ChangeKernels {
  readonly functions: KernelFunction[] = [];
  private readonly known = new Map<string, ChangeKernel | undefined>();

  constructor(private readonly plan: P.Plan) {}

  /** Of the machines that a body sets of others. */
  of({ statements }: P.Body): readonly ChangeKernel[] {
    const found = new Set<ChangeKernel>();
    visitStatements(statements, {
      statement: (s) => {
        const kernel = s.op === 'change' ? this.named(s.kind, s.machine) : undefined;
        if (kernel) found.add(kernel);
      },
    });
    return [...found];
  }

  private named(kind: number, machine: number): ChangeKernel | undefined {
    const name = `change${kind}_${machine}`;
    if (!this.known.has(name)) {
      const made = unlessMore(() => changeOf(this.plan, kind, machine, name));
      if (made) this.functions.push(made.function);
      this.known.set(name, made && { kind, machine, turns: made.kernel });
    }
    return this.known.get(name);
  }
}

function changeOf(
  plan: P.Plan,
  kind: number,
  machine: number,
  name: string,
): { readonly function: KernelFunction; readonly kernel: RuleKernel } {
  const { change: body, states } = plan.kinds[kind]!.machines[machine]!;
  const [sheet, reads] = [new Sheet(), new TurnReads(plan)];
  const needMore = (): never => {
    throw new NeedsMore();
  };
  const line: Line = {
    sheet,
    reads,
    steady: kindsOfFixedSize(plan),
    notesInMemory: true,
    prologue: [],
    mayRunOut: new Set(),
    inBlocks: new Set(),
    variablesWritten: variablesWritten([body]),
    cells: needMore,
    keptBuckets: needMore,
  };
  const sight = { plan, atOnce: false, effects: effectsOf({ body }) };
  const values = new TurnValues(line, sight, wholeLocals(body), positionsIn(body), kind);
  const written = new TurnStatements(values);
  const slot = values.slot(0);
  const wanted = reads.wholesOf({ is: 'wanted', kind, column: machine }) as Column<'u8'>;
  const { list } = sheet.apart(() => {
    if (!line.steady.has(kind))
      sheet.when({ is: 'not', test: values.isThere(kind, 0) }, () => sheet.add({ is: 'leave', block: 'turn' }));
    sheet.add(set(values.held(1), { is: 'of i32', value: minus(loadWhole(wanted, slot), whole(1)) }));
    written.block(body.statements, false);
  });
  const change: Statement = { is: 'block', name: 'turn', body: list };
  const loop: Statement = {
    is: 'loop over',
    index: slot,
    from: FROM,
    to: TO,
    column: wanted,
    values: states.map((_, state) => state + 1),
    isLive: false,
    body: [change],
  };
  const columns = reads.columns.map(({ is }) => is);
  if (columns.some(({ is }) => !ALWAYS_THERE.has(is))) needMore();
  return {
    function: {
      name,
      columns: reads.columns.map((one) => one.column),
      given: [FROM, TO, ...KEYS, ...reads.numbers.map(({ local }) => local)],
      locals: [...sheet.locals.values()],
      body: [...line.prologue, loop],
    },
    kernel: {
      name,
      rules: [],
      kinds: [kind],
      isOrdered: false,
      maySplit: false,
      countsStates: columns.some(({ is }) => is === 'in state'),
      notes: NOTHING,
      takesNotes: false,
      joined: [],
      cells: [],
      sorted: [],
      keptUp: [],
      circles: [],
      masks: [],
      inBlocks: [],
      rows: [],
      ties: [],
      before: [],
      lists: [],
      changes: [],
      columns,
      numbers: reads.numbers.map(({ is }) => is),
    },
  };
}
