import type { LaneNetwork } from '../maps/lane-network.ts';
import { MapProblem } from '../maps/map-file.ts';
import { placeOfCoordinates } from '../maps/lane-network.ts';
import { LaneIndex } from '../maps/lane-index.ts';
import type {
  AttributeSymbol,
  CheckedTable,
  CheckedTies,
  KindSymbol,
  LineSymbol,
  NamedPlace,
  NetworkSymbol,
  SpaceSymbol,
  VariableSymbol,
} from './checked.ts';
import type { Declared, Environment } from './environment.ts';
import * as say from './meaning-messages.ts';
import type { SheetRow } from './sheet.ts';
import type { ReadValue } from './raster-file.ts';
import { numberOfWord, readRaster } from './raster-file.ts';
import { cellNumber, DELIMITERS, SheetProblem, sheetRows } from './sheet.ts';
import type * as Ast from './syntax.ts';
import { constantOf, unitScale } from './scales.ts';
import { partsOf } from './syntax.ts';
import { seriesOf } from './input-series.ts';
import { tripsOf, tripsOfWeek } from './timetable.ts';
import type { ChoiceType, Type } from './types.ts';

/** The files that a model asks for and does not hold itself. */
export function filesWanted(tree: Ast.SyntaxTree): string[] {
  const names = tree.parts.flatMap((part): string[] => {
    if (part.is === 'agent') return part.starts.flatMap(({ count }) => (count.is === 'table' ? [count.file.name] : []));
    if (part.is === 'line') return [part.stopsFile, part.timetable].flatMap((file) => (file ? [file.name] : []));
    if (part.is === 'network') return part.maker.is === 'from' ? [part.maker.file.name] : [];
    if (part.is === 'variable') return part.table ? [part.table.file.name] : [];
    if (part.is === 'space') return part.map ? [part.map.file.name] : [];
    if (part.is === 'field') return part.startFile ? [part.startFile.name] : [];
    if (part.is === 'zone' || part.is === 'obstacle')
      return part.shapes.flatMap((shape) => (shape.is === 'from' ? [shape.file.name] : []));
    return [];
  });
  const held = new Set(tree.parts.flatMap((part) => (part.is === 'data' ? [part.file.name] : [])));
  return [...new Set(names)].filter((name) => !held.has(name));
}

/** Columns of a table that place an agent rather than set an attribute. */
const PLACING = ['x', 'y', 'direction'];
/** The same of a map in degrees. */
const GEOGRAPHIC = ['lon', 'lat'];
/** A place of a table farther from all lanes, in metres, is doubted. */
const FAR_FROM_LANES = 25;

interface Sheet {
  readonly header: readonly string[];
  readonly headerLine: number;
  readonly head: SheetRow;
  readonly rows: readonly SheetRow[];
}

/** Reads the files that a model mentions, as far as its parts need them; what does not fit is reported where the file is named. */
export class DataReader {
  constructor(
    private readonly env: Environment,
    private readonly tree: Ast.SyntaxTree,
  ) {}

  read(): void {
    for (const kind of this.env.kinds.values()) {
      for (const start of kind.part.starts) if (start.count.is === 'table') this.table(start, start.count.file, kind);
    }
    for (const network of this.env.networks.values())
      if (network.part.maker.is === 'from') this.ties(network, network.part.maker.file);
    for (const line of this.env.lines.values()) {
      if (line.part.stopsFile) this.stops(line, line.part.stopsFile);
      if (line.part.timetable) this.timetable(line, line.part.timetable);
    }
    this.weeklyTimetables();
    for (const variable of this.env.variables.values())
      if (variable.part.table) this.series(variable, variable.part.table);
    for (const part of this.tree.parts) {
      if (part.is === 'field' && part.startFile)
        this.raster(part, part.startFile, valuesOf(part), part.codes ? undefined : part.choices);
      if (part.is === 'zone' || part.is === 'obstacle')
        for (const shape of part.shapes) if (shape.is === 'from') this.raster(shape, shape.file, numberOfWord);
    }
  }

