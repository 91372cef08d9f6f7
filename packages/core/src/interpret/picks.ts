import { drawUnit } from '../engine/random/laws.ts';
import { below } from '../engine/random/stream.ts';
import { formOf } from '../forms/forms.ts';
import { cellAt, cellX, cellY, squareBetween } from '../forms/space.ts';
import { gather } from '../measures/numeric/gather.ts';
import { isDrawnByTries } from '../plan/picks.ts';
import { failAt } from '../plan/failures.ts';
import { spaceOfRaster } from '../plan/plan.ts';
import type * as P from '../plan/plan.ts';
import { TRIES } from '../plan/values.ts';
import { candidates, fits, mayBeAsked } from './queries.ts';
import { isThere } from './reference-run.ts';
import type { Agent, Frame, ReferenceRun, Signal, Value } from './reference-run.ts';
import { codeValue, isEmptyCell, isGone, numberOf } from './values.ts';

type PickStatement = Extract<P.Statement, { op: 'pick' }>;

export function gathered(run: ReferenceRun, s: Extract<P.Statement, { op: 'gather' }>, frame: Frame): number {
  const values = candidates(run, s.query, frame).map((candidate) => {
    frame.locals[s.query.candidate] = candidate;
    return codeValue(run, s.value, frame);
  });
  const level = s.level ? numberOf(run, s.level, frame) : undefined;
  const result = gather(s.fn, Float64Array.from(values), values.length, level);
  return s.site === undefined ? result : run.finite(result, s.site, frame);
}

export function pickOne(run: ReferenceRun, s: PickStatement, frame: Frame): Signal {
  const drawn = drawnByTries(run, s, frame);
  if (drawn !== undefined) {
    frame.locals[s.local] = drawn;
    return run.execute(s.found, frame);
  }
  const all = candidates(run, s.query, frame);
  const best = bestOf(run, s, all, frame);
  const chosen = s.weight ? drawWeighted(run, s, s.weight, best, frame) : drawOne(s, best, frame);
  if (chosen === null) return run.execute(s.nobody, frame);
  frame.locals[s.local] = chosen;
  return run.execute(s.found, frame);
}

function drawOne(s: PickStatement, best: readonly Value[], frame: Frame): Value {
  if (best.length === 0) return null;
  const draws = s.how === 'random' || (s.how !== 'first' && best.length > 1);
  return best[draws ? below(frame.stream.word(), best.length) : 0]!;
}

/** Draws by weights that are 0 or more; nobody if all are 0. */
function drawWeighted(run: ReferenceRun, s: PickStatement, weight: P.Code, all: readonly Value[], frame: Frame): Value {
  const weights = all.map((candidate) => {
    frame.locals[s.query.candidate] = candidate;
    const value = codeValue(run, weight, frame);
    return value >= 0
      ? run.finite(value, s.site, frame)
      : failAt(run.plan.sites[s.site]!, run.context, run.nameOf(frame.actor), value);
  });
  const total = weights.reduce((a, b) => a + b, 0);
  if (!(total > 0)) return null;
  const luck = drawUnit(frame.stream.word(), frame.stream.word()) * total;
  let reached = 0;
  let last = 0;
  for (const [i, w] of weights.entries()) {
    if (!(w > 0)) continue;
    reached += w;
    last = i;
    if (luck < reached) break;
  }
  return all[last]!;
}

function drawnByTries(run: ReferenceRun, s: PickStatement, frame: Frame): Value | undefined {
  if (isDrawnByTries(s, run.steady)) return drawAgent(run, s.query, frame);
  return s.how === 'random' && s.query.over.is === 'cells' && !s.weight ? drawCell(run, s.query, frame) : undefined;
}

/** A random one of a kind, while that finds one who fits soon; nothing if they must be listed. */
function drawAgent(run: ReferenceRun, query: P.Query, frame: Frame): Agent | undefined {
  const all = run.kinds[query.kind]!;
  for (let tries = 0; all.length > 0 && tries < TRIES; tries++) {
    const agent = all[below(frame.stream.word(), all.length)]!;
    if (mayBeAsked(run, query, agent, frame) && fits(run, query, agent, frame)) return agent;
  }
  return undefined;
}

