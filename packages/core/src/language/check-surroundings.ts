import { formOf } from '../forms/forms.ts';
import { areRowsOdd } from '../forms/hexagons.ts';
import type { FieldSymbol, LocalSymbol, NetworkSymbol, SpaceSymbol } from './checked.ts';
import type { ExpressionChecker } from './check-expression.ts';
import { comparable } from './check-expression.ts';
import { areasNamed } from './check-maps.ts';
import type { KindChecker } from './check-kinds.ts';
import type { Context, Environment } from './environment.ts';
import { NOBODY } from './environment.ts';
import * as say from './meaning-messages.ts';
import { constantOf } from './scales.ts';
import type * as Ast from './syntax.ts';
import type { Dimension, Type } from './types.ts';
import {
  isPlain,
  LENGTH,
  number,
  placeOn,
  PLAIN,
  PLAIN_NUMBER,
  sameDimension,
  sayDimension,
  sayType,
} from './types.ts';

/** Checks what agents live in: spaces, zones, fields and networks. */
export class SurroundingsChecker {
  constructor(
    private readonly env: Environment,
    private readonly e: ExpressionChecker,
    private readonly kinds: KindChecker,
  ) {}

  space(space: SpaceSymbol): void {
    const { env, e } = this;
    const { width, height, cell } = space.part;
    const { isOfCells, words } = formOf(space);
    const context: Context = { ...NOBODY, space };
    for (const size of [width, height]) {
      if (!size) continue;
      if (isOfCells && cell) {
        this.numberOfCells(size, cell, context);
        continue;
      }
      e.distance(size, context);
      if (isOfCells && !e.isWhole(size)) env.report(say.needsWhole(size.span, env.textOf(size.span)));
    }
    if (cell) {
      if (isOfCells) this.cellLength(cell);
      else e.distance(cell, context);
    }
    if (space.oneAgentACell && !isOfCells)
      env.report(say.wrongType(space.part.span, 'A grid for “one agent a cell”', words));
    const rows = (height && constantOf(height, env.scales)?.value) ?? 0;
    if (height && space.form === 'hexagons' && Number.isInteger(rows) && areRowsOdd({ edge: space.edge, height: rows }))
      env.report(say.oddRows(height.span, rows));
    if (space.neighbours === 6 && !isOfCells)
      env.report(say.wrongType(space.part.span, 'A grid for “6 neighbours”', words));
  }

  /** The size of a grid whose cells have a length is counted in cells all the same. */
  private numberOfCells(size: Ast.Expr, cell: Ast.Expr, context: Context): void {
    const { env, e } = this;
    const [whole, part] = [size, cell].map((expr) => constantOf(expr, env.scales));
    const isLength = whole?.dim && !isPlain(whole.dim) && part?.dim && sameDimension(whole.dim, part.dim);
    if (isLength) env.report(say.sizeInCells(size.span, Math.round(whole.value / part.value)));
    else e.whole(size, context);
  }

  /** The cells of a grid have the same length in every run. */
  private cellLength(cell: Ast.Expr): void {
    const { env } = this;
    const length = constantOf(cell, env.scales);
    if (!length) env.report(say.notConstant(cell.span));
    else if (length.dim && !isPlain(length.dim) && !sameDimension(length.dim, LENGTH))
      env.report(say.wrongType(cell.span, 'A length', sayDimension(length.dim)));
    else if (!(length.value > 0)) env.report(say.notPositive(cell.span, 'The side of a cell'));
  }

  shape(shape: Ast.Shape, context: Context): void {
    const { e } = this;
    if (shape.is === 'box') for (const corner of [shape.from, shape.to]) e.place(corner, context);
    if (shape.is === 'circle') {
      e.distance(shape.radius, context);
      e.place(shape.around, context);
    }
    if (shape.is === 'line' || shape.is === 'cells') for (const place of shape.places) e.place(place, context);
    if (shape.is === 'area named' || shape.is === 'areas of') {
      const { space } = context;
      if (space?.form === 'map') this.env.outlines.set(shape, areasNamed(this.env, shape, space));
      else this.env.report(say.needsMap(shape.span, 'An area', space ? formOf(space).words : 'none'));
    }
  }