  private text(file: Ast.FileName): string | undefined {
    const found = this.env.files.get(file.name);
    if (found === undefined) this.env.report(say.missingData(file.span, file.name, [...this.env.files.keys()]));
    else if (found instanceof MapProblem) this.wrong(file, found.line ?? 1, `${found.message} ${found.hint}`);
    else if (typeof found !== 'string') this.env.report(say.mapAsData(file.span, file.name));
    return typeof found === 'string' ? found : undefined;
  }

  private sheet(file: Ast.FileName): Sheet | undefined {
    const text = this.text(file);
    if (text === undefined) return undefined;
    const rows = this.rowsOf(file, text);
    if (!rows) return undefined;
    const header = rows.shift();
    if (!header) {
      this.env.report(say.badData(file.span, file.name, 1, 'the file is empty.'));
      return undefined;
    }
    const names = header.cells.map((cell) => cell.trim());
    const twice = names.find(
      (name, i) => name !== '' && names.findIndex((other) => other.toLowerCase() === name.toLowerCase()) !== i,
    );
    if (twice !== undefined) {
      this.env.report(say.badData(file.span, file.name, header.line, `two columns have the name “${twice}”.`));
      return undefined;
    }
    return { header: names, headerLine: header.line, head: header, rows };
  }

  private rowsOf(file: Ast.FileName, text: string): SheetRow[] | undefined {
    try {
      return sheetRows(text);
    } catch (error) {
      if (!(error instanceof SheetProblem)) throw error;
      this.env.report(say.badData(file.span, file.name, error.line, error.message));
      return undefined;
    }
  }

  private table(start: Ast.StartLine, file: Ast.FileName, kind: KindSymbol): void {
    const sheet = this.sheet(file);
    if (!sheet) return;
    const columns = new Map<string, number[]>();
    sheet.header.forEach((name, c) => {
      const key = name.toLowerCase();
      const attribute = kind.attributes.find((a) => a.key === key);
      const machine = kind.machines.find((m) => m.key === key);
      const type: Type | undefined =
        attribute?.type ??
        machine?.type ??
        (kind.space && placingColumns(kind.space).includes(key)
          ? { is: 'number', dim: undefined, whole: false }
          : undefined);
      if (!type || type.is === 'list' || type.is === 'place') {
        this.env.report(say.unusedColumn(file.span, file.name, name, kind.name));
        return;
      }
      if (attribute) this.env.use(attribute);
      const named = attribute ?? machine;
      if (named) this.stands(file, sheet.head, c, named);
      columns.set(key, this.column(sheet, c, file, type, attribute));
    });
    if (kind.space?.lanes) this.onLanes(file, kind.space.lanes, columns, sheet);
    const isPlaced = columns.has('x') && columns.has('y');
    if (kind.space && !isPlaced && !start.placing)
      this.env.report(
        say.badData(
          file.span,
          file.name,
          sheet.headerLine,
          'columns x and y are missing, and the line does not say where else.',
        ),
      );
    this.env.tables.set(start, { rows: sheet.rows.length, columns } satisfies CheckedTable);
  }

  /** Stops in the order of a table. */
  private stops(line: LineSymbol, file: Ast.FileName): void {
    const sheet = this.rowsOfLine(line, file);
    if (!sheet) return;
    const count = sheet.rows.length;
    if (count < 2) {
      const found = count === 1 ? '1 stop' : `${count} stops`;
      this.wrong(file, sheet.headerLine, `${line.name} has ${found} here, and needs two or more.`);
      return;
    }
    const places = this.stopPlaces(line.kind.space!, file, sheet);
    if (places) this.env.stopTables.set(line, places);
  }

  /** Trips of a timetable: where each stops, and when. */
  private timetable(line: LineSymbol, file: Ast.FileName): void {
    const sheet = this.rowsOfLine(line, file);
    const places = sheet && this.stopPlaces(line.kind.space!, file, sheet);
    if (!places) return;
    const { trips, problem } = tripsOf(sheet.header, sheet.rows, places);
    if (problem) {
      this.wrong(file, problem.line ?? sheet.headerLine, problem.what);
      return;
    }
    this.env.timetables.set(line, trips);
    const step = this.env.scales.stepLength * (this.env.scales.time?.size ?? 0);
    const tooFast = trips.find(({ arrives, leaves }) => arrives.some((at, i) => i > 0 && at - leaves[i - 1]! < step));
    if (tooFast) this.env.report(say.stopsInOneStep(file.span, file.name, tooFast.name));
  }

