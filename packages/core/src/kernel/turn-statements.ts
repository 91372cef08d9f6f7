import { drawsLuck, columnKey } from '../plan/analysis.ts';
import { MOST_ROUNDS } from '../plan/failures.ts';
import { isAmongAll } from '../plan/picks.ts';
import type * as P from '../plan/plan.ts';
import { addsField } from '../plan/seen-before.ts';
import { attributeColumnId, fieldColumnId, machineColumnId } from '../plan/settling.ts';
import type { F64, I32, Local, Statement, Test } from './kernel.ts';
import {
  called,
  compare,
  compareWhole,
  i32,
  load,
  loadWhole,
  minus,
  number,
  ofOne,
  plus,
  product,
  put,
  select,
  set,
  store,
  sum,
  whole,
} from './kernel.ts';
import { drawnFrom } from './laws.ts';
import { addToList, slotOfNumber } from './items.ts';
import { writeBecome } from './states.ts';
import * as ties from './ties.ts';
import { slotsInUse, writeBirth, writeRemoval } from './lives.ts';
import { livingAt } from './living.ts';
import { beginLuck, drawnBelow, drawWord, isWithin, LUCK_LOCALS } from './luck.ts';
import { CellQueries, writeCellDraw } from './cell-queries.ts';
import { writeTries } from './tries.ts';
import type { Around } from './turn-queries.ts';
import { TurnQueries } from './turn-queries.ts';
import { NOTE_NUMBERS, NOTES } from './turn-ends.ts';
import { applied, clipped } from './functions.ts';
import * as movement from './movement.ts';
import { anyCell, cellAt } from './cells-told.ts';
import { NeedsMore } from './needs-more.ts';
import * as outside from './outside.ts';
import type { TurnValues } from './turn-values.ts';
import { writeVariable } from './variables.ts';

/** The statements of a turn in kernel form. */

type Of<K extends P.Statement['op']> = Extract<P.Statement, { op: K }>;

const HOWS = { '=': 0, '*=': 1, '+=': 2 } as const;

export class TurnStatements {
  /** Names of the loops around the statement under way. */
  private readonly loops: string[] = [];

  /** How many walks through agents there are around it. */
  private walks = 0;

  private readonly queries: TurnQueries;
  private readonly cells: CellQueries;
  private readonly around: Around = {
    block: (statements) => this.block(statements, true),
    below: (many) => this.below(many),
    unit: () => this.unit(),
  };

  constructor(private readonly values: TurnValues) {
    this.queries = new TurnQueries(values, this.around);
    this.cells = new CellQueries(values, this.around);
  }

  /** @param hasBegun whether the luck of the agent has begun: it does so just before the first draw, in the branch that draws */
  block(statements: readonly P.Statement[], hasBegun: boolean): void {
    let begun = hasBegun;
    statements.forEach((s, i) => {
      if (begun || !drawsLuck(s)) return this.statement(s, begun);
      // Only the last that draws can leave it to its branches.
      const isLast = !statements.slice(i + 1).some(drawsLuck);
      if ((s.op === 'if' || s.op === 'switch') && isLast) return this.statement(s, false);
      begun = true;
      const { sheet, reads } = this.values;
      sheet.use(...LUCK_LOCALS);
      sheet.add(
        ...beginLuck(loadWhole(reads.wholesOf({ is: 'number', kind: this.values.actorKind }), this.values.slot(0))),
      );
      this.statement(s, true);
    });
  }