  field(field: FieldSymbol): void {
    const { env, e } = this;
    const { part } = field;
    const context: Context = { ...NOBODY, space: field.space };
    if (part.cell) {
      e.distance(part.cell, context);
      if (field.space && formOf(field.space).isOfCells)
        env.report(say.cannotSet(part.cell.span, 'The size of the cells of a field on a grid'));
    }
    const here: LocalSymbol = env.locals.get(field) ?? {
      is: 'local',
      name: 'cell',
      span: part.span,
      type: placeOn(field.space),
    };
    env.locals.set(field, here);
    const cell: Context = { ...context, asker: here, field };
    if (part.start) {
      const found = e.check(part.start, cell, field.type);
      if (found.is !== 'number' && found.is !== 'yesno' && found.is !== 'choice' && found.is !== 'unknown')
        env.report(say.wrongType(part.start.span, 'A number, yes or no, or a choice', sayType(found)));
      else if (field.type.is === 'unknown') field.type = found.is === 'number' ? number(found.dim ?? PLAIN) : found;
    } else if (field.type.is === 'unknown') field.type = PLAIN_NUMBER;
    if (field.type.is !== 'number') {
      for (const line of [part.grow, part.spread, part.fade, part.keep?.from])
        if (line) env.report(say.wrongType(line.span, 'A field of numbers', sayType(field.type)));
    }
    if (part.grow) e.numeric(part.grow, { ...cell, noDraws: 'The growth of a field' });
    if (part.spread) e.shareOrRate(part.spread, { ...context, noDraws: 'The spreading of a field' });
    if (part.fade) e.shareOrRate(part.fade, { ...context, noDraws: 'The fading of a field' });
    for (const line of part.becomes) {
      const found = e.check(line.value, cell, field.type);
      if (found.is !== 'unknown' && field.type.is !== 'unknown' && !comparable(field.type, found))
        env.report(say.wrongType(line.value.span, sayType(field.type), sayType(found)));
      if (line.when) e.yesNo(line.when, cell);
    }
    if (part.keep) {
      for (const bound of [part.keep.from, part.keep.to])
        this.ofField(field, bound, e.numeric(bound, { ...cell, noDraws: 'The bounds of a field' }));
      const { span, from, to } = part.keep;
      const [low, high] = [from, to].map((bound) => constantOf(bound, env.scales)?.value);
      if (low !== undefined && high !== undefined && low > high)
        env.report(say.crossedBounds(from.span, to.span, env.textOf(from.span), env.textOf(to.span)));
      for (const [{ span: at }, ref] of env.refs)
        if (ref.is === 'field' && ref.field === field && at.start >= span.start && at.end <= span.end)
          env.report(say.circle(at, field.name));
    }
  }

  /** Bounds are of the dimension of their field. */
  private ofField({ type }: FieldSymbol, at: Ast.Expr, dim: Dimension | undefined): void {
    if (type.is === 'number' && type.dim && dim && !sameDimension(type.dim, dim))
      this.env.report(say.wrongDimension(at.span, sayDimension(type.dim), sayDimension(dim)));
  }

  network(network: NetworkSymbol): void {
    const { env, e } = this;
    const { maker } = network.part;
    const { self } = network.from;
    const member: Context = { self, asker: self, owner: network.from, locals: new Map(), noDraws: 'A network' };
    for (const attribute of network.attributes) {
      this.kinds.attribute(attribute, network.attributes, NOBODY);
      demandPlainValue(env, attribute.line.value, attribute.type);
    }
    switch (maker.is) {
      case 'ring':
      case 'preferential':
        e.whole(maker.size, NOBODY);
        break;
      case 'small world':
        e.whole(maker.size, NOBODY);
        e.chance(maker.rewired, NOBODY);
        break;
      case 'random':
        e.numeric(maker.size, NOBODY);
        break;
      case 'near':
        e.distance(maker.size, { ...NOBODY, space: network.from.space });
        break;
      case 'blocks':
        demandPlainValue(env, maker.by, e.check(maker.by, member));
        e.chance(maker.inside, NOBODY);
        e.chance(maker.across, NOBODY);
        break;
      case 'groups':
        e.whole(maker.size, NOBODY);
        if (maker.where) e.yesNo(maker.where, { ...member, it: self });
        break;
      default:
    }
    if (maker.is === 'lattice' || maker.is === 'near') {
      const { from, to } = network;
      if (!from.space || !to.space) env.report(say.noSpace(maker.span, `“${maker.is}”`));
      else if (from.space !== to.space) env.report(say.otherSpace(maker.span, to.name, to.space.name, from.space.name));
    }
    if (
      network.from !== network.to &&
      ['ring', 'lattice', 'preferential', 'small world', 'blocks', 'groups'].includes(maker.is)
    ) {
      env.report(
        say.wrongType(maker.span, 'A network within one kind', `one of ${network.from.name} to ${network.to.name}`, {
          hint: 'Between two kinds: none, from "file", random, or near one another.',
        }),
      );
    }
  }
}

/** What is not counted, measured or chosen cannot be kept as a value. */
export function demandPlainValue(env: Environment, at: Ast.Expr, type: Type): void {
  const isPlainValue = ['number', 'yesno', 'choice', 'unknown'].includes(type.is);
  if (!isPlainValue) env.report(say.wrongType(at.span, 'A number, yes or no, or a choice', sayType(type)));
}