  /** Where some trips run on some days of the week only, the timetables of all lines are those of a week. */
  private weeklyTimetables(): void {
    const { env } = this;
    const weekly = [...env.timetables].find(([, trips]) => trips.some(({ days }) => days !== undefined));
    if (!weekly) return;
    const { firstWeekday } = env;
    if (firstWeekday === undefined) {
      env.report(say.daysWithoutCalendar(weekly[0].part.timetable!.span));
      return;
    }
    env.timetableDays = 7;
    for (const [line, trips] of env.timetables) env.timetables.set(line, tripsOfWeek(trips, firstWeekday));
  }

  /** The values of a variable. */
  private series(variable: VariableSymbol, { file, column, unit }: Ast.SeriesTable): void {
    const { env } = this;
    const sheet = this.sheet(file);
    if (!sheet) return;
    const { scales } = env;
    const clock = partsOf(this.tree, 'clock')[0];
    const factor = (unit && unitScale(unit.key, scales)?.factor) ?? 1;
    const { series, problem } = seriesOf(
      sheet.header,
      sheet.rows,
      column?.name ?? variable.name,
      {
        unitSeconds: scales.time?.size,
        stepLength: scales.stepLength,
        start: clock?.from?.text,
        hours: clock?.from?.hours,
      },
      (cell) => {
        const value = valueOf(cell, variable.type);
        return value === undefined ? undefined : value * factor;
      },
    );
    this.seriesNames(variable, file, sheet, column);
    if (problem) this.wrong(file, problem.line ?? sheet.headerLine, problem.what);
    if (!series) return;
    env.inputSeries.set(variable, series);
    const end = clock?.endAfter && constantOf(clock.endAfter, scales)?.value;
    const { times } = series;
    const longest = times.reduce((most, time, i) => (i > 0 ? Math.max(most, time - times[i - 1]!) : most), 0);
    // Of one or two values the last is meant to hold on.
    if (end !== undefined && times.length > 2 && times.at(-1)! + longest < end * (1 - 1e-9))
      env.report(say.seriesEnds(file.span, file.name, sheet.rows.at(-1)!.line));
  }

  /** What the table of a variable names: the variable itself, and its words. */
  private seriesNames(variable: VariableSymbol, file: Ast.FileName, sheet: Sheet, column?: Ast.FileName): void {
    const at = columnOf(sheet.header, (column?.name ?? variable.name).toLowerCase());
    if (at >= 0 && !column) this.stands(file, sheet.head, at, variable);
    const { type } = variable;
    if (type.is !== 'choice') return;
    for (const row of sheet.rows)
      row.cells.forEach((cell, c) => {
        const option = c === at || at < 0 ? valueOf(cell.trim(), type) : undefined;
        if (option !== undefined) this.word(file, row, c, type, option);
      });
  }

  private wrong(file: Ast.FileName, row: number, what: string): void {
    this.env.report(say.badData(file.span, file.name, row, what));
  }

  /** The rows of a table that are of a line on a map: all, or those that a column `line` says. */
  private rowsOfLine(line: LineSymbol, file: Ast.FileName): Sheet | undefined {
    const sheet = this.sheet(file);
    if (!sheet || !line.kind.space?.lanes) return undefined;
    const own = columnOf(sheet.header, 'line');
    const rows = sheet.rows.filter(({ cells }) => own < 0 || (cells[own] ?? '').trim().toLowerCase() === line.key);
    if (own >= 0) for (const row of rows) this.stands(file, row, own, line);
    return { ...sheet, rows };
  }

