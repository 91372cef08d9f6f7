import type { RunSnapshot } from '../engine/run.ts';
import { Run } from '../engine/run.ts';
import { visitExpr, visitStatements } from '../plan/visit.ts';
import type { GeneratedRun } from '../javascript/generated-run.ts';
import { CompiledPlan } from '../javascript/compiled-plan.ts';
import { restoreHand } from './hand.ts';
import type { LoadedModel } from '../load.ts';
import type { Births } from '../lower/model-draft.ts';
import { lowerModel } from '../lower/lower.ts';
import type * as P from '../plan/plan.ts';
import type { Zones } from '../plan/start-space.ts';
import { zonesOf } from '../plan/start-space.ts';

/** A run of one text, as it stands at a step. */
export interface StandingRun {
  readonly plan: P.Plan;
  readonly executable: GeneratedRun;
  readonly run: Run;
}

/** A run that goes on with another text. */
export interface CarriedRun {
  readonly executable: GeneratedRun;
  readonly run: Run;
  /** What was carried over, and what began anew or is gone, in words. */
  readonly carried: readonly string[];
  readonly anew: readonly string[];
}

/**
 * Goes on with another text from where a run stands: who is there keeps place, numbers, values, states and what is left of their durations
 * wherever the parts still fit by name and kind; what is new begins by its first values, what fits no more starts anew.
 * An edit that changes nothing of what happens leaves the run the same to the bit.
 * @returns the run, or why the two texts have nothing in common to carry over
 */
export function carryOver(from: StandingRun, loaded: LoadedModel, compiled: CompiledPlan): CarriedRun | string {
  const clocks = [from.plan.clock, loaded.plan.clock].map(({ stepLength, unitSeconds, unitLabel }) =>
    JSON.stringify([stepLength, unitSeconds, unitLabel]),
  );
  if (clocks[0] !== clocks[1]) return 'the length of a step has changed';
  return new Carrier(from, loaded).carry(compiled);
}

/** Agents of a kind that stay: where they stand in the old and, in this order, in the new population. */
interface Staying {
  readonly before: number;
  readonly after: number;
  readonly slots: readonly number[];
}

class Carrier {
  private readonly old: P.Plan;
  private readonly next: P.Plan;
  private readonly carried: string[] = [];
  private readonly anew: string[] = [];
  private readonly snapshot: RunSnapshot;
  private readonly staying: Staying[] = [];

  constructor(
    private readonly from: StandingRun,
    private readonly loaded: LoadedModel,
  ) {
    this.old = from.plan;
    this.next = loaded.plan;
    // Closes the holes of the removed, so that slots are those of the living.
    this.snapshot = from.run.snapshot();
  }

  carry(compiled: CompiledPlan): CarriedRun {
    const { next, from } = this;
    const parameters = this.parameters();
    const births = this.births();
    const born = new CompiledPlan(lowerModel(this.loaded.checked, births)).executable();
    const bornRun = new Run(born, parameters, this.snapshot.seed);
    for (const staying of this.staying) this.takeOver(staying, born);
    this.delayAll(born);
    for (const staying of this.staying) this.keepDurations(staying, born);
    this.fields(born);
    next.networks.forEach((network, n) => this.network(network, n, born));
    this.tallies(born);
    this.mail(born);
    this.variables(born);
    this.nameGone();
    const executable = compiled.executable();
    const run = new Run(executable, parameters, this.snapshot.seed);
    const { timeline, inForce } = this.timeline(parameters);
    restoreHand(executable, { zones: zonesOf(next, this.masks(born)), off: this.linesOff() });
    run.restore(
      {
        ...bornRun.snapshot(),
        step: this.snapshot.step,
        ended: false,
        refused: this.snapshot.refused,
        parameters: inForce,
        beneath: Float64Array.from(parameters),
        timeline,
        row: new Float64Array(next.measures.length),
        rowCount: from.run.rowCount,
      },
      this.rows(),
    );
    this.lastRow(executable);
    run.findWhetherOver();
    return { executable, run, carried: this.carried, anew: this.anew };
  }

