import { wordsOf } from '../language/types.ts';
import { keyOfName } from '../engine/random/stream.ts';
import { formOf } from '../forms/forms.ts';
import type { FieldSymbol, NetworkSymbol, SpaceSymbol, ZoneSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import { rasterOfSpace } from '../plan/plan.ts';
import type {
  AskedBody,
  Code,
  Expr,
  FieldPlan,
  NetworkPlan,
  PointPlan,
  RasterPlan,
  ShapePlan,
  SpacePlan,
  ValueBody,
  ZonePlan,
} from '../plan/plan.ts';
import { columnsOf } from './columns.ts';
import { visitCode } from '../plan/visit.ts';
import type { Standing } from './draft.ts';
import { coloursOfWords, shareOfStep } from './kinds.ts';
import { reachInCells } from './lengths.ts';
import type { ModelDraft } from './model-draft.ts';
import { lowerPlace } from './place.ts';

/** In bodies of fields: the own cell's centre. */
function cellStanding(raster: number): Standing {
  return {
    here: {
      x: { op: 'cell x', raster, cell: { op: 'own cell' } },
      y: { op: 'cell y', raster, cell: { op: 'own cell' } },
    },
  };
}

export function fieldPlan(whole: ModelDraft, field: FieldSymbol): FieldPlan {
  const { part, index } = field;
  const name = part.name.text;
  const type = part.grow && whole.model.types.get(part.grow);
  const space = field.space!;
  const { isOfCells } = formOf(space);
  const raster = isOfCells ? rasterOfSpace(space.index) : index;
  const standing: Standing = { ...cellStanding(raster), ownField: index };
  const show = whole.model.shows.find((s) => s.target === field)?.part;
  const given = whole.model.rasters.get(part);
  return {
    name,
    space: space.index,
    options: wordsOf(field.type),
    isSingle: part.isSingle,
    raster: given,
    cell: part.cell && whole.asked(part.cell, name),
    start: part.start && whole.value(part.start, name, cellStanding(raster)),
    grow: part.grow && whole.value(part.grow, name, standing),
    growPerTime: type?.is === 'number' && type.dim?.['time'] === -1,
    spread: part.spread && shareOfStep(whole, part.spread, name),
    fade: part.fade && shareOfStep(whole, part.fade, name),
    becomes: part.becomes.length > 0 ? becomesBody(whole, part, name, standing) : undefined,
    ...(part.keep && boundsOf(whole, field, part.keep, standing)),
    asCells: show?.asCells === true || isOfCells || field.type.is !== 'number',
    optionColours: coloursOfWords(show, wordsOf(field.type)),
    scale: show?.scale && [show.scale[0].key, show.scale[1].key],
    site: whole.draft(name).site(part.span, `the field “${name}”`),
  };
}

/** Bounds that are the same for all cells, or what a cell keeps of a value. */
function boundsOf(
  whole: ModelDraft,
  field: FieldSymbol,
  { from, to }: NonNullable<Ast.FieldPart['keep']>,
  standing: Standing,
): Pick<FieldPlan, 'bounds' | 'kept'> {
  const draft = whole.draft(field.name, { ...standing, given: 1 });
  const [min, max] = [draft.code(from), draft.code(to)];
  const locals = draft.localCount;
  if (!looksAtCell(min) && !looksAtCell(max))
    return { bounds: { min: whole.ask({ ...min, locals }), max: whole.ask({ ...max, locals }) } };
  whole.shared.keptByCell.add(field);
  const value: Expr = { op: 'call', fn: 'clip', args: [{ op: 'local', local: 0 }, min.value, max.value] };
  return { kept: { statements: [...min.statements, ...max.statements], value, locals } };
}

/** Whether a value may differ from cell to cell. */
function looksAtCell(code: Code): boolean {
  let looks = false;
  visitCode(code, { expr: ({ op }) => (looks ||= op === 'own cell') });
  return looks;
}

/** The first line whose condition holds gives the next value; if none does, the cell stays (D22). */
function becomesBody(whole: ModelDraft, part: Ast.FieldPart, name: string, standing: Standing): ValueBody {
  const draft = whole.draft(name, standing);
  const slot = draft.newLocal();
  const build = (i: number): void => {
    const line = part.becomes[i];
    if (!line) {
      draft.emit({ op: 'set', local: slot, value: { op: 'cell', field: standing.ownField! } });
      return;
    }
    const condition = line.when ? draft.lower(line.when) : undefined;
    const then = draft.collect(() => draft.emit({ op: 'set', local: slot, value: draft.lower(line.value) }));
    if (condition) draft.emit({ op: 'if', condition, then, else: draft.collect(() => build(i + 1)) });
    else for (const statement of then) draft.emit(statement);
  };
  const statements = draft.collect(() => build(0));
  return { statements, value: { op: 'local', local: slot }, locals: draft.localCount };
}

export function spacePlan(whole: ModelDraft, space: SpaceSymbol): SpacePlan {
  const { name, form, edge, neighbours, oneAgentACell, part, lanes } = space;
  const asksEmpty = [...whole.model.queryHeads.values()].some(
    (head) => head.is === 'cells' && head.empty && head.space === space,
  );
  return {
    name,
    form,
    edge,
    neighbours,
    oneAgentACell,
    tracksCells: oneAgentACell || asksEmpty,
    cell: part.cell && !formOf(space).isOfCells ? whole.asked(part.cell, name) : undefined,
    cellLength: space.cellLength,
    width: part.width ? whole.asked(part.width, name) : whole.askNumber(lanes!.width),
    height: part.height ? whole.asked(part.height, name) : whole.askNumber(lanes!.height),
    unitLabel: space.unit.label,
    lanes,
  };
}

/** A length that the run asks for, in the engine's measure of the space. */
function askedReach(whole: ModelDraft, space: SpaceSymbol, length: Ast.Expr, rule: string): AskedBody {
  const body = whole.value(length, rule);
  return whole.ask({ ...body, value: reachInCells(space, body.value) });
}

export function zonePlan(whole: ModelDraft, zone: ZoneSymbol): ZonePlan {
  const point = (expr: Ast.Expr): PointPlan => {
    const of = (axis: 'x' | 'y'): AskedBody => {
      const draft = whole.draft(zone.name);
      let value: Expr = { op: 'number', value: 0 };
      const statements = draft.collect(() => (value = lowerPlace(draft, expr)[axis]));
      return whole.ask({ statements, value, locals: draft.localCount });
    };
    return [of('x'), of('y')];
  };
  const reach = (expr: Ast.Expr): AskedBody => askedReach(whole, zone.space!, expr, zone.name);
  const shapes = zone.part.shapes.flatMap((shape): ShapePlan | ShapePlan[] => {
    switch (shape.is) {
      case 'box':
        return { is: 'box', from: point(shape.from), to: point(shape.to) };
      case 'circle':
        return { is: 'circle', radius: reach(shape.radius), around: point(shape.around) };
      case 'line':
      case 'cells':
        return { is: shape.is, places: shape.places.map(point) };
      case 'from':
        return { is: 'raster', raster: whole.model.rasters.get(shape) as RasterPlan };
      case 'area named':
      case 'areas of':
        return whole.model.outlines.get(shape)!.map((outline): ShapePlan => ({ is: 'area', outline }));
    }
  });
  return {
    name: zone.name,
    space: zone.space!.index,
    obstacle: zone.part.is === 'obstacle',
    shapes,
    site: whole.draft(zone.name).site(zone.span, `the ${zone.part.is} “${zone.name}”`),
  };
}

export function networkPlan(whole: ModelDraft, network: NetworkSymbol): NetworkPlan {
  const { name } = network;
  const { maker } = network.part;
  const show = whole.model.shows.find((s) => s.target === network)?.part;
  const value = (expr: Ast.Expr): AskedBody => whole.asked(expr, name);
  const ofEach = (expr: Ast.Expr): ValueBody => whole.value(expr, name, { actor: network.from.self });
  const make = (): NetworkPlan['maker'] => {
    switch (maker.is) {
      case 'none':
      case 'lattice':
        return { is: maker.is };
      case 'small world':
        return { is: maker.is, size: value(maker.size), rewired: value(maker.rewired) };
      case 'blocks':
        return {
          is: 'blocks',
          by: ofEach(maker.by),
          inside: value(maker.inside),
          across: value(maker.across),
        };
      case 'groups':
        return {
          is: 'groups',
          size: value(maker.size),
          where: maker.where && ofEach(maker.where),
        };
      case 'from': {
        const ties = whole.model.tieFiles.get(network)!;
        return {
          is: 'file',
          a: ties.from,
          b: ties.to,
          values: network.attributes.map((attribute) => ties.columns.get(attribute.key)),
        };
      }
      case 'near':
        return { is: 'near', size: askedReach(whole, network.from.space!, maker.size, name) };
      default:
        return { is: maker.is, size: value(maker.size) };
    }
  };
  return {
    name,
    from: network.from.index,
    to: network.to.index,
    directed: network.directed,
    riding: 'boardedAt' in network,
    columns: network.attributes.flatMap((attribute) => columnsOf(attribute, whole.model.spaces)),
    maker: make(),
    firsts: network.attributes.map((attribute) => whole.value(attribute.line.value, name)),
    key: keyOfName(`network ${name}`),
    site: whole.draft(name).site(network.span, `the network “${name}”`),
    colour: show?.colour?.key ?? show?.shape?.key,
  };
}