  private statement(s: P.Statement, begun: boolean): void {
    const { values } = this;
    const { sheet } = values;
    switch (s.op) {
      case 'set':
        if (values.isAgent(s.local)) {
          const value = values.value(s.value);
          sheet.add(put(values.slot(s.local), value.is === 'of i32' ? value.value : { is: 'truncated', value }));
        } else sheet.add(set(values.held(s.local), values.value(s.value)));
        return;
      case 'if':
        return sheet.when(
          values.test(s.condition),
          () => this.block(s.then, begun),
          () => this.block(s.else, begun),
        );
      case 'switch':
        return this.switch(s, begun);
      case 'repeat':
        return this.repeat(s);
      case 'until':
        return sheet.when(values.test(s.condition), () =>
          sheet.add({ is: 'leave', block: this.loops[this.loops.length - 1]! }),
        );
      case 'end turn':
        return sheet.add({ is: 'leave', block: 'turn' });
      case 'nobody':
        return sheet.add(put(values.slot(s.local), whole(-1)));
      case 'find':
        return sheet.add(
          put(values.slot(s.local), slotOfNumber(values, s.kind, { is: 'truncated', value: values.value(s.number) })),
        );
      case 'find tie':
        return ties.writeFindTie(values, s);
      case 'other end':
        return ties.writeOtherEnd(values, s);
      case 'demand':
        return sheet.when(compareWhole(values.slot(s.local), '<', whole(0)), () =>
          values.fail('nobody', s.site, number(0)),
        );
      case 'draw in zone':
        return this.drawInZone(s);
      case 'draw cell':
        return writeCellDraw(values, this.around, s);
      case 'draw':
        return this.draw(s);
      case 'count':
      case 'any':
        if (s.query.over.is === 'cells') return this.cells.count(s, s.query.over);
        return this.queries.count(s);
      case 'gather':
        if (s.query.over.is === 'cells') return this.cells.gather(s, s.query.over);
        return this.queries.gather(s);
      case 'each':
        this.walks++;
        if (s.query.over.is === 'cells') this.cells.each(s, s.query.over);
        else this.queries.each(s);
        this.walks--;
        return;
      case 'pick':
        if (s.query.over.is === 'cells') return this.cells.pick(s, s.query.over);
        return isAmongAll(s) ? this.pickOfAll(s) : this.queries.pick(s);
      case 'write':
        return this.write(s);
      case 'write field':
        return this.writeField(s);
      case 'write tie':
        return ties.writeTieValue(values, s, (column, tie, value) => this.note(column, tie, s.how, value));
      case 'add to list':
        return addToList(values, s);
      case 'tie':
        return ties.writeTie(values, s);
      case 'untie':
        return ties.writeUntie(values, s);
      case 'write due': {
        const value = values.checked(values.value(s.value), s.site);
        const due = values.reads.of({ is: 'due', kind: s.kind, column: s.column });
        return sheet.add(store(due, values.slot(s.agent.local), value));
      }
      case 'change':
        return this.note(machineColumnId(s.kind, s.machine), values.slot(s.agent.local), '=', values.value(s.state));
      case 'become':
        return writeBecome(values, s);
      case 'turn':
        return movement.writeTurnBy(values, s);
      case 'move by':
        return movement.writeMoveBy(values, s);
      case 'move to':
        return movement.writeMoveTo(values, s);
      case 'vanish':
        return movement.writeVanish(values, s);
      case 'create':
        // Room for one more may mean that those who are gone through are listed or sorted anew.
        if (this.walks > 0) throw new NeedsMore();
        return writeBirth(values, s, () => this.block(s.found, true));
      case 'remove':
        return writeRemoval(values, s);
      case 'end run':
        return sheet.add({ is: 'tell', fn: 'endRun', given: [] });
      case 'write variable':
        return writeVariable(values, s, (column, value) => this.note(column, whole(0), s.how, value));
      case 'write parameter':
        return outside.writeParameter(values, s);
      case 'add to tally':
        return outside.addToTally(values, s);
      case 'log':
        return outside.writeLog(values, s);
      case 'record':
        return outside.writeRecord(values, s);
      case 'send':
        return outside.writeSend(values, s);
      default:
        throw new NeedsMore();
    }
  }

  /** Keeps a write until the rule is over. */
  private note(column: number, target: I32, how: P.WriteHow, value: F64): void {
    const given: F64[] = [number(column), { is: 'of i32', value: target }, number(HOWS[how]), value];
    const { sheet, reads } = this.values;
    if (!this.values.notesInMemory) return sheet.add({ is: 'tell', fn: 'note', given });
    const notes = reads.of({ is: 'notes' });
    const many = sheet.kept(load(notes, whole(NOTES.many)));
    const at = sheet.keptWhole(
      plus({ is: 'truncated', value: product(many, number(NOTE_NUMBERS)) }, whole(NOTES.first)),
    );
    given.forEach((one, i) => sheet.add(store(notes, plus(at, whole(i)), one)));
    sheet.add(store(notes, whole(NOTES.many), sum(many, number(1))));
  }

  // Ways through

  private switch(s: Of<'switch'>, begun: boolean): void {
    const { values } = this;
    const on: I32 = s.value.op === 'state' ? values.state(s.value) : { is: 'truncated', value: values.value(s.value) };
    const kept = values.sheet.keptWhole(on);
    const cases = s.cases.map((body, i) => ({ body, i })).filter(({ body }) => body.length > 0);
    const from = (at: number): void => {
      const found = cases[at];
      if (!found) return;
      values.sheet.when(
        compareWhole(kept, '==', whole(found.i)),
        () => this.block(found.body, begun),
        () => from(at + 1),
      );
    };
    from(0);
  }