  /** A value set by hand or by the timeline stays, unless the text has another usual value now. */
  private parameters(): number[] {
    return this.next.parameters.map((parameter) => {
      const i = this.old.parameters.findIndex((p) => p.name === parameter.name);
      const before = this.old.parameters[i];
      const isSame =
        before &&
        before.type === parameter.type &&
        before.value === parameter.value &&
        before.unitFactor === parameter.unitFactor &&
        String(before.options) === String(parameter.options);
      if (!isSame) return parameter.value;
      return Math.min(parameter.max ?? Infinity, Math.max(parameter.min ?? -Infinity, this.snapshot.beneath[i]!));
    });
  }

  // Agents

  private births(): Births {
    const { old, next, from } = this;
    const births = new Map<string, { x: number[]; y: number[]; direction: number[]; states: Map<string, number[]> }>();
    next.kinds.forEach((kind, after) => {
      const before = old.kinds.findIndex((k) => k.name === kind.name);
      if (before < 0 || !this.isSpaceFit(old.kinds[before]!, kind)) {
        this.anew.push(before < 0 ? `${kind.name} (a new kind)` : `${kind.name} (its space is another)`);
        return;
      }
      const population = from.executable.state.populations[before]!;
      const slots = Array.from({ length: population.used }, (_, slot) => slot).filter(
        (slot) => kind.mayBeNowhere || kind.space < 0 || !Number.isNaN(population.x[slot]!),
      );
      this.staying.push({ before, after, slots });
      this.carried.push(`${slots.length} ${kind.name}`);
      if (slots.length < population.used)
        this.anew.push(`${population.used - slots.length} ${kind.name} were nowhere, which the text has no more`);
      const pick = (column: Float64Array): number[] => slots.map((slot) => column[slot]!);
      const states = new Map<string, number[]>();
      for (const machine of kind.machines) {
        const m = old.kinds[before]!.machines.findIndex((other) => other.name === machine.name);
        if (m < 0) this.anew.push(`the states “${machine.name}” of ${kind.name}`);
        else
          states.set(
            machine.name,
            this.statesOf(
              kind,
              machine,
              old.kinds[before]!.machines[m]!,
              slots.map((slot) => population.states[m]![slot]!),
            ),
          );
      }
      births.set(kind.name, {
        x: pick(population.x),
        y: pick(population.y),
        direction: pick(population.direction),
        states,
      });
    });
    return births;
  }

  private isSpaceFit(a: P.KindPlan, b: P.KindPlan): boolean {
    const [old, next] = [this.old.spaces[a.space], this.next.spaces[b.space]];
    if (!old || !next) return old === next;
    return [old, next]
      .map(({ name, form, neighbours, oneAgentACell, unitLabel }) =>
        [name, form, neighbours, oneAgentACell, unitLabel].join(),
      )
      .every((text, _, [first]) => text === first);
  }

  /** The states by their new numbers; those in a state that is gone are put into the first one. */
  private statesOf(
    kind: P.KindPlan,
    machine: P.MachinePlan,
    before: P.MachinePlan,
    states: readonly number[],
  ): number[] {
    const target = before.states.map((name) => machine.states.indexOf(name));
    before.states.forEach((name, s) => {
      const count = states.filter((state) => state === s).length;
      if (target[s]! < 0 && count > 0)
        this.anew.push(`${count} ${kind.name} were ${name}, which is gone, and are ${machine.states[0]} now`);
    });
    return states.map((state) => Math.max(0, target[state]!));
  }

  private takeOver({ before, after, slots }: Staying, born: GeneratedRun): void {
    const [oldKind, kind] = [this.old.kinds[before]!, this.next.kinds[after]!];
    const source = this.from.executable.state.populations[before]!;
    const target = born.state.populations[after]!;
    slots.forEach((slot, i) => (target.number[i] = source.number[slot]!));
    target.nextNumber = source.nextNumber;
    const fresh = new Set<string>();
    kind.columns.forEach((column, c) => {
      const from = oldKind.columns.findIndex((other) => other.name === column.name);
      if (from < 0 || !this.isColumnFit(oldKind, from, kind, c)) {
        fresh.add(column.attribute);
        return;
      }
      const values = source.attributes[from]!;
      const options = oldKind.columns[from]!.options?.map((option) => column.options!.indexOf(option));
      slots.forEach((slot, i) => {
        const value = options ? options[values[slot]!]! : values[slot]!;
        if (!options || value >= 0) target.attributes[c]![i] = value;
      });
    });
    if (fresh.size > 0) this.anew.push(`${[...fresh].join(', ')} of ${kind.name} (first values)`);
    target.index.invalidate();
  }