/** A random cell, drawn among all or by steps from here, while that finds one that fits soon; nothing if the cells must be listed. */
function drawCell(run: ReferenceRun, query: P.Query, frame: Frame): number | undefined {
  const over = query.over as Extract<P.Query['over'], { is: 'cells' }>;
  const cellOf = cellDrawn(run, query, over, frame);
  for (let tries = 0; cellOf && tries < TRIES; tries++) {
    const cell = cellOf(frame.stream.word());
    if (
      cell >= 0 &&
      (!over.empty || isEmptyCell(run, spaceOfRaster(run.plan, over.raster), cell)) &&
      fits(run, query, cell, frame)
    )
      return cell;
  }
  return undefined;
}

/** The cell that a word of luck leads to; -1 where there is none. */
function cellDrawn(
  run: ReferenceRun,
  { reach }: P.Query,
  over: Extract<P.Query['over'], { is: 'cells' }>,
  frame: Frame,
): ((word: number) => number) | undefined {
  const raster = run.rasterOf(over.raster);
  if (reach.is === 'all' || reach.is === 'tied') return (word) => below(word, raster.columns * raster.rows);
  const { space, discs } = run.groundOf(over.raster);
  if (!formOf(space).isOfCells) return undefined;
  const disc = discs.get(raster, reach.is, numberOf(run, reach.distance, frame));
  const x = numberOf(run, reach.x, frame);
  if (!disc || Number.isNaN(x)) return undefined;
  const own = cellAt(x, numberOf(run, reach.y, frame), raster, space);
  return (word) => discs.at(raster, disc, own, word);
}

function bestOf(run: ReferenceRun, s: PickStatement, candidates: readonly Value[], frame: Frame): readonly Value[] {
  if (s.how === 'random' || s.how === 'first') return candidates;
  const x = s.from ? numberOf(run, s.from.x, frame) : 0;
  const y = s.from ? numberOf(run, s.from.y, frame) : 0;
  const scores = candidates.map((candidate) => {
    if (s.how === 'nearest') {
      const at = placeOf(run, s.query, candidate);
      return -squareBetween(
        x,
        y,
        at.x,
        at.y,
        s.query.over.is === 'cells' ? run.groundOf(s.query.over.raster).space : run.spaceOf(s.query.kind)!,
      );
    }
    frame.locals[s.query.candidate] = candidate;
    const by = codeValue(run, s.by!, frame);
    return s.how === 'most' ? by : -by;
  });
  const best = scores.reduce((a, b) => (b > a ? b : a), -Infinity);
  return candidates.filter((_, i) => scores[i] === best);
}

function placeOf(run: ReferenceRun, query: P.Query, candidate: Value): { x: number; y: number } {
  if (query.over.is === 'cells') {
    const raster = run.rasterOf(query.over.raster);
    const { space } = run.groundOf(query.over.raster);
    return { x: cellX(candidate as number, raster, space), y: cellY(candidate as number, raster, space) };
  }
  const agent = candidate as Agent;
  return agent.before ?? agent;
}

export function forEachFound(run: ReferenceRun, s: Extract<P.Statement, { op: 'each' }>, frame: Frame): Signal {
  const list = candidates(run, s.query, frame);
  for (let i = list.length - 1; s.shuffled && i > 0; i--) {
    const j = below(frame.stream.word(), i + 1);
    [list[i], list[j]] = [list[j]!, list[i]!];
  }
  const most = s.most === undefined ? list.length : Math.min(s.most, list.length);
  for (const candidate of list.slice(0, most)) {
    if (isGone(candidate)) continue;
    if (s.recheck && !fits(run, s.query, candidate, frame)) continue;
    frame.locals[s.query.candidate] = candidate;
    const signal = run.execute(s.body, frame);
    if (signal !== 'on') return signal;
    if (frame.actor && !isThere(frame.actor)) return 'end turn';
  }
  return 'on';
}
