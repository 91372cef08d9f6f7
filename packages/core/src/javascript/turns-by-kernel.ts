import type { ChangeKernel, RuleKernel } from '../kernel/rule-kernel.ts';
import type { Crew } from '../kernel/crew.ts';
import { partsOf } from '../kernel/crew.ts';
import type { Population } from '../engine/population.ts';
import { ruleKey0, ruleKey1 } from '../engine/random/stream.ts';
import type { CellsAsked } from '../kernel/cells-asked.ts';
import type { AnyColumn, Kernel } from '../kernel/kernels.ts';
import type { Trouble } from '../kernel/turn-ends.ts';
import { indexName, keepingName, NOTE_NUMBERS, NOTES, SHUFFLING, TROUBLES } from '../kernel/turn-ends.ts';
import { fixedValue } from '../plan/fixed-values.ts';
import type { WantedStates } from '../state/kernel-room.ts';
import { KernelRoom } from '../state/kernel-room.ts';
import type { RunState } from '../state/run-state.ts';
import type { GeneratedState } from './generated-state.ts';
import type { RunKernels } from './run-kernels.ts';

const INDEX_COLUMNS = ['alive', 'x', 'y', 'start', 'members', 'bucket', 'memberX', 'memberY'] as const;
const KEEPING_COLUMNS = ['start', 'members', 'sortedAt', 'head'] as const;

/** What of the seam turns need: their order, and how failures are told. */
export type Seam = Pick<
  GeneratedState,
  | 'log'
  | 'areStatesOpen'
  | 'countStates'
  | 'turns'
  | 'turnCount'
  | 'fail'
  | 'failCount'
  | 'failRounds'
  | 'failNobody'
  | 'failCeiling'
>;

/** Why a kernel has ended, and where. */
interface Ended {
  readonly at: number;
  readonly kind: number;
  readonly trouble: Trouble;
  readonly site: number;
  readonly value: number;
}

/** A failure, and up to below which slot those after it have had no turn. */
type Failed = Ended & { readonly to: number };

function failedOf(ended: Ended | undefined, to: number): readonly Failed[] {
  return ended ? [{ ...ended, to }] : [];
}

function hasLife({ joined, kinds }: RuleKernel): boolean {
  return joined.some((kind) => kinds.includes(kind));
}

/** @param said what a kernel leaves of a failure */
function endedAt(at: number, said: Float64Array): Ended {
  const [site, value, which, kind] = said as unknown as [number, number, number, number];
  return { at, kind, trouble: TROUBLES[which]!, site, value };
}

/** For how many notes there is room beside those of one turn, until they are taken over. */
const NOTES_AT_ONCE = 4096;
/** Where parts would need room for more, one thread does without it. */
const MOST_NOTES_OF_PARTS = 16_777_216;

/** Turns that kernels do. */
export class TurnsByKernel {
  private readonly known = new Map<RuleKernel, { readonly layout: number; readonly call: ReturnType<Kernel> }>();

  private readonly room: KernelRoom;

  constructor(
    private readonly state: RunState,
    private readonly entries: readonly (RuleKernel | undefined)[],
    private readonly kernels: RunKernels,
    private readonly seam: Seam,
  ) {
    this.room = state.room ??= new KernelRoom(state);
  }

  /** The lines whose turns a kernel did when they were last had. */
  readonly done = new Set<number>();

  /** Of each line, whether the cells that it asks for are laid out, and few enough stand in its circles. */
  private readonly isLaidOut: boolean[] = [];