  /** Whether a column holds the same sort of value; lists only if they are as long. */
  private isColumnFit(oldKind: P.KindPlan, a: number, kind: P.KindPlan, b: number): boolean {
    const [old, next] = [oldKind.columns[a]!, kind.columns[b]!];
    const width = ({ columns }: P.KindPlan): number =>
      columns.filter(({ attribute }) => attribute === next.attribute).length;
    return (
      old.type === next.type &&
      old.of === next.of &&
      old.unitLabel === next.unitLabel &&
      old.unitFactor === next.unitFactor &&
      width(oldKind) === width(kind)
    );
  }

  /** Durations that were drawn for this text count from now on. */
  private delayAll(born: GeneratedRun): void {
    const now = this.from.executable.context.end;
    for (const population of born.state.populations)
      for (const column of population.due) for (let slot = 0; slot < population.used; slot++) column[slot]! += now;
  }

  /** Whoever is in a state that ends by as many durations as before keeps what is left of them. */
  private keepDurations({ before, after, slots }: Staying, born: GeneratedRun): void {
    const source = this.from.executable.state.populations[before]!;
    const target = born.state.populations[after]!;
    const laidOut = ({ machines }: P.KindPlan): unknown =>
      machines.map(({ name, states, dues, since }) => [name, states, dues, since]);
    const { dueCount, journeyColumns } = this.next.kinds[after]!;
    const journeys = Object.entries(journeyColumns) as [P.JourneyColumn, number][];
    for (const [name, column] of journeys) {
      const was = this.old.kinds[before]!.journeyColumns[name];
      slots.forEach((slot, i) => {
        const value = was === undefined ? 0 : source.due[was]![slot]!;
        target.due[column]![i] = name === 'line' ? this.lineNow(value) : name === 'aim' ? this.aimNow(value) : value;
      });
    }
    if (sameMeaning(laidOut(this.old.kinds[before]!), laidOut(this.next.kinds[after]!))) {
      target.due
        .slice(0, dueCount - journeys.length)
        .forEach((column, d) => slots.forEach((slot, i) => (column[i] = source.due[d]![slot]!)));
      return;
    }
    this.next.kinds[after]!.machines.forEach((machine, m) => {
      const oldMachine = this.old.kinds[before]!.machines.findIndex((other) => other.name === machine.name);
      const old = this.old.kinds[before]!.machines[oldMachine];
      if (!old) return;
      slots.forEach((slot, i) => {
        const oldState = source.states[oldMachine]![slot]!;
        const state = target.states[m]![i]!;
        const [ends, now] = [old.dues[oldState]!, machine.dues[state]!];
        if (machine.states[state] === old.states[oldState] && ends.length === now.length)
          ends.forEach((column, d) => (target.due[now[d]!]![i] = source.due[column]![slot]!));
        if (machine.since !== undefined && old.since !== undefined)
          target.due[machine.since]![i] = source.due[old.since]![slot]!;
      });
    });
  }

  /** By which statement somebody travels: the same where there are as many; else it is noted when it travels on. */
  private aimNow(before: number): number {
    return this.old.aims.length === this.next.aims.length ? before : 0;
  }

  /** The line that a vehicle serves under the next text, counted from 1; 0 if that has no such line. */
  private lineNow(before: number): number {
    const { lines } = this.old;
    const name = lines[before - 1]?.name;
    const way = lines.slice(0, Math.max(0, before - 1)).filter((line) => line.name === name).length;
    const same = this.next.lines.flatMap((line, i) => (line.name === name ? [i + 1] : []));
    return same[way] ?? 0;
  }

  // What is around them

  private fields(born: GeneratedRun): void {
    this.next.fields.forEach((field, f) => {
      const before = this.old.fields.findIndex((other) => other.name === field.name);
      const [source, target] = [this.from.executable.state.fields[before], born.state.fields[f]!];
      const isFit =
        source &&
        source.columns === target.columns &&
        source.rows === target.rows &&
        String(this.old.fields[before]!.options) === String(field.options);
      if (isFit) target.values.set(source.values);
      (isFit ? this.carried : this.anew).push(`the field ${field.name}`);
    });
  }

