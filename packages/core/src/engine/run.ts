import { valueAt } from './input-series.ts';
import type { Executable, ExecutableTimelineLine } from './executable.ts';
import type { RunContext } from './run-context.ts';

const SNAPSHOT_VERSION = 3;

/** Everything a run needs to go on elsewhere to the bit. */
export interface RunSnapshot {
  readonly version: number;
  readonly seed: number;
  readonly step: number;
  readonly ended: boolean;
  readonly refused: number;
  readonly parameters: Float64Array;
  readonly beneath: Float64Array;
  readonly variables: Float64Array;
  readonly flows: Float64Array;
  readonly row: Float64Array;
  /** Of each timeline line: acted already, was true, begun as the how-manyth layer (0 for none). */
  readonly timeline: Float64Array;
  readonly rowCount: number;
  readonly parts: readonly ArrayBuffer[];
}

/** A line of the timeline that acted, began to lie over parameters, or ceased to. */
export interface TimelineMark {
  readonly step: number;
  readonly line: number;
  readonly change: 'acts' | 'begins' | 'ends';
}

interface LineState {
  acted: boolean;
  wasTrue: boolean;
  /** Place in the order of layers over parameters; 0 while it lies over none. */
  layer: number;
  values: Float64Array;
}

/** One run of a model: a function of the executable (the model), the parameters and the seed, and of nothing else. */
export class Run {
  readonly context: RunContext;
  private lines: LineState[] = [];
  private layers = 0;
  private ended = false;
  private timelineMarks: TimelineMark[] = [];

  /**
   * @param parameters one value a parameter, in base units
   * @param seed a whole number from 0 to 2^53
   */
  constructor(
    private readonly executable: Executable,
    parameters: ArrayLike<number>,
    seed: number,
  ) {
    if (!Number.isSafeInteger(seed) || seed < 0)
      throw new RangeError(`A seed is a whole number from 0 on, not ${seed}`);
    this.context = executable.context;
    this.context.rows = new Float64Array(64 * Math.max(1, executable.measures.length));
    this.context.rowCount = 0;
    this.context.notes.length = 0;
    this.context.seed = seed;
    this.context.beneath.set(parameters);
    this.context.parameters.set(parameters);
    this.begin();
  }

  private begin(): void {
    const { context, executable } = this;
    context.setStep(0);
    context.beat(-2);
    context.isEnding = false;
    context.refused = 0;
    context.row.fill(NaN);
    this.lines = executable.timeline.map((line) => ({
      acted: false,
      wasTrue: false,
      layer: 0,
      values: new Float64Array(line.overrides.length),
    }));
    executable.start();
    context.entered.fill(0);
    context.left.fill(0);
    this.takeRow();
    if (executable.recording) executable.record();
    this.ended = this.isOver();
  }

  get step(): number {
    return this.context.step;
  }

  get hasEnded(): boolean {
    return this.ended;
  }

  get rowCount(): number {
    return this.context.rowCount;
  }

  get measureCount(): number {
    return this.executable.measures.length;
  }

  /** A measure in the row of a step. */
  valueAt(row: number, measure: number): number {
    if (row < 0 || row >= this.context.rowCount)
      throw new RangeError(`There is no row ${row}; the run has ${this.context.rowCount}`);
    return this.context.rows[row * this.executable.measures.length + measure]!;
  }

  /** Rows one after another, measures within; a view that is valid until the next step. */
  get rowData(): Float64Array {
    return this.context.rows.subarray(0, this.context.rowCount * this.executable.measures.length);
  }

  get marks(): readonly TimelineMark[] {
    return this.timelineMarks;
  }

  /** How many steps there will be if no condition ends the run sooner. */
  get stepLimit(): number {
    return Math.max(0, Math.ceil(this.executable.endAfter() / this.context.clock.stepLength - 1e-9));
  }