  private repeat(s: Of<'repeat'>): void {
    const { values } = this;
    const { sheet } = values;
    const count = sheet.kept(values.value(s.count));
    if (s.count.op !== 'number' || !(s.count.value >= 0)) {
      const isWhole: Test = {
        is: 'and',
        left: compare(count, '>=', number(0)),
        right: compare(ofOne('floor', count), '==', count),
      };
      sheet.when({ is: 'not', test: isWhole }, () => values.fail('count', s.site, count));
    }
    const index = sheet.i32();
    const name = `rounds${index.name}`;
    const isBounded = s.count.op === 'number' && s.count.value <= MOST_ROUNDS;
    const most: F64 = isBounded ? count : { is: 'at most', value: count, bound: number(MOST_ROUNDS + 1) };
    // Not every number of the text is whole.
    const to = sheet.keptWhole({ is: 'truncated', value: ofOne('ceiling', most) });
    this.loops.push(name);
    const { list } = sheet.apart(() => {
      if (!isBounded)
        sheet.when(compareWhole(index, '==', whole(MOST_ROUNDS)), () => values.fail('rounds', s.site, number(0)));
      this.block(s.body, true);
    });
    this.loops.pop();
    sheet.add({ is: 'block', name, body: [{ is: 'loop', index, from: whole(0), to, body: list }] });
  }

  // Luck

  private word(into?: Local<'i32'>): Local<'i32'> {
    const { statements, word } = drawWord(into);
    this.values.sheet.use(...LUCK_LOCALS, ...(into ? [into] : []));
    this.values.sheet.add(...statements);
    return word;
  }

  private draw(s: Of<'draw'>): void {
    const { values } = this;
    const { sheet } = values;
    const local = values.held(s.local);
    const args = s.args.map((arg) => sheet.kept(values.value(arg)));
    if (s.law === 'chance') {
      const p = args[0]!;
      if (s.args[0]!.op !== 'number') sheet.when(compare(p, '!=', p), () => values.fail('value', s.site, p));
      const isBelow = isWithin(this.word(), p);
      sheet.add(set(local, select(isBelow, number(1), number(0))));
      return;
    }
    const [a, b] = this.twoWords();
    sheet.add(set(local, drawnFrom(sheet, this.values.tables, s.law, args, a, b)));
    if (s.law !== 'unit') values.checked(local, s.site);
  }

  /** Draws a place in a zone, or one that is free of obstacles; where cells hold one each, again and again until one holds nobody, as long as that comes soon. */
  private drawInZone(s: Of<'draw in zone'>): void {
    const { values } = this;
    const { sheet, sight } = values;
    values.demandNoLanes(s.space);
    const [x, y] = [values.held(s.x), values.held(s.y)];
    const draw = (): void => {
      const words = ['wa', 'wb', 'wc'].map((name): F64 => ({ is: 'unsigned', word: this.word(i32(name)) }));
      const drawn = (axis: number): F64 =>
        called('drawnInZone', number(s.space), number(s.zone), number(axis), ...words);
      sheet.add(set(x, drawn(0)), set(y, drawn(1)));
    };
    if (sight.plan.spaces[s.space]!.oneAgentACell) {
      const cells = values.cells(s.space);
      writeTries(sheet, (end) => {
        draw();
        // There is none in a zone without cells.
        sheet.when(compare(x, '!=', x), end);
        sheet.when({ is: 'not', test: cells.isTaken(cells.placeOf(x, y)) }, end);
      });
    } else draw();
    values.checked(x, s.site);
  }

  /** A random one of all of a kind. */
  private pickOfAll(s: Of<'pick'>): void {
    const { values } = this;
    const { sheet } = values;
    const { kind, except, present } = s.query;
    if (present && values.sight.plan.kinds[kind]!.mayBeNowhere) return this.queries.pick(s);
    const isSteady = values.steady.has(kind);
    const all: I32 = { is: 'truncated', value: values.countOf(kind) };
    const passed: I32 =
      isSteady || except === undefined ? whole(1) : { is: 'holds', test: values.isThere(kind, except) };
    const others = except === undefined ? all : minus(all, passed);
    // Where nobody joins or leaves, there are as many in all turns.
    const many = isSteady ? values.onceWhole(others) : sheet.keptWhole(others);
    sheet.when(
      compareWhole(many, '>', whole(0)),
      () => {
        const drawn = this.below(many);
        // One more from the one that is passed over on, without a branch: nobody can foretell which side of it a draw falls.
        const at =
          except === undefined
            ? drawn
            : plus(drawn, { is: 'holds', test: compareWhole(drawn, '>=', values.slot(except)) });
        const take = (slot: I32): void => sheet.add(put(values.slot(s.local), slot));
        if (isSteady) take(at);
        else
          sheet.when(
            compareWhole(all, '==', slotsInUse(values, kind)),
            () => take(at),
            () => take(livingAt(values, kind, drawn, except === undefined ? undefined : values.slot(except))),
          );
        this.block(s.found, true);
      },
      () => this.block(s.nobody, true),
    );
  }

