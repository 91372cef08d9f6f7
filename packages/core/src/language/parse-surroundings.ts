import * as say from './reading-messages.ts';
import { PartParser } from './part-parser.ts';
import type * as Ast from './syntax.ts';
import { describe } from './token-stream.ts';
import { withArticle } from './types.ts';

const SPACE_OPTIONS = [
  'wrapping',
  'walled',
  'reflecting',
  '4 neighbours',
  '8 neighbours',
  '6 neighbours',
  'one agent a cell',
  'cells of',
] as const;

/** Reads spaces, zones, obstacles, networks and fields. */
export class SurroundingsParser extends PartParser {
  space(start: number): Ast.SpacePart {
    const s = this.s;
    const name = s.name('the name of the space');
    s.expect(':', 'a space reads “space Meadow: plane 120 m by 120 m, wrapping”');
    if (s.takeIf('map')) return this.map(start, name);
    const form = s.takeIf('grid') ? 'grid' : 'plane';
    if (form === 'plane') s.expect('plane', 'a space is a “plane”, a “grid” or a “map”');
    const width = this.e.sum();
    s.expect('by', 'the size of a space reads “width by height”');
    const height = this.e.sum();
    const options: { neighbours?: 4 | 6 | 8; edge?: Ast.SpacePart['edge']; cell?: Ast.Expr } = {};
    let oneAgentACell = false;
    this.options('space', SPACE_OPTIONS, () => {
      const token = s.current;
      if (s.takeIf('one', 'agent', 'a', 'cell')) {
        oneAgentACell = true;
        return 'one agent a cell';
      }
      if (s.takeIf('wrapping') || s.takeIf('walled') || s.takeIf('reflecting')) {
        options.edge = token.word as Ast.SpacePart['edge'];
        return 'edge';
      }
      if (s.takeIf('cells', 'of')) {
        options.cell = this.e.sum();
        return 'cells';
      }
      if (token.type !== 'number' || s.ahead(1).word !== 'neighbours') return undefined;
      if (token.value !== 4 && token.value !== 6 && token.value !== 8) s.fail(say.wrongNeighbours(token.span));
      s.take();
      s.take();
      options.neighbours = token.value as 4 | 6 | 8;
      return 'neighbours';
    });
    const about = s.endOfLine();
    return { is: 'space', name, form, width, height, oneAgentACell, ...options, about, span: s.spanFrom(start) };
  }

  /** `line Ferries by Ferry`, with its stops under it. */
  lineOfVehicles(start: number): Ast.LinePart {
    const s = this.s;
    const name = s.name('the name of the line');
    s.expect('by', 'a line says which vehicles run on it: “line Ferries by Ferry”');
    const kind = s.name('the kind of the vehicles');
    const bothWays = s.takeIf(',', 'both', 'ways');
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    const stops: Ast.Expr[] = [];
    const said: {
      every?: Ast.Expr;
      at?: Ast.Expr;
      dwell?: Ast.Expr;
      stopsFile?: Ast.FileName;
      timetable?: Ast.FileName;
    } = {};
    let way: Ast.WayChoice = { quickest: false };
    const found = s.block(() => {
      if (s.takeIf('stops', 'from')) said.stopsFile = this.file();
      else if (s.takeIf('stops')) {
        do stops.push(this.e.expression());
        while (s.takeIf(','));
      } else if (s.takeIf('every')) said.every = this.e.sum();
      else if (s.takeIf('at')) {
        said.at = this.e.sum();
        way = this.e.wayChoice(false);
      } else if (s.takeIf('dwell')) said.dwell = this.e.sum();
      else if (s.takeIf('timetable')) {
        s.expect('from', 'a timetable is a table beside the model: “timetable from "ferries.csv"”');
        said.timetable = this.file();
        way = this.e.wayChoice(false);
      } else this.unknownLine(['stops', 'every', 'at', 'dwell', 'timetable'], 'line');
      s.endOfLine();
    });
    if (!found) s.report(say.missingBlock(span, '“line”'));
    return { is: 'line', name, kind, bothWays, stops, ...said, way, about, span };
  }

