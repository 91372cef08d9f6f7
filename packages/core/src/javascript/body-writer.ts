import type { RuleEffects } from '../plan/analysis.ts';
import type * as P from '../plan/plan.ts';
import type { RuleSight } from '../plan/seen-before.ts';
import type { CellClass } from '../plan/cell-classes.ts';
import type { SourceWriter } from '../source-writer.ts';

/** What the emitter of one body needs to know about the whole. */
export interface EmitShared {
  readonly plan: P.Plan;
  /** Kinds whose slots are all alive, always. */
  readonly steady: ReadonlySet<number>;
  /** Whether the code tells what one agent goes through. */
  readonly traces: boolean;
  /** Gives a scratch list of its own to each query. */
  nextList(): number;
  /** Declares a variable that lasts from call to call, and gives its name. */
  lasting(first: string): string;
  /** Name of the function that gives a value body. */
  valueName(body: P.AskedBody): string;
}

export interface BodyOptions {
  /** Kind of the acting agent, held in local 0. */
  readonly actorKind?: number;
  readonly atOnce: boolean;
  readonly effects: RuleEffects;
  /** In bodies of fields: the index expression of the own cell, and the field. */
  readonly cell?: string;
  readonly ownField?: number;
  /** Whom the line of the order counts by cell. */
  readonly classes?: readonly CellClass[];
  /** Whether the function around the body has the rows of all networks in locals. */
  readonly holdsRows?: boolean;
}

export type Of<K extends P.Statement['op']> = Extract<P.Statement, { op: K }>;

/** The code of one body while it is written: where it goes, for whom, and what is open in it. */
export class BodyWriter {
  labels = 0;
  readonly loops: number[] = [];
  /** How the agent's stream is begun; undefined once it is. Luck that is not needed is not prepared. */
  seed: string | undefined;
  /** Whether something after the list under way draws, further out. */
  drawsLater = false;

  constructor(
    readonly shared: EmitShared,
    readonly w: SourceWriter,
    readonly options: BodyOptions,
    private readonly emitStatements: (out: BodyWriter, list: readonly P.Statement[]) => void,
  ) {}

  get sight(): RuleSight {
    return { plan: this.shared.plan, atOnce: this.options.atOnce, effects: this.options.effects };
  }

  statements(list: readonly P.Statement[]): void {
    this.emitStatements(this, list);
  }
}