  private network(network: P.NetworkPlan, n: number, born: GeneratedRun): void {
    const before = this.old.networks.findIndex((other) => other.name === network.name);
    const old = this.old.networks[before];
    const ends = [network.from, network.to].map((kind) => this.staying.find(({ after }) => after === kind));
    const isFit =
      old &&
      ends[0] &&
      ends[1] &&
      old.directed === network.directed &&
      old.from === ends[0].before &&
      old.to === ends[1].before &&
      sameMeaning(old.maker, network.maker);
    if (!isFit) {
      this.anew.push(`the network ${network.name}`);
      return;
    }
    const source = this.from.executable.state.networks[before]!;
    const target = born.state.networks[n]!;
    const places = ends.map((staying) => new Map(staying!.slots.map((slot, i) => [slot, i])));
    const ties = Array.from({ length: source.count }, (_, tie) => tie).filter(
      (tie) => places[0]!.has(source.a[tie]!) && places[1]!.has(source.b[tie]!),
    );
    target.clear();
    target.fill(
      Int32Array.from(ties, (tie) => places[0]!.get(source.a[tie]!)!),
      Int32Array.from(ties, (tie) => places[1]!.get(source.b[tie]!)!),
      Math.max(...ends.map((staying) => staying!.slots.length)),
    );
    ties.forEach((tie, i) => (target.serial[i] = source.serial[tie]!));
    target.nextSerial = source.nextSerial;
    network.columns.forEach((column, c) => {
      const from = old.columns.findIndex(
        (other) =>
          other.name === column.name &&
          other.type === column.type &&
          other.unitLabel === column.unitLabel &&
          String(other.options) === String(column.options),
      );
      if (from >= 0) ties.forEach((tie, i) => (target.columns[c]![i] = source.columns[from]![tie]!));
      else born.firstOfTies(n, c);
    });
    this.carried.push(`${ties.length} ties of ${network.name}`);
  }

  private tallies(born: GeneratedRun): void {
    this.next.tallies.forEach((tally, t) => {
      const before = this.old.tallies.findIndex((other) => other.name === tally.name && other.kept === tally.kept);
      if (before < 0) return;
      const { values, count } = this.from.executable.state.tallies[before]!;
      for (const value of values.subarray(0, count)) born.state.tallies[t]!.add(value, false);
    });
  }

  /** Messages that are under way, if message and receiver are still what they were. */
  private mail(born: GeneratedRun): void {
    const { mail } = this.from.executable.state;
    const kindAfter = (kind: number): number => this.staying.find(({ before }) => before === kind)?.after ?? -1;
    let lost = 0;
    mail.message.forEach((message, row) => {
      const old = this.old.messages[message]!;
      const after = this.next.messages.findIndex((other) => other.name === old.name && other.columns === old.columns);
      const kind = kindAfter(mail.kind[row]!);
      const senderKind = mail.senderKind[row]! < 0 ? -1 : kindAfter(mail.senderKind[row]!);
      if (after < 0 || kind < 0 || (senderKind < 0 && mail.senderKind[row]! >= 0)) lost++;
      else
        born.state.mail.send(
          after,
          kind,
          mail.receiver[row]!,
          senderKind,
          mail.sender[row]!,
          mail.due[row]!,
          0,
          mail.values.map((column) => column[row]!),
        );
    });
    if (mail.message.length > lost) this.carried.push(`${mail.message.length - lost} messages under way`);
    if (lost > 0) this.anew.push(`${lost} messages under way are lost`);
  }

  private variables(born: GeneratedRun): void {
    this.next.variables.forEach((variable, v) => {
      const before = this.old.variables.findIndex((other) => other.name === variable.name);
      const isFit = before >= 0 && sameMeaning(this.old.variables[before]!.start, variable.start);
      if (isFit) born.context.variables[v] = this.snapshot.variables[before]!;
      (isFit ? this.carried : this.anew).push(`the variable ${variable.name}`);
    });
  }

  private nameGone(): void {
    for (const list of ['kinds', 'fields', 'networks', 'variables'] as const) {
      for (const { name } of this.old[list])
        if (!this.next[list].some((part) => part.name === name)) this.anew.push(`${name} is gone`);
    }
  }

