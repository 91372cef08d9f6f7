import { effectsOf, kindsOfFixedSize } from '../plan/analysis.ts';
import { visitStatements } from '../plan/visit.ts';
import type { RuleEffects } from '../plan/analysis.ts';
import type { RuleKernel } from '../kernel/rule-kernel.ts';
import type * as P from '../plan/plan.ts';
import { BodyWriter } from './body-writer.ts';
import type { BodyOptions, EmitShared } from './body-writer.ts';
import type { CellClass } from '../plan/cell-classes.ts';
import { className } from '../plan/cell-classes.ts';
import { classesCounted } from './cell-classes.ts';
import { columnNames } from './column-names.ts';
import { emitStatements } from './emit-statement.ts';
import { SourceWriter } from '../source-writer.ts';

/** The kinds whose agents a value asks about. */
export function askedKinds(body: P.Code): number[] {
  const kinds = new Set<number>();
  visitStatements([...body.statements, { op: 'set', local: 0, value: body.value }], {
    query: (query) => kinds.add(query.kind),
  });
  return [...kinds];
}

/** The code of a whole plan while it is written, and what its functions begin with. */
export class PlanWriter {
  readonly w = new SourceWriter();
  readonly shared: EmitShared;
  lists = 0;
  readonly lasting: string[] = [];
  /** Whom lines of the order count by cell, by name. */
  readonly classes = new Map<string, CellClass>();

  constructor(
    readonly plan: P.Plan,
    traces: boolean,
    /** Of each line of the order, the kernel that its turns are. */
    readonly turnKernels: readonly (RuleKernel | undefined)[],
  ) {
    this.shared = {
      plan,
      steady: kindsOfFixedSize(plan),
      traces,
      nextList: () => this.lists++,
      lasting: (first) => `V${this.lasting.push(first) - 1}`,
      valueName: ({ id }) => `v${id}`,
    };
  }

  body(options: BodyOptions): BodyWriter {
    return new BodyWriter(this.shared, this.w, options, emitStatements);
  }

  locals(count: number, from = 0): void {
    const names = Array.from({ length: Math.max(0, count - from) }, (_, i) => `L${i + from} = 0`);
    this.w.line(
      `const wEnd = W.end, wNow = W.now; let s0 = 0, s1 = 1, t = 0, w1 = 0, w2 = 0, p = 0,${this.shared.traces ? ' q = 0, tr = false,' : ''} fx = 0, fy = 0, fi = 0, fj = 0${names.map((name) => `, ${name}`).join('')};`,
    );
  }

  indices(effects: RuleEffects): void {
    for (const k of effects.queried)
      this.w.line(
        `k${k}.index.${effects.standing.has(k) ? 'sort' : 'ensure'}(SP${this.plan.kinds[k]!.space}, k${k}.alive, k${k}.x, k${k}.y, k${k}.used);`,
      );
  }

  /** Whom the rules of a line of the order count by cell. */
  counts(rules: readonly P.RulePlan[]): readonly CellClass[] {
    const classes = classesCounted(
      this.plan,
      rules.map(({ body }) => body),
    );
    for (const counted of classes) this.classes.set(className(counted), counted);
    return classes;
  }

  /** Counts them. */
  beginCounts(rules: readonly P.RulePlan[]): void {
    const askers = [...new Set(rules.map(({ kind }) => `k${kind}.used`))].join(' + ');
    for (const counted of this.counts(rules))
      this.w.line(`${className(counted)}.begin(SP${this.plan.kinds[counted.kind]!.space}, ${askers});`);
  }

  /** Columns of kinds that the body may create are read anew: growing replaces them in the middle of it. */
  shadows(effects: RuleEffects, acting?: number): void {
    // Held in locals, the acting kind's columns are found once a call instead of once an access.
    if (acting !== undefined && acting >= 0 && !effects.createdKinds.has(acting)) {
      this.w.line(
        `const ${columnNames(this.plan.kinds[acting]!, acting)
          .map(([name, source]) => `${name} = ${source}`)
          .join(', ')};`,
      );
    }
    for (const k of effects.createdKinds) {
      const names = columnNames(this.plan.kinds[k]!, k).map(([name, source]) => `${name} = ${source}`);
      this.w.line(`let k${k}_version = k${k}.version, ${names.join(', ')};`);
    }
  }

  /** The values of the fields that the body reads or writes, and of those given. */
  heldFields(effects: RuleEffects, ...own: readonly number[]): void {
    for (const g of new Set([...own, ...effects.readFields, ...effects.writtenFields.keys()]))
      this.w.line(`const g${g}_v = g${g}.values;`);
  }

  /** Of a rule's kind how many there are, where that is always so; the rows of the networks that it asks for, where it leaves the ties alone. */
  heldRows(effects: RuleEffects, kind: number): void {
    if (this.shared.steady.has(kind)) this.w.line(`const k${kind}_living = k${kind}.living;`);
    if (effects.movesTies) return;
    for (const side of effects.rowsAsked) {
      const [n, s] = side.split(':');
      this.w.line(
        `const { start: net${n}_${s}_start, length: net${n}_${s}_length, other: net${n}_${s}_other } = net${n}.rows[${s}];`,
      );
    }
  }

  keepBounds(effects: RuleEffects): void {
    this.plan.fields.forEach((field, g) => {
      if (field.bounds && effects.writtenFields.has(g))
        this.w.line(
          `const lo${g} = ${this.shared.valueName(field.bounds.min)}(), hi${g} = ${this.shared.valueName(field.bounds.max)}();`,
        );
    });
  }

  effectsOfCode(code: P.Code): RuleEffects {
    return effectsOf({
      body: { statements: [...code.statements, { op: 'set', local: 0, value: code.value }], locals: 0 },
    });
  }
}