  private twoWords(): [Local<'i32'>, Local<'i32'>] {
    return [this.word(i32('wa')), this.word(i32('wb'))];
  }

  private unit(): F64 {
    return drawnFrom(this.values.sheet, this.values.tables, 'unit', [], ...this.twoWords());
  }

  /** A whole number from 0 below another, from the next word. */
  private below(many: I32): I32 {
    return drawnBelow(this.values.sheet, this.word(), many);
  }

  // Changes

  private write(s: Of<'write'>): void {
    const { values } = this;
    const { atOnce, effects } = values.sight;
    const key = columnKey(s.kind, s.column);
    const contested = atOnce && !s.agent.fresh ? effects.contested.get(key) : undefined;
    const slot = values.slot(s.agent.local);
    if (contested !== undefined) return this.contribute(s);
    const column = values.reads.of({ is: 'attribute', kind: s.kind, column: s.column });
    const value = applied(load(column, slot), s.how, values.value(s.value));
    values.sheet.add(store(column, slot, s.mayBeEmpty ? value : values.checked(value, s.site)));
  }

  /** Writes an attribute that others write too, all at once. */
  private contribute(s: Of<'write'>): void {
    const { values } = this;
    const { sheet } = values;
    const slot = values.slot(s.agent.local);
    const given = sheet.kept(values.value(s.value));
    const value = s.mayBeEmpty ? given : values.checked(given, s.site);
    const column = values.reads.of({ is: 'attribute', kind: s.kind, column: s.column });
    const contribute = (): void => {
      if (values.isAdded(s.kind, s.column)) sheet.add(store(column, slot, sum(load(column, slot), value)));
      else this.note(attributeColumnId(s.kind, s.column), slot, s.how, value);
    };
    const overlay = s.agent.own ? values.overlay(s.kind, s.column) : undefined;
    if (!overlay) return contribute();
    if (overlay.isSetting) sheet.add(put(overlay.isSet, whole(1)));
    else contribute();
    sheet.add(set(overlay.value, applied(overlay.value, s.how, value)));
    if (!s.mayBeEmpty) values.checked(overlay.value, s.site);
  }

  /** What the acting agent has set of attributes that others write too, before its turn and after it. */
  overlays(): { readonly before: readonly Statement[]; readonly after: readonly Statement[] } {
    const { values } = this;
    const { sheet, reads } = values;
    const slot = values.slot(0);
    const before = values.allOverlays.flatMap(({ kind, column, value, isSet }) => {
      const seen = reads.of({ is: values.isAdded(kind, column) ? 'attribute before' : 'attribute', kind, column });
      return [set(value, load(seen, slot)), put(isSet, whole(0))];
    });
    const { list } = sheet.apart(() => {
      for (const { kind, column, isSetting, value, isSet } of values.allOverlays)
        if (isSetting)
          sheet.when(compareWhole(isSet, '!=', whole(0)), () =>
            this.note(attributeColumnId(kind, column), slot, '=', value),
          );
    });
    return { before, after: list };
  }

  private writeField(s: Of<'write field'>): void {
    const { values } = this;
    const { sheet, sight } = values;
    const { plan, atOnce } = sight;
    const isThere = cellAt(values, s.field, s.x, s.y);
    const cell = isThere ?? anyCell(values, s.field, s.x, s.y);
    const field = values.reads.of({ is: 'field', field: s.field });
    /** What only happens to a cell: there is none where the place is none. */
    const onCell = (then: () => void): void => {
      if (isThere) then();
      else sheet.when(compareWhole(cell, '>=', whole(0)), then);
    };
    const held = (): F64 => {
      if (isThere) return load(field, cell);
      return sheet.choose(
        compareWhole(cell, '>=', whole(0)),
        () => load(field, cell),
        () => number(NaN),
      );
    };
    const given = values.value(s.value);
    const { bounds, isSingle } = plan.fields[s.field]!;
    if (atOnce) {
      const value = isSingle ? values.sheet.kept(given) : values.checked(given, s.site);
      if (isSingle) values.checked(ofOne('single', value), s.site);
      if (addsField(sight, s.field)) onCell(() => sheet.add(store(field, cell, sum(load(field, cell), value))));
      else onCell(() => this.note(fieldColumnId(s.field), cell, s.how, value));
      return;
    }
    const made = s.how === '=' ? given : applied(held(), s.how, given);
    const value = values.checked(isSingle ? ofOne('single', made) : made, s.site);
    if (!bounds) return onCell(() => sheet.add(store(field, cell, value)));
    const bound = (which: 'low' | 'high'): F64 => values.reads.number({ op: 'bound', field: s.field, which });
    onCell(() => sheet.add(store(field, cell, clipped(sheet, value, bound('low'), bound('high')))));
  }
}