  /** A place for each row: by coordinates, or by names of the map. */
  private stopPlaces(space: SpaceSymbol, file: Ast.FileName, sheet: Sheet): readonly NamedPlace[] | undefined {
    const columns = new Map<string, number[]>();
    const number: Type = { is: 'number', dim: undefined, whole: false };
    for (const key of placingColumns(space)) {
      const at = columnOf(sheet.header, key);
      if (at >= 0) columns.set(key, this.column(sheet, at, file, number, undefined));
    }
    if (columns.size >= 2 && sheet.rows.length > 0) this.onLanes(file, space.lanes!, columns, sheet);
    const [x, y] = [columns.get('x'), columns.get('y')];
    if (x && y) return x.map((value, i) => ({ x: value, y: y[i]! }));
    const names = ['name', 'stop'].map((key) => columnOf(sheet.header, key)).find((column) => column >= 0);
    if (names === undefined) {
      this.wrong(file, sheet.headerLine, 'columns x and y, lon and lat, or name are needed: where the stops are.');
      return undefined;
    }
    const places = sheet.rows.flatMap(({ cells, line: row }) => {
      const name = (cells[names] ?? '').trim();
      const place = space.lanes!.places.find((known) => known.name.toLowerCase() === name.toLowerCase());
      if (!place) this.wrong(file, row, `the map has no place “${name}”.`);
      return place ? [place] : [];
    });
    return places.length === sheet.rows.length ? places : undefined;
  }

  /** Brings degrees to places of the map, and doubts those that lie far from all lanes. */
  private onLanes(file: Ast.FileName, lanes: LaneNetwork, columns: Map<string, number[]>, sheet: Sheet): void {
    const [lon, lat] = [columns.get('lon'), columns.get('lat')];
    columns.delete('lon');
    columns.delete('lat');
    if (lon && lat) {
      const places = lon.map((value, row) => placeOfCoordinates(lanes, value, lat[row]!));
      columns.set(
        'x',
        places.map(([x]) => x),
      );
      columns.set(
        'y',
        places.map(([, y]) => y),
      );
    }
    const [x, y] = [columns.get('x'), columns.get('y')];
    if (!x || !y) return;
    const index = new LaneIndex(lanes);
    const far = x.map((value, row) => {
      const at = index.snap(value, y[row]!);
      return Math.sqrt((at.x - value) * (at.x - value) + (at.y - y[row]!) * (at.y - y[row]!)) / lanes.scale;
    });
    const farthest = far.reduce((most, metres, row) => (metres > far[most]! ? row : most), 0);
    if (far[farthest]! > FAR_FROM_LANES)
      this.env.report(say.farFromLanes(file.span, file.name, sheet.rows[farthest]!.line, far[farthest]!));
  }

  private column(
    sheet: Sheet,
    index: number,
    file: Ast.FileName,
    type: Type,
    attribute: AttributeSymbol | undefined,
  ): number[] {
    let failed = false;
    // An attribute whose first value happens to be whole need not be.
    const wanted: Type = type.is === 'number' && attribute ? { ...type, whole: attribute.line.whole === true } : type;
    return sheet.rows.map((row) => {
      const { cells, line } = row;
      const cell = (cells[index] ?? '').trim();
      const value = valueOf(cell, wanted);
      if (wanted.is === 'choice' && value !== undefined) this.word(file, row, index, wanted, value);
      if (value === undefined && !failed) {
        failed = true;
        this.env.report(
          say.badData(file.span, file.name, line, `“${cell}” is no ${expected(wanted)} for ${sheet.header[index]!}.`),
        );
      }
      return (value ?? 0) * (type.is === 'number' ? (attribute?.unit.factor ?? 1) : 1);
    });
  }

  /** Notes that a cell holds a word of a choice. */
  private word(
    file: Ast.FileName,
    row: SheetRow,
    column: number,
    { options, spans }: ChoiceType,
    option: number,
  ): void {
    this.stands(file, row, column, { name: options[option]!, span: spans[option]! });
  }

  /** Notes what a cell names, where the table stands in the text itself. */
  private stands(file: Ast.FileName, { cells, line }: SheetRow, column: number, declared: Declared): void {
    const part = partsOf(this.tree, 'data').find(({ file: { name } }) => name === file.name);
    const text = part?.lines[line - 1];
    if (!part || text === undefined) return;
    const pieces = DELIMITERS.map((delimiter) => text.split(delimiter)).find(
      (split) => split.length === cells.length && split.every((piece, i) => piece.trim() === cells[i]!.trim()),
    );
    const piece = pieces?.[column];
    if (!pieces || piece === undefined) return;
    const before = pieces.slice(0, column).reduce((sum, { length }) => sum + length + 1, 0);
    const start = part.starts[line - 1]! + before + (piece.length - piece.trimStart().length);
    const word = piece.trim();
    this.env.stands({ text: word, key: word.toLowerCase(), span: { start, end: start + word.length } }, declared);
  }