  /** Sets a parameter by hand, as `at` in a timeline would. */
  setParameter(index: number, value: number): void {
    if (!Number.isFinite(value)) throw new RangeError(`A parameter is a finite number, not ${value}`);
    this.context.beneath[index] = value;
    this.layParameters();
  }

  /** One step further; does nothing once the run has ended. */
  next(): void {
    if (this.ended) return;
    const { context, executable } = this;
    context.setStep(context.step + 1);
    context.entered.fill(0);
    context.left.fill(0);
    context.beat(-1);
    executable.beginStep();
    this.readInputs();
    executable.timeline.forEach((line, i) => this.timelineLine(line, this.lines[i]!, i));
    if (!context.isEnding) executable.deliver(0);
    for (const [i, entry] of executable.entries.entries()) {
      if (context.isEnding) break;
      context.beat(i);
      entry();
      if (!context.isEnding) executable.deliver(i + 1);
    }
    this.takeRow();
    if (executable.recording) executable.record();
    this.ended = this.isOver();
  }

  /** Variables that tables give have, through the step, the value of its beginning. */
  private readInputs(): void {
    const { now, clock, variables } = this.context;
    const slack = clock.stepLength * 1e-9;
    for (const input of this.executable.inputs) variables[input.variable] = valueAt(input, now + slack);
  }

  /** Steps on until the end or until a step is reached. */
  runTo(step = Infinity): void {
    while (!this.ended && this.context.step < step) this.next();
  }

  /** For a run that was taken to a step from elsewhere. */
  findWhetherOver(): void {
    this.ended = this.isOver();
  }

  private isOver(): boolean {
    if (this.context.isEnding) return true;
    if (this.context.step >= this.stepLimit) return true;
    return this.executable.endWhen.some((condition) => condition() !== 0);
  }

  private takeRow(): void {
    this.context.closeStep();
    const { measures } = this.executable;
    const at = this.context.rowCount * measures.length;
    if (at + measures.length > this.context.rows.length) {
      const bigger = new Float64Array(this.context.rows.length * 2);
      bigger.set(this.context.rows);
      this.context.rows = bigger;
    }
    this.context.isTaking = true;
    try {
      for (const i of this.executable.measureOrder) {
        const value = measures[i]!();
        this.context.row[i] = value;
        this.context.rows[at + i] = value;
      }
    } finally {
      this.context.isTaking = false;
    }
    this.context.rowCount++;
  }

  /** The values that summaries read at the end. */
  finalValues(): number[] {
    return this.executable.finals.map((final) => final());
  }

  // The timeline (S3, S4)

  private timelineLine(line: ExecutableTimelineLine, state: LineState, index: number): void {
    const { context } = this;
    const { when } = line;
    switch (when.is) {
      case 'at':
        if (context.isNow(when.time())) this.act(line, index);
        return;
      case 'every':
        if (context.isMultipleNow(when.period())) this.act(line, index);
        return;
      case 'every year on':
        if (context.isDayOfYearNow(when.month, when.day)) this.act(line, index);
        return;
      case 'every day':
        if (context.isTimeOfDayNow(when.weekday, when.hours)) this.act(line, index);
        return;
      case 'from': {
        // Both ends act as a line at that time would: in the step in which they lie.
        const close = context.end - context.clock.stepLength * 1e-9;
        const isInside = close > when.from() && close <= when.to();
        this.layLine(line, state, isInside, index);
        return;
      }
      case 'while':
        this.layLine(line, state, when.condition() !== 0, index);
        return;
      case 'each time':
        if (when.condition() !== 0) this.act(line, index);
        return;
      case 'when':
      case 'whenever': {
        const isTrue = when.condition() !== 0;
        const fires = isTrue && !state.wasTrue && !(when.is === 'when' && state.acted);
        state.wasTrue = isTrue;
        if (!fires) return;
        state.acted = true;
        this.act(line, index);
      }
    }
  }