  /** Makes room for what the kernel of a line needs, before the columns are asked for. */
  reserve(entry: number): void {
    const { room } = this;
    const { populations } = this.state;
    const kernel = this.entries[entry]!;
    const { used } = populations[kernel.kinds[0]!]!;
    const crew = kernel.maySplit ? this.kernels.crewFor(used) : undefined;
    if (!crew && !this.split[entry] && this.hasRoom(entry, kernel)) return;
    if (this.areCrowded(kernel)) {
      this.isLaidOut[entry] = false;
      return;
    }
    if (kernel.isOrdered) room.reserveTurns(kernel.kinds.reduce((sum, kind) => sum + populations[kind]!.used, 0));
    for (const kind of kernel.sorted) {
      room.shapeIndex(kind);
      room.reserveIndex(kind, kernel.keptUp.includes(kind));
    }
    for (const kind of kernel.inBlocks) room.reserveLiving(kind);
    for (const mask of kernel.masks) room.reserveMask(mask);
    for (const network of kernel.rows) this.state.reserveRows(network);
    for (const network of kernel.ties) this.state.reserveTies(network);
    for (const column of kernel.before) room.reserveBefore(column);
    for (const list of kernel.lists) room.reserveList(list);
    for (const change of kernel.changes) room.reserveChange(change);
    room.reserveAddresses(kernel.columns.length);
    this.isLaidOut[entry] = kernel.cells.map((cells) => room.reserveCells(cells)).every(Boolean);
    const noted = this.mostNoted(kernel);
    // Also where there is nobody yet of whom anything may be noted.
    const takes = kernel.takesNotes;
    if (takes) room.notes.reserve(noted + NOTES_AT_ONCE);
    const parts = crew ? partsOf(crew, used) : [];
    const perPart = parts.length > 0 && takes ? noted + Math.ceil(used / parts.length / 4) : 0;
    const mayNote = perPart * parts.length <= MOST_NOTES_OF_PARTS;
    if (mayNote) room.reserveParts(parts.length, kernel, perPart);
    this.split[entry] = crew && mayNote ? { crew, parts } : undefined;
    this.roomFor[entry] = { layout: room.layout, used: populations.map((one) => one.used) };
  }

  /** Whether more stand in circles of squares than a kernel finds sooner than they are counted by cell. */
  private areCrowded({ circles }: RuleKernel): boolean {
    const { plan, populations, grounds, context } = this.state;
    return circles.some(({ kind, distance, most }) => {
      const { columns, rows } = grounds[plan.kinds[kind]!.space]!.raster;
      const radius = fixedValue(distance, context.parameters);
      return (populations[kind]!.living * Math.PI * radius * radius) / (columns * rows) > most;
    });
  }

  /** Of each line, how columns lay and how many slots of each kind were in use when room was made for it. */
  private readonly roomFor: ({ readonly layout: number; readonly used: readonly number[] } | undefined)[] = [];

  /** Whether a line has the room that it needs, as nothing has changed since it was made for it last; not asked of what lies beside the columns, or goes by more than how many there are. */
  private hasRoom(entry: number, { sorted, cells, masks, rows, ties }: RuleKernel): boolean {
    const last = this.roomFor[entry];
    if (!last || last.layout !== this.room.layout) return false;
    if (sorted.length + cells.length + masks.length + rows.length + ties.length > 0) return false;
    return this.state.populations.every(({ used }, kind) => used === last.used[kind]);
  }

  /** The kernels for changes that the line under way may cause. */
  private changes: readonly ChangeKernel[] = [];

  /** How the columns lay when the turns of that line began. */
  private layoutBefore = 0;

  /**
   * Brings agents into states that others have set all at once.
   * @param given the keys of luck, and the numbers of the kernel
   * @returns whether it did: there may be no kernel for it, and columns may lie apart by now
   */
  change(wanted: WantedStates, given: readonly number[]): boolean {
    const { kind, machine } = wanted;
    const change = this.changes.find((one) => one.kind === kind && one.machine === machine);
    if (!change || this.room.layout !== this.layoutBefore) return false;
    const { turns } = change;
    if (turns.countsStates && this.seam.areStatesOpen) this.seam.countStates();
    this.room.want(wanted);
    const failed = this.turns(turns, 0, this.state.populations[kind]!.used, given);
    if (failed) throw this.fail(failed);
    return true;
  }

  /** How much a turn may note at most, as many as there are now. */
  private mostNoted(kernel: RuleKernel): number {
    if (!kernel.notes || !kernel.takesNotes) return 0;
    const { fixed, perAgent } = kernel.notes;
    return [...perAgent].reduce((all, [kind, many]) => all + many * this.state.populations[kind]!.used, fixed);
  }

  /** Of each line, who does which parts of its turns when they are had next, where it is not one thread alone. */
  private readonly split: ({ readonly crew: Crew; readonly parts: ReturnType<typeof partsOf> } | undefined)[] = [];