  private map(start: number, name: Ast.Name): Ast.SpacePart {
    const s = this.s;
    s.expect('from', 'a map reads “space Village: map from "hollowmere.osm"”');
    const file = this.file();
    let ways: Ast.Name[] | undefined;
    let cell: Ast.Expr | undefined;
    let allParts = false;
    let inMetres = false;
    this.options('map', ['ways', 'all parts', 'in metres', 'cells of'], () => {
      if (s.takeIf('ways')) {
        ways = [];
        do ways.push(s.name('a kind of ways: “ways footway path”', false));
        while (s.isType('name'));
        return 'ways';
      }
      if (s.takeIf('all', 'parts')) {
        allParts = true;
        return 'all parts';
      }
      if (s.takeIf('in', 'metres')) {
        inMetres = true;
        return 'in metres';
      }
      if (!s.takeIf('cells', 'of')) return undefined;
      cell = this.e.sum();
      return 'cells';
    });
    const about = s.endOfLine();
    const map = { file, ways, allParts, inMetres };
    return { is: 'space', name, form: 'map', map, cell, oneAgentACell: false, about, span: s.spanFrom(start) };
  }

  zone(start: number, is: 'zone' | 'obstacle'): Ast.ZonePart {
    const s = this.s;
    const name = s.name(`the name of the ${is}`);
    s.expect('on', `${withArticle(is)} lies on a space: “${is} Hedge on Meadow”`);
    const space = s.name('the space');
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    const shapes: Ast.Shape[] = [];
    // Without lines it is empty: to be painted by hand.
    s.block(() => {
      shapes.push(this.shape());
      s.endOfLine();
    });
    return { is, name, space, shapes, about, span };
  }

  private shape(): Ast.Shape {
    const s = this.s;
    const start = s.current.span.start;
    if (s.takeIf('box')) {
      const from = this.e.small();
      s.expect('to', 'a box reads “box (0, 0) to (10, 4)”');
      return { is: 'box', from, to: this.e.small(), span: s.spanFrom(start) };
    }
    if (s.takeIf('circle')) {
      const radius = this.e.small();
      s.expect('around', 'a circle reads “circle 5 m around (20, 20)”');
      return { is: 'circle', radius, around: this.e.small(), span: s.spanFrom(start) };
    }
    if (s.takeIf('line')) {
      const places = [this.e.small()];
      while (s.takeIf('to')) places.push(this.e.small());
      return { is: 'line', places, span: s.spanFrom(start) };
    }
    if (s.takeIf('cells')) {
      const places = [this.e.small()];
      while (s.takeIf(',')) places.push(this.e.small());
      return { is: 'cells', places, span: s.spanFrom(start) };
    }
    if (s.takeIf('from')) return { is: 'from', file: this.file(), span: s.spanFrom(start) };
    if (s.takeIf('area', 'named')) return { is: 'area named', name: this.file(), span: s.spanFrom(start) };
    if (s.takeIf('areas', 'of'))
      return { is: 'areas of', kind: s.name('a kind of areas: “areas of water”', false), span: s.spanFrom(start) };
    return this.unknownLine(['box', 'circle', 'line', 'cells', 'from', 'area named', 'areas of'], 'zone');
  }

  network(start: number): Ast.NetworkPart {
    const s = this.s;
    const name = s.name('the name of the network');
    s.expect('ties', 'a network says whom it ties: “network Tunnels ties Vole to Vole: ring, 4 neighbours”');
    const from = s.name('a kind');
    s.expect('to', '“ties Vole to Vole”');
    const kinds = [from, s.name('a kind')] as const;
    const directed = s.takeIf(',', 'directed');
    s.expect(':', 'how the ties are made stands after a colon: “: ring, 4 neighbours”');
    const maker = this.maker();
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    const has: Ast.HasLine[] = [];
    s.block(() => {
      const lineStart = s.current.span.start;
      if (!s.takeIf('has')) this.unknownLine(['has'], 'network');
      has.push(this.hasLine(lineStart));
    });
    return { is: 'network', name, kinds, directed, maker, has, about, span };
  }