  private act(line: ExecutableTimelineLine, index: number): void {
    this.timelineMarks.push({ step: this.context.step, line: index, change: 'acts' });
    line.act();
    this.layParameters();
  }

  private layLine(line: ExecutableTimelineLine, state: LineState, isOn: boolean, index: number): void {
    if (isOn === state.layer > 0) return;
    this.timelineMarks.push({ step: this.context.step, line: index, change: isOn ? 'begins' : 'ends' });
    state.layer = isOn ? ++this.layers : 0;
    if (isOn) line.overrides.forEach((override, i) => (state.values[i] = override.value()));
    this.layParameters();
  }

  /** Values in force: those beneath, then the layers, the latest begun on top. */
  private layParameters(): void {
    const { context, executable } = this;
    context.parameters.set(context.beneath);
    const active = this.lines
      .map((state, i) => ({ state, line: executable.timeline[i]! }))
      .filter(({ state }) => state.layer > 0);
    active.sort((a, b) => a.state.layer - b.state.layer);
    for (const { state, line } of active)
      line.overrides.forEach((override, i) => (context.parameters[override.parameter] = state.values[i]!));
  }

  // Snapshots

  snapshot(): RunSnapshot {
    const { context } = this;
    return {
      version: SNAPSHOT_VERSION,
      seed: context.seed,
      step: context.step,
      ended: this.ended,
      refused: context.refused,
      parameters: context.parameters.slice(),
      beneath: context.beneath.slice(),
      variables: context.variables.slice(),
      flows: Float64Array.of(...context.entered, ...context.left),
      row: context.row.slice(),
      timeline: Float64Array.from([
        this.layers,
        ...this.lines.flatMap((line) => [line.acted ? 1 : 0, line.wasTrue ? 1 : 0, line.layer, ...line.values]),
      ]),
      rowCount: this.context.rowCount,
      parts: this.executable.snapshot(),
    };
  }

  /**
   * Goes back (or on) to a snapshot of this run. Rows up to it must be there: they are those of the same run.
   * @param rows rows to take over, if the snapshot comes from elsewhere
   */
  restore(snapshot: RunSnapshot, rows?: Float64Array): void {
    if (snapshot.version !== SNAPSHOT_VERSION)
      throw new RangeError(
        `A snapshot of version ${snapshot.version} cannot be read; this engine reads ${SNAPSHOT_VERSION}`,
      );
    const { context } = this;
    if (rows) {
      this.context.rows = Float64Array.from(rows);
      if (this.context.rows.length === 0)
        this.context.rows = new Float64Array(Math.max(1, this.executable.measures.length));
    } else if (snapshot.rowCount > this.context.rowCount)
      throw new RangeError('The rows before this snapshot are missing');
    context.seed = snapshot.seed;
    context.setStep(snapshot.step);
    context.closeStep();
    context.refused = snapshot.refused;
    context.isEnding = false;
    context.parameters.set(snapshot.parameters);
    context.beneath.set(snapshot.beneath);
    context.variables.set(snapshot.variables);
    const half = snapshot.flows.length / 2;
    context.entered.set(snapshot.flows.subarray(0, half));
    context.left.set(snapshot.flows.subarray(half));
    context.row.set(snapshot.row);
    this.ended = snapshot.ended;
    this.context.rowCount = snapshot.rowCount;
    this.timelineMarks = this.timelineMarks.filter((mark) => mark.step <= snapshot.step);
    context.notes.splice(0, context.notes.length, ...context.notes.filter((note) => note.step <= snapshot.step));
    let at = 0;
    this.layers = snapshot.timeline[at++]!;
    for (const line of this.lines) {
      line.acted = snapshot.timeline[at++] === 1;
      line.wasTrue = snapshot.timeline[at++] === 1;
      line.layer = snapshot.timeline[at++]!;
      line.values.set(snapshot.timeline.subarray(at, at + line.values.length));
      at += line.values.length;
    }
    this.executable.restore(snapshot.parts);
  }
}