  readonly run: GeneratedState['turnsByKernel'] = (entry, given, drawn) => {
    const kernel = this.entries[entry]!;
    this.done.delete(entry);
    this.layoutBefore = this.room.layout;
    // Only where the line is laid out is there surely room for them.
    this.changes = this.isLaidOut[entry] ? kernel.changes : [];
    if (!this.isLaidOut[entry] || !kernel.cells.every((cells) => this.fillCells(cells))) return false;
    this.done.add(entry);
    if (kernel.countsStates && this.seam.areStatesOpen) this.seam.countStates();
    const populations = kernel.kinds.map((kind) => this.state.populations[kind]!);
    const population = populations[0]!;
    if (kernel.isOrdered) this.seam.turns(populations, drawn ?? 0, drawn !== undefined);
    const isToBeDrawn = drawn !== undefined && !kernel.isOrdered;
    const many = kernel.isOrdered ? this.seam.turnCount : population.used;
    const turns = (from: number, to: number): Ended | undefined => this.turns(kernel, from, to, given);
    // Of those who had a turn nobody may be missing when their order is drawn after all.
    const began = isToBeDrawn && hasLife(kernel) ? population.alive.slice() : population.alive;
    for (const column of kernel.before) this.room.keep(column);
    for (const mask of kernel.masks) this.room.keepMask(mask);
    for (const kind of kernel.sorted) this.sort(kernel, kind);
    for (const kind of kernel.inBlocks) this.room.countLiving(kind);
    const split = this.split[entry];
    const failed = split ? this.inParts(kernel, split, given) : failedOf(turns(0, many), many);
    if (failed.length === 0) return true;
    // The first failure in the order of the turns is told: of who comes before has a turn who has had none.
    const order = isToBeDrawn ? this.drawn(population, began, drawn) : [failed[0]!.at];
    for (const slot of order) {
      const known = failed.find(({ at }) => at === slot);
      if (known) throw this.fail(known);
      if (!failed.some(({ at, to }) => slot > at && slot < to)) continue;
      const sooner = turns(slot, slot + 1);
      if (sooner) throw this.fail(sooner);
    }
    throw this.fail(failed[0]!);
  };

  /** Puts so many of the list of turns in the order that a key draws. @returns whether there is a kernel for it */
  shuffle(list: Int32Array, many: number, key: number): boolean {
    if (!this.entries.some((entry) => entry?.isOrdered)) return false;
    const { seed, step } = this.state.context;
    this.kernels.named(SHUFFLING)([list])(many, ruleKey0(seed, step, key), ruleKey1(seed, step, key));
    return true;
  }

  /** The order of the turns of those who were there when they began. */
  private drawn({ used }: Population, began: Uint8Array, key: number): readonly number[] {
    const list = this.seam.turns([{ alive: began, used }], key, true);
    return [...list.subarray(0, this.seam.turnCount)];
  }

  /** A kernel for the columns as they lie now. */
  private ready(kernel: RuleKernel): ReturnType<Kernel> {
    const { layout } = this.room;
    let known = this.known.get(kernel);
    if (known?.layout !== layout) {
      const columns = kernel.columns.map((column) => this.room.columnOf(column));
      this.known.set(kernel, (known = { layout, call: this.kernels.named(kernel.name)(columns) }));
    }
    return known.call;
  }

  /** Keeps on the cells of a line who stands where. @returns whether each cell holds one at most */
  private fillCells(cells: CellsAsked): boolean {
    const { room } = this;
    const { populations } = this.state;
    const { name, columns, kinds } = cells.filling;
    room.clearCells(cells);
    const filling = this.kernels.named(name)(columns.map((column) => room.columnOf(column)));
    return filling(...kinds.map((kind) => populations[kind]!.used)) < 0;
  }

  /** Sorts the agents of a kind by bucket. */
  private sort({ keptUp }: RuleKernel, kind: number): void {
    const { used, index } = this.state.populations[kind]!;
    const { columns, rows, perX, perY } = index;
    const given = (names: typeof INDEX_COLUMNS | typeof KEEPING_COLUMNS) =>
      names.map((is) => this.room.columnOf({ is, kind }));
    this.kernels.named(indexName(kind))(given(INDEX_COLUMNS))(used, columns, rows, perX, perY);
    if (keptUp.includes(kind)) this.kernels.named(keepingName(kind))(given(KEEPING_COLUMNS))(columns * rows);
  }

  /** Room for so many more agents of a kind, also where a kernel lists and sorts them; to be sorted anew. */
  private reserveFor(kernel: RuleKernel, kind: number, more: number): void {
    const { lists, keptUp, inBlocks, rows } = kernel;
    const { room } = this;
    const { populations } = this.state;
    this.state.reserve(kind, populations[kind]!.used + more);
    for (const network of rows) this.state.reserveRows(network);
    for (const list of lists) room.reserveList(list);
    if (keptUp.includes(kind)) room.reserveIndex(kind, true);
    if (inBlocks.includes(kind)) room.reserveLiving(kind);
    this.state.renewAfterGrowth();
  }

  /** Sorts and counts those of a kind anew, for whom room was made. */
  private takeStock(kernel: RuleKernel, kind: number): void {
    if (kernel.keptUp.includes(kind)) this.sort(kernel, kind);
    if (kernel.inBlocks.includes(kind)) this.room.countLiving(kind);
  }

