import type { Script, ScriptTimelineLine } from './script.ts';
import type { World } from './world.ts';

const SNAPSHOT_VERSION = 3;

/** Everything a run needs to go on elsewhere to the bit. */
export interface RunSnapshot {
  readonly version: number;
  readonly seed: number;
  readonly step: number;
  readonly ended: boolean;
  readonly refused: number;
  readonly parameters: Float64Array;
  readonly bottom: Float64Array;
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

/** One run of a model: a function of the script (the model), the parameters and the seed, and of nothing else. */
export class Run {
  readonly world: World;
  private lines: LineState[] = [];
  private layers = 0;
  private ended = false;
  private timelineMarks: TimelineMark[] = [];

  /**
   * @param parameters one value a parameter, in base units
   * @param seed a whole number from 0 to 2^53
   */
  constructor(
    private readonly script: Script,
    parameters: ArrayLike<number>,
    seed: number,
  ) {
    if (!Number.isSafeInteger(seed) || seed < 0)
      throw new RangeError(`A seed is a whole number from 0 on, not ${seed}`);
    this.world = script.world;
    this.world.rows = new Float64Array(64 * Math.max(1, script.measures.length));
    this.world.rowCount = 0;
    this.world.notes.length = 0;
    this.world.seed = seed;
    this.world.bottom.set(parameters);
    this.world.parameters.set(parameters);
    this.begin();
  }

  private begin(): void {
    const { world, script } = this;
    world.setStep(0);
    world.beat(-2);
    world.isEnding = false;
    world.refused = 0;
    world.row.fill(NaN);
    this.lines = script.timeline.map((line) => ({
      acted: false,
      wasTrue: false,
      layer: 0,
      values: new Float64Array(line.lay.length),
    }));
    script.start();
    world.entered.fill(0);
    world.left.fill(0);
    this.takeRow();
    if (script.recording) script.record();
    this.ended = this.isOver();
  }

  get step(): number {
    return this.world.step;
  }

  get hasEnded(): boolean {
    return this.ended;
  }

  get rowCount(): number {
    return this.world.rowCount;
  }

  get measureCount(): number {
    return this.script.measures.length;
  }

  /** A measure in the row of a step. */
  valueAt(row: number, measure: number): number {
    if (row < 0 || row >= this.world.rowCount)
      throw new RangeError(`There is no row ${row}; the run has ${this.world.rowCount}`);
    return this.world.rows[row * this.script.measures.length + measure]!;
  }

  /** Rows one after another, measures within; a view that is valid until the next step. */
  get rowData(): Float64Array {
    return this.world.rows.subarray(0, this.world.rowCount * this.script.measures.length);
  }

  get marks(): readonly TimelineMark[] {
    return this.timelineMarks;
  }

  /** How many steps there will be if no condition ends the run sooner. */
  get stepLimit(): number {
    return Math.max(0, Math.ceil(this.script.endAfter() / this.world.clock.stepLength - 1e-9));
  }

  /** Sets a parameter by hand, as `at` in a timeline would. */
  setParameter(index: number, value: number): void {
    if (!Number.isFinite(value)) throw new RangeError(`A parameter is a finite number, not ${value}`);
    this.world.bottom[index] = value;
    this.layParameters();
  }

  /** One step further; does nothing once the run has ended. */
  next(): void {
    if (this.ended) return;
    const { world, script } = this;
    world.setStep(world.step + 1);
    world.entered.fill(0);
    world.left.fill(0);
    world.beat(-1);
    script.beginStep();
    script.timeline.forEach((line, i) => this.timelineLine(line, this.lines[i]!, i));
    if (!world.isEnding) script.deliver(0);
    for (const [i, entry] of script.entries.entries()) {
      if (world.isEnding) break;
      world.beat(i);
      entry();
      if (!world.isEnding) script.deliver(i + 1);
    }
    this.takeRow();
    if (script.recording) script.record();
    this.ended = this.isOver();
  }

  /** Steps on until the end or until a step is reached. */
  runTo(step = Infinity): void {
    while (!this.ended && this.world.step < step) this.next();
  }

  /** For a run that was taken to a step from elsewhere. */
  findWhetherOver(): void {
    this.ended = this.isOver();
  }

  private isOver(): boolean {
    if (this.world.isEnding) return true;
    if (this.world.step >= this.stepLimit) return true;
    return this.script.endWhen.some((condition) => condition() !== 0);
  }

  private takeRow(): void {
    this.world.closeStep();
    const { measures } = this.script;
    const at = this.world.rowCount * measures.length;
    if (at + measures.length > this.world.rows.length) {
      const bigger = new Float64Array(this.world.rows.length * 2);
      bigger.set(this.world.rows);
      this.world.rows = bigger;
    }
    this.world.isTaking = true;
    try {
      for (const i of this.script.measureOrder) {
        const value = measures[i]!();
        this.world.row[i] = value;
        this.world.rows[at + i] = value;
      }
    } finally {
      this.world.isTaking = false;
    }
    this.world.rowCount++;
  }