  private maker(): Ast.NetworkMaker {
    const s = this.s;
    const start = s.current.span.start;
    const span = () => s.spanFrom(start);
    const after = (...words: string[]): void => {
      for (const word of words) s.expect(word, `after it stands “${words.join(' ')}”`);
    };
    if (s.takeIf('none')) return { is: 'none', span: span() };
    if (s.takeIf('lattice')) return { is: 'lattice', span: span() };
    if (s.takeIf('from')) return { is: 'from', file: this.file(), span: span() };
    if (s.takeIf('ring')) {
      after(',');
      const size = this.e.sum();
      after('neighbours');
      return { is: 'ring', size, span: span() };
    }
    if (s.takeIf('random')) {
      after(',', 'mean', 'degree');
      return { is: 'random', size: this.e.sum(), span: span() };
    }
    if (s.takeIf('preferential')) {
      after(',');
      const size = this.e.sum();
      after('ties', 'each');
      return { is: 'preferential', size, span: span() };
    }
    if (s.takeIf('small', 'world')) {
      after(',');
      const size = this.e.sum();
      after('neighbours', ',', 'rewired');
      return { is: 'small world', size, rewired: this.e.sum(), span: span() };
    }
    if (s.takeIf('blocks', 'by')) {
      const by = this.e.small();
      after(',');
      const inside = this.e.sum();
      after('inside', ',');
      const across = this.e.sum();
      after('across');
      return { is: 'blocks', by, inside, across, span: span() };
    }
    if (s.takeIf('near', 'one', 'another', 'within')) return { is: 'near', size: this.e.sum(), span: span() };
    if (s.takeIf('groups', 'of')) {
      const size = this.e.sum();
      return { is: 'groups', size, where: s.takeIf('where') ? this.e.expression() : undefined, span: span() };
    }
    return s.fail(say.unknownMaker(s.placeForMissing(), describe(s.current)));
  }

  field(start: number): Ast.FieldPart {
    const s = this.s;
    const name = s.name('the name of the field');
    s.expect('on', 'a field lies on a space: “field grass on Meadow”');
    const space = s.name('the space of the field');
    let cell: Ast.Expr | undefined;
    let isSingle = false;
    this.options('field', ['cells of', 'single precision'], () => {
      if (s.takeIf('single', 'precision')) {
        isSingle = true;
        return 'precision';
      }
      if (!s.takeIf('cells')) return undefined;
      s.expect('of', 'the size of the cells reads “cells of 2 m”');
      cell = this.e.sum();
      return 'cells';
    });
    const about = s.endOfLine();
    const span = s.spanFrom(start);
    const lines: {
      start?: Ast.Expr;
      choices?: readonly Ast.Name[];
      startFile?: Ast.FileName;
      codes?: Ast.FieldPart['codes'];
      grow?: Ast.Expr;
      spread?: Ast.Expr;
      fade?: Ast.Expr;
      keep?: Ast.Bound;
    } = {};
    const becomes: Ast.BecomesLine[] = [];
    s.block(() => {
      const lineStart = s.current.span.start;
      if (s.takeIf('start', 'from')) {
        lines.startFile = this.file();
        if (s.is('of')) ({ choices: lines.choices, codes: lines.codes } = this.rasterWords());
      } else if (s.takeIf('start')) {
        lines.start = this.e.expression();
        lines.choices = this.choicesAfter(lines.start);
      } else if (s.takeIf('grow')) lines.grow = this.e.expression();
      else if (s.takeIf('spread')) lines.spread = this.e.expression();
      else if (s.takeIf('fade')) lines.fade = this.e.expression();
      else if (s.takeIf('becomes')) {
        const value = this.e.expression();
        const when = s.takeIf('when') ? this.e.expression() : undefined;
        becomes.push({ value, when, span: s.spanFrom(lineStart) });
      } else if (s.takeIf('keep')) {
        const from = this.e.sum();
        s.expect('to', 'bounds of a field read “keep 0 to 1”');
        lines.keep = { from, to: this.e.sum(), span: s.spanFrom(lineStart) };
      } else this.unknownLine(['start', 'grow', 'spread', 'fade', 'becomes', 'keep'], 'field');
      s.endOfLine();
    });
    return { is: 'field', name, space, cell, isSingle, ...lines, becomes, about, span };
  }

  /** `of bare, heather` of a raster of words, `of 1 bare, 2 heather` of one of numbers that stand for them. */
  private rasterWords(): Pick<Ast.FieldPart, 'choices' | 'codes'> {
    const s = this.s;
    if (s.ahead(1).type !== 'number') return { choices: this.choices() };
    const codes: { readonly value: number; readonly option: number }[] = [];
    const choices: Ast.Name[] = [];
    do {
      s.take();
      if (!s.isType('number')) s.fail(say.missingNumber(s.placeForMissing(), describe(s.current)));
      const { value, span } = s.take();
      if (codes.some((code) => code.value === value)) s.report(say.numberTwice(span, value));
      const word = s.name('the word that the number stands for: “of 1 bare, 2 heather”');
      const known = choices.findIndex(({ key }) => key === word.key);
      codes.push({ value, option: known < 0 ? choices.push(word) - 1 : known });
    } while (s.is(','));
    return { choices, codes };
  }
}