  /** The kernel that is under way. */
  private underWay: RuleKernel | undefined;

  /** Makes room for one more agent of a kind while a kernel waits. @returns the columns of that kernel, which may lie elsewhere now */
  readonly moreRoom = (kind: number): readonly AnyColumn[] =>
    this.whileItWaits((kernel) => {
      this.reserveFor(kernel, kind, 1);
      this.takeStock(kernel, kind);
    });

  /** Makes room for a tie while a kernel waits. @returns the columns of that kernel, which may lie elsewhere now */
  readonly moreTies = (network: number, a: number, b: number): readonly AnyColumn[] =>
    this.whileItWaits(() => this.state.reserveTie(network, a, b));

  private whileItWaits(makeRoom: (kernel: RuleKernel) => void): readonly AnyColumn[] {
    const { state } = this;
    const kernel = this.underWay!;
    const { joined: changing } = kernel;
    for (const one of changing) state.populations[one]!.lifeFrom(state.lifeOf(one));
    const wasShared = state.memory.shared !== undefined;
    makeRoom(kernel);
    if (wasShared && !state.memory.shared) throw new RangeError('There is no memory for more agents or ties');
    for (const one of changing) state.populations[one]!.lifeInto(state.lifeOf(one));
    return this.room.columnsAnew(kernel.columns);
  }

  /** Turns from one place up to below another, with more room whenever it is needed. @returns why they ended before, if they did */
  private turns(kernel: RuleKernel, from: number, to: number, given: readonly number[]): Ended | undefined {
    const { state } = this;
    const { joined: changing, takesNotes } = kernel;
    this.underWay = kernel;
    for (let at = from; ;) {
      for (const kind of changing) state.populations[kind]!.lifeInto(state.lifeOf(kind));
      at = this.ready(kernel)(at, to, ...given);
      for (const kind of changing) state.populations[kind]!.lifeFrom(state.lifeOf(kind));
      if (takesNotes) this.takeNotes(this.room.notes.column);
      if (at < 0) return undefined;
      const ended = endedAt(at, state.trouble);
      const { trouble, site, value } = ended;
      if (trouble === 'notes') continue;
      if (trouble !== 'room') return ended;
      this.reserveFor(kernel, site, value);
      this.takeStock(kernel, site);
    }
  }

  /** Turns by several threads, each of which has counts, notes and lists of its own. @returns why parts of them ended before, if they did */
  private inParts(
    kernel: RuleKernel,
    { crew, parts }: { readonly crew: Crew; readonly parts: ReturnType<typeof partsOf> },
    given: readonly number[],
  ): readonly Failed[] {
    const { room } = this;
    const { context, inState } = this.state;
    const of = parts.map((range, part) => {
      room.partOf(part).clear();
      const columns = kernel.columns.map((column) => room.columnOfPart(column, part));
      return { columns, given: [...range, ...given] };
    });
    const gave = this.kernels.together(crew, kernel.name, of);
    return parts.flatMap(([, to], part) => {
      const own = room.partOf(part);
      if (kernel.takesNotes) this.takeNotes(own.notes.column);
      for (let at = gave[part]!; at >= 0;) {
        const ended = endedAt(at, own.trouble);
        if (ended.trouble !== 'notes') return [{ ...ended, to }];
        at = this.kernels.named(kernel.name)(of[part]!.columns)(at, to, ...given);
        this.takeNotes(own.notes.column);
      }
      own.addCounts(context.entered, context.left, inState);
      return [];
    });
  }

  /** Takes over what a kernel has noted. */
  private takeNotes(column: Float64Array): void {
    const { log } = this.seam;
    const many = column[NOTES.many]!;
    for (let i = 0, at = NOTES.first; i < many; i++, at += NOTE_NUMBERS)
      log.add(column[at]!, column[at + 1]!, column[at + 2]!, column[at + 3]!);
    column[NOTES.many] = 0;
  }

  private fail({ at, kind, trouble, site, value }: Ended): Error {
    switch (trouble) {
      case 'value':
        return this.seam.fail(site, value, kind, at);
      case 'count':
        return this.seam.failCount(site, value, kind, at);
      case 'rounds':
        return this.seam.failRounds(site, kind, at);
      case 'nobody':
        return this.seam.failNobody(site, kind, at);
      case 'ceiling':
        return this.seam.failCeiling(site);
      case 'room':
      case 'notes':
        return new RangeError('Room is made before a turn is had');
    }
  }
}