  /** The values that summaries read at the end. */
  finalValues(): number[] {
    return this.script.finals.map((final) => final());
  }

  // The timeline (S3, S4)

  private timelineLine(line: ScriptTimelineLine, state: LineState, index: number): void {
    const { world } = this;
    const { when } = line;
    switch (when.is) {
      case 'at':
        if (world.isNow(when.time())) this.act(line, index);
        return;
      case 'every':
        if (world.isMultipleNow(when.period())) this.act(line, index);
        return;
      case 'every year on':
        if (world.isDayOfYearNow(when.month, when.day)) this.act(line, index);
        return;
      case 'every day':
        if (world.isTimeOfDayNow(when.weekday, when.hours)) this.act(line, index);
        return;
      case 'from': {
        // Both ends act as a line at that time would: in the step in which they lie.
        const close = world.end - world.clock.stepLength * 1e-9;
        const isInside = close > when.from() && close <= when.to();
        this.layLine(line, state, isInside, index);
        return;
      }
      case 'while':
        this.layLine(line, state, when.condition() !== 0, index);
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

  private act(line: ScriptTimelineLine, index: number): void {
    this.timelineMarks.push({ step: this.world.step, line: index, change: 'acts' });
    line.act();
    this.layParameters();
  }

  private layLine(line: ScriptTimelineLine, state: LineState, isOn: boolean, index: number): void {
    if (isOn === state.layer > 0) return;
    this.timelineMarks.push({ step: this.world.step, line: index, change: isOn ? 'begins' : 'ends' });
    state.layer = isOn ? ++this.layers : 0;
    if (isOn) line.lay.forEach((lay, i) => (state.values[i] = lay.value()));
    this.layParameters();
  }

  /** Values in force: those at the bottom, then the layers, the latest begun on top. */
  private layParameters(): void {
    const { world, script } = this;
    world.parameters.set(world.bottom);
    const active = this.lines
      .map((state, i) => ({ state, line: script.timeline[i]! }))
      .filter(({ state }) => state.layer > 0);
    active.sort((a, b) => a.state.layer - b.state.layer);
    for (const { state, line } of active)
      line.lay.forEach((lay, i) => (world.parameters[lay.parameter] = state.values[i]!));
  }

  // Snapshots

  snapshot(): RunSnapshot {
    const { world } = this;
    return {
      version: SNAPSHOT_VERSION,
      seed: world.seed,
      step: world.step,
      ended: this.ended,
      refused: world.refused,
      parameters: world.parameters.slice(),
      bottom: world.bottom.slice(),
      variables: world.variables.slice(),
      flows: Float64Array.of(...world.entered, ...world.left),
      row: world.row.slice(),
      timeline: Float64Array.from([
        this.layers,
        ...this.lines.flatMap((line) => [line.acted ? 1 : 0, line.wasTrue ? 1 : 0, line.layer, ...line.values]),
      ]),
      rowCount: this.world.rowCount,
      parts: this.script.snapshot(),
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
    const { world } = this;
    if (rows) {
      this.world.rows = Float64Array.from(rows);
      if (this.world.rows.length === 0) this.world.rows = new Float64Array(Math.max(1, this.script.measures.length));
    } else if (snapshot.rowCount > this.world.rowCount)
      throw new RangeError('The rows before this snapshot are missing');
    world.seed = snapshot.seed;
    world.setStep(snapshot.step);
    world.closeStep();
    world.refused = snapshot.refused;
    world.isEnding = false;
    world.parameters.set(snapshot.parameters);
    world.bottom.set(snapshot.bottom);
    world.variables.set(snapshot.variables);
    const half = snapshot.flows.length / 2;
    world.entered.set(snapshot.flows.subarray(0, half));
    world.left.set(snapshot.flows.subarray(half));
    world.row.set(snapshot.row);
    this.ended = snapshot.ended;
    this.world.rowCount = snapshot.rowCount;
    this.timelineMarks = this.timelineMarks.filter((mark) => mark.step <= snapshot.step);
    world.notes.splice(0, world.notes.length, ...world.notes.filter((note) => note.step <= snapshot.step));
    let at = 0;
    this.layers = snapshot.timeline[at++]!;
    for (const line of this.lines) {
      line.acted = snapshot.timeline[at++] === 1;
      line.wasTrue = snapshot.timeline[at++] === 1;
      line.layer = snapshot.timeline[at++]!;
      line.values.set(snapshot.timeline.subarray(at, at + line.values.length));
      at += line.values.length;
    }
    this.script.restore(snapshot.parts);
  }
}