  /** Zones as they were painted, where the text still draws them as it did. */
  private masks(born: GeneratedRun): Zones['masks'] {
    return this.next.zones.map((zone, z) => {
      const before = this.old.zones.findIndex(
        (other) => other.name === zone.name && sameMeaning(other.shapes, zone.shapes),
      );
      const [painted, drawn] = [this.from.executable.state.zones.masks[before], born.state.zones.masks[z]!];
      return painted && sameMeaning(painted.raster, drawn.raster) ? painted : drawn;
    });
  }

  // Time

  /** Lines of the order that are switched off stay so, by what they run. */
  private linesOff(): number[] {
    const named = (plan: P.Plan, entry: P.ScheduleEntry): string =>
      JSON.stringify(
        entry.is === 'fields'
          ? entry.fields.map((f) => plan.fields[f]!.name)
          : entry.is === 'rules'
            ? entry.rules.map((r) => plan.rules[r]!.name)
            : plan.rules[entry.rule]!.name,
      );
    const off = new Set([...this.from.executable.off].map((line) => named(this.old, this.old.schedule[line]!)));
    return this.next.schedule.flatMap((entry, line) => (off.has(named(this.next, entry)) ? [line] : []));
  }

  /** Lines of the timeline that are the same go on, with what they have laid over parameters; others begin now. */
  private timeline(bottom: readonly number[]): { timeline: Float64Array; inForce: Float64Array } {
    const chunks: number[][] = [];
    let at = 1;
    for (const { overrides } of this.old.timeline) {
      chunks.push([...this.snapshot.timeline.subarray(at, at + 3 + overrides.length)]);
      at += 3 + overrides.length;
    }
    const inForce = Float64Array.from(bottom);
    const kept = this.next.timeline.map((line) => {
      const before = this.old.timeline.findIndex((other) => other.label === line.label && sameMeaning(other, line));
      return { line, chunk: chunks[before] ?? new Array<number>(3 + line.overrides.length).fill(0) };
    });
    const layers = kept.filter(({ chunk }) => chunk[2]! > 0).sort((a, b) => a.chunk[2]! - b.chunk[2]!);
    for (const { line, chunk } of layers)
      line.overrides.forEach(({ parameter }, i) => (inForce[parameter] = chunk[3 + i]!));
    return {
      timeline: Float64Array.from([this.snapshot.timeline[0]!, ...kept.flatMap(({ chunk }) => chunk)]),
      inForce,
    };
  }

  /** Rows of measures so far, empty for those that are new. */
  private rows(): Float64Array {
    const { old, next, from } = this;
    const rows = new Float64Array(from.run.rowCount * next.measures.length).fill(NaN);
    next.measures.forEach((measure, m) => {
      const before = old.measures.findIndex(
        (other) => other.name === measure.name && other.unitLabel === measure.unitLabel,
      );
      for (let row = 0; before >= 0 && row < from.run.rowCount; row++)
        rows[row * next.measures.length + m] = from.run.valueAt(row, before);
    });
    return rows;
  }

  /** The row of the step on show, measured by this text; what was counted during the step is known of the old measures only. */
  private lastRow(executable: GeneratedRun): void {
    const { context } = executable;
    // While a row is taken it is not there yet for measures that look back.
    context.rowCount--;
    const at = context.rowCount * this.next.measures.length;
    context.isTaking = true;
    for (const m of executable.measureOrder) {
      const value = readsFlows(this.next.measures[m]!.body) ? context.rows[at + m]! : executable.measures[m]!();
      context.row[m] = value;
      context.rows[at + m] = value;
    }
    context.isTaking = false;
    context.rowCount++;
  }
}

/** Whether two parts of plans say the same, wherever they stand in their texts. */
function sameMeaning(a: unknown, b: unknown): boolean {
  const text = (part: unknown): string =>
    JSON.stringify(part, (key: string, value: unknown) => (key === 'site' || key === 'id' ? undefined : value));
  return text(a) === text(b);
}

function readsFlows({ statements, value }: P.ValueBody): boolean {
  let found = false;
  const expr = (e: P.Expr): void => {
    found ||= e.op === 'flow';
  };
  visitStatements(statements, { expr });
  visitExpr(value, { expr });
  return found;
}