  private ties(network: NetworkSymbol, file: Ast.FileName): void {
    const sheet = this.sheet(file);
    if (!sheet) return;
    const number: Type = { is: 'number', dim: undefined, whole: true };
    const at = (name: string): number => columnOf(sheet.header, name);
    if (at('from') < 0 || at('to') < 0) {
      this.env.report(
        say.badData(
          file.span,
          file.name,
          sheet.headerLine,
          'columns “from” and “to” are needed: the numbers of the agents a tie joins.',
        ),
      );
      return;
    }
    const columns = new Map<string, number[]>();
    for (const attribute of network.attributes) {
      const column = at(attribute.key);
      if (column < 0) continue;
      this.stands(file, sheet.head, column, attribute);
      columns.set(attribute.key, this.column(sheet, column, file, attribute.type, attribute));
    }
    this.env.tieFiles.set(network, {
      from: this.column(sheet, at('from'), file, number, undefined),
      to: this.column(sheet, at('to'), file, number, undefined),
      columns,
    } satisfies CheckedTies);
  }

  /** A raster, of numbers or of the words of a field. */
  private raster(owner: object, file: Ast.FileName, read: ReadValue, options?: readonly Ast.Name[]): void {
    const text = this.text(file);
    if (text === undefined) return;
    const found = readRaster(text, read);
    if ('problem' in found) return this.wrong(file, found.line, found.problem);
    this.env.rasters.set(owner, found.raster);
    const part = options && partsOf(this.tree, 'data').find(({ file: { name } }) => name === file.name);
    if (!part) return;
    for (const { text, line, at, value } of found.words) {
      const start = part.starts[line - 1]! + at;
      this.env.stands({ text, key: text.toLowerCase(), span: { start, end: start + text.length } }, options[value]!);
    }
  }
}

function columnOf(header: readonly string[], name: string): number {
  return header.findIndex((cell) => cell.toLowerCase() === name);
}

function placingColumns({ lanes }: SpaceSymbol): readonly string[] {
  return lanes?.origin ? [...PLACING, ...GEOGRAPHIC] : PLACING;
}

function valueOf(cell: string, type: Type): number | undefined {
  if (type.is === 'number') {
    const value = cellNumber(cell);
    return value !== undefined && (!type.whole || Number.isInteger(value)) ? value : undefined;
  }
  if (type.is === 'yesno')
    return ['yes', '1', 'true'].includes(cell.toLowerCase())
      ? 1
      : ['no', '0', 'false'].includes(cell.toLowerCase())
        ? 0
        : undefined;
  if (type.is === 'agent')
    return cell === '' || cell.toLowerCase() === 'nobody'
      ? 0
      : Number.isInteger(Number(cell)) && Number(cell) > 0
        ? Number(cell)
        : undefined;
  if (type.is !== 'choice') return undefined;
  const option = type.options.findIndex((word) => word.toLowerCase() === cell.toLowerCase());
  return option < 0 ? undefined : option;
}

/** What a cell of the raster of a field may hold: a number, or one of its words, or the number that stands for it. */
function valuesOf({ choices, codes }: Ast.FieldPart): ReadValue {
  if (!choices) return numberOfWord;
  const option = (word: string): number =>
    codes
      ? (codes.find(({ value }) => value === Number(word))?.option ?? -1)
      : choices.findIndex(({ key }) => key === word.toLowerCase());
  return (word) => {
    const found = option(word);
    if (found >= 0) return found;
    const known = codes
      ? `the numbers ${codes.map(({ value }) => value).join(', ')}`
      : choices.map(({ text }) => text).join(', ');
    const hint =
      !codes && Number.isFinite(Number(word))
        ? ` Where cells hold numbers, the text says which stands for which: “of ${choices
            .slice(0, 2)
            .map(({ text }, i) => `${i + 1} ${text}`)
            .join(', ')}”.`
        : '';
    return { problem: `“${word}” is none of ${known}.${hint}` };
  };
}

function expected(type: Type): string {
  return type.is === 'number'
    ? type.whole
      ? 'whole number'
      : 'number'
    : type.is === 'yesno'
      ? 'yes or no'
      : type.is === 'agent'
        ? 'number of an agent'
        : type.is === 'choice'
          ? `one of ${type.options.join(', ')}`
          : 'value';
}
