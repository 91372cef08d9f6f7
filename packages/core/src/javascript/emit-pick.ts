import { isDrawnByTries } from '../plan/picks.ts';
import { formOf } from '../forms/forms.ts';
import * as P from '../plan/plan.ts';
import { TRIES } from '../plan/values.ts';
import type { BodyWriter } from './body-writer.ts';
import {
  actorArgs,
  emitChecked,
  emitTest,
  emitValue,
  keepsPositions,
  rasterName,
  spaceOfKind,
} from './emit-expression.ts';
import { emitListed } from './emit-found.ts';
import { emitWord, passedOverTest, networkRows, shorterWay } from './emit-query.ts';
import type { CellsQuery } from './emit-query.ts';

type PickStatement = Extract<P.Statement, { op: 'pick' }>;

/** A random cell, drawn among all or by steps from here, while that finds one that fits soon; leaves -1 if the cells must be listed. */
function emitDrawCell(out: BodyWriter, s: PickStatement, list: number): void {
  const { w } = out;
  const query = s.query as CellsQuery;
  const { reach, over } = query;
  const on = P.spaceOfRaster(out.shared.plan, over.raster);
  const raster = rasterName(over.raster);
  if (reach.is === 'all' || reach.is === 'tied') {
    w.line(`const m${list} = ${raster}.columns * ${raster}.rows;`);
    emitTries(out, query, list, `Math.floor((w1 * m${list}) / 4294967296)`);
    return;
  }
  if (!formOf(out.shared.plan.spaces[on]!).isOfCells) return;
  const distance = out.shared.lasting('-1');
  const disc = out.shared.lasting('undefined');
  w.line(`const d${list} = ${emitValue(out, reach.distance)}, x${list} = ${emitValue(out, reach.x)};`);
  w.line(
    `if (d${list} !== ${distance}) { ${distance} = d${list}; ${disc} = DISCS${on}.get(${raster}, ${JSON.stringify(reach.is)}, d${list}); }`,
  );
  w.block(`if (${disc} && x${list} === x${list})`, () => {
    w.line(`const own${list} = cellAt(x${list}, ${emitValue(out, reach.y)}, ${raster}, SP${on});`);
    emitTries(out, query, list, `DISCS${on}.at(${raster}, ${disc}, own${list}, w1)`);
  });
}

/** Draws cells until one fits. @param cell code of the cell that the word w1 leads to, below 0 where that is none */
function emitTries(out: BodyWriter, { over, where, candidate }: CellsQuery, list: number, cell: string): void {
  const { w } = out;
  const on = P.spaceOfRaster(out.shared.plan, over.raster);
  w.block(`for (let tries = 0; tries < ${TRIES}; tries++)`, () => {
    emitWord(out, 'w1');
    w.line(`const cell = ${cell};`);
    w.line(`if (cell < 0${over.empty ? ` || OCC${on}[cell]` : ''}) continue;`);
    if (where) {
      w.line(`L${candidate} = cell;`);
      out.statements(where.statements);
      w.line(`if (!(${emitTest(out, where.value)})) continue;`);
    }
    w.line(`f${list} = cell;`);
    w.line('break;');
  });
}

/** A random one of a kind, while that finds one who fits soon; leaves -1 if they must be listed. */
function emitDrawAgent(out: BodyWriter, { query }: PickStatement, list: number): void {
  const { w } = out;
  const { kind, where, candidate } = query;
  const c = `L${candidate}`;
  w.block(`for (let tries = 0; k${kind}.living > 0 && tries < ${TRIES}; tries++)`, () => {
    emitWord(out, 'w1');
    w.line(`${c} = Math.floor((w1 * k${kind}.living) / 4294967296);`);
    const skipped = passedOverTest(out, query);
    if (skipped) w.line(`if (${skipped}) continue;`);
    w.line(`f${list} = ${c};`);
    out.statements(where!.statements);
    w.line(`if (${emitTest(out, where!.value)}) break;`);
    w.line(`f${list} = -1;`);
  });
}

export function emitPick(out: BodyWriter, s: PickStatement): void {
  const { w } = out;
  const list = out.shared.nextList();
  if (pickAtOnce(out, s, list)) return;
  w.line(`let f${list} = -1;`);
  w.block('', () => {
    if (s.how === 'random' && s.query.over.is === 'cells' && !s.weight) {
      emitDrawCell(out, s, list);
      w.block(`if (f${list} < 0)`, () => emitPickListed(out, s, list));
    } else if (isDrawnByTries(s, out.shared.steady)) {
      emitDrawAgent(out, s, list);
      w.block(`if (f${list} < 0)`, () => emitPickListed(out, s, list));
    } else emitPickListed(out, s, list);
  });
  w.block(`if (f${list} >= 0)`, () => {
    w.line(`L${s.local} = f${list};`);
    tellFound(out, s);
    out.statements(s.found);
  });
  if (s.nobody.length) w.block('else', () => out.statements(s.nobody));
}

function tellFound(out: BodyWriter, { query, local, site }: PickStatement): void {
  if (out.shared.traces && query.kind >= 0 && query.over.is === 'agents')
    out.w.line(
      `if (tr) TR.note({ is: "found", site: ${site}, kind: ${query.kind}, number: k${query.kind}.number[L${local}] });`,
    );
}

/** A random one of all, or of those tied to one, needs no list. */
function pickAtOnce(out: BodyWriter, s: PickStatement, list: number): boolean {
  const { w } = out;
  const { query } = s;
  const { reach, kind } = query;
  if (s.how !== 'random' || s.weight || query.where || query.over.is !== 'agents') return false;
  if (query.present && out.shared.plan.kinds[kind]!.mayBeNowhere) return false;
  if (reach.is !== 'all' && reach.is !== 'tied') return false;
  w.block('', () => {
    const take = reach.is === 'all' ? pickOfAll(out, query, list) : pickOfTied(out, reach, list);
    w.block(`if (m${list} > 0)`, () => {
      emitWord(out, 'w1');
      take(`L${s.local}`);
      tellFound(out, s);
      out.statements(s.found);
    });
    if (s.nobody.length) w.block('else', () => out.statements(s.nobody));
  });
  return true;
}

/** How many there are, and how the drawn one is found. */
function pickOfAll(out: BodyWriter, query: P.Query, list: number): (target: string) => void {
  const { w } = out;
  const { kind, except } = query;
  const isSteady = out.shared.steady.has(kind);
  const living =
    isSteady && out.options.holdsRows && kind === out.options.actorKind ? `k${kind}_living` : `k${kind}.living`;
  const others = except === undefined ? '' : isSteady ? ' - 1' : ` - (k${kind}_alive[L${except}] & 1)`;
  w.line(`const m${list} = ${living}${others};`);
  // One more from the one that is passed over on, without a branch: nobody can foretell which side of it a draw falls.
  const shift = except === undefined ? `p${list}` : `p${list} - ((L${except} - p${list} - 1) >> 31)`;
  return (target) => {
    w.line(`const p${list} = ((w1 * m${list}) / 4294967296) | 0;`);
    w.line(
      isSteady
        ? `${target} = ${shift};`
        : `${target} = ${living} === k${kind}.used ? ${shift} : k${kind}.livingAt(p${list}, ${except === undefined ? '-1' : `L${except}`});`,
    );
  };
}

function pickOfTied(out: BodyWriter, reach: Extract<P.Reach, { is: 'tied' }>, list: number): (target: string) => void {
  const { w } = out;
  const rows = networkRows(out, reach, list);
  const agent = `L${reach.agent.local}`;
  w.line(`const m${list} = ${agent} >= 0 ? ${rows.length}[${agent}] : 0;`);
  return (target) =>
    w.line(`${target} = ${rows.other}[${rows.start}[${agent}] + Math.floor((w1 * m${list}) / 4294967296)];`);
}

function emitPickListed(out: BodyWriter, s: PickStatement, list: number): void {
  const { w } = out;
  const name = emitListed(out, s.query, list);
  if (s.weight) {
    emitWeighted(out, s, s.weight, name, list);
    return;
  }
  if (s.how !== 'random' && s.how !== 'first') emitKeepBest(out, s, name, list);
  w.block(`if (n${list} > 0)`, () => {
    const pickOne = (): void => {
      emitWord(out, 'w1');
      w.line(`f${list} = ${name}[Math.floor((w1 * n${list}) / 4294967296)];`);
    };
    if (s.how === 'first') w.line(`f${list} = ${name}[0];`);
    else if (s.how === 'random') pickOne();
    else {
      w.block(`if (n${list} > 1)`, pickOne);
      w.line(`else f${list} = ${name}[0];`);
    }
  });
}

function emitWeighted(out: BodyWriter, s: PickStatement, weight: P.Code, name: string, list: number): void {
  const { w } = out;
  w.line(`const values${list} = lists.values(${list}, n${list}); let sum${list} = 0;`);
  w.block(`for (let i = 0; i < n${list}; i++)`, () => {
    w.line(`L${s.query.candidate} = ${name}[i];`);
    out.statements(weight.statements);
    w.line(`p = ${emitValue(out, weight.value)};`);
    w.line(`if (!(p >= 0)) F(${s.site}, p, ${actorArgs(out)});`);
    emitChecked(out, 'p', s.site);
    w.line(`values${list}[i] = p; sum${list} += p;`);
  });
  w.block(`if (sum${list} > 0)`, () => {
    emitWord(out, 'w1');
    emitWord(out, 'w2');
    w.line(`const luck = drawUnit(w1, w2) * sum${list}; let reached = 0;`);
    w.block(`for (let i = 0; i < n${list}; i++)`, () => {
      w.line(`if (!(values${list}[i] > 0)) continue;`);
      w.line(`reached += values${list}[i]; f${list} = ${name}[i];`);
      w.line('if (luck < reached) break;');
    });
  });
}

/** Leaves in the list only those that share the best score, in order. */
function emitKeepBest(out: BodyWriter, s: PickStatement, name: string, list: number): void {
  const { w } = out;
  if (s.from) w.line(`const fx${list} = ${emitValue(out, s.from.x)}, fy${list} = ${emitValue(out, s.from.y)};`);
  w.line(`let best${list} = -Infinity, equals${list} = 0;`);
  w.block(`for (let i = 0; i < n${list}; i++)`, () => {
    w.line(`const j = ${name}[i];`);
    if (s.how === 'nearest') emitNearScore(out, s.query, list);
    else {
      w.line(`L${s.query.candidate} = j;`);
      out.statements(s.by!.statements);
      w.line(`const score = ${s.how === 'most' ? '' : '-'}${emitValue(out, s.by!.value)};`);
    }
    w.line(
      `if (score > best${list}) { best${list} = score; ${name}[0] = j; equals${list} = 1; } else if (score === best${list}) ${name}[equals${list}++] = j;`,
    );
  });
  w.line(`n${list} = equals${list};`);
}

function emitNearScore(out: BodyWriter, query: P.Query, list: number): void {
  const { w } = out;
  if (query.over.is === 'cells') {
    const raster = rasterName(query.over.raster);
    const s = P.spaceOfRaster(out.shared.plan, query.over.raster);
    w.line(
      `const score = -squareBetween(fx${list}, fy${list}, cellX(j, ${raster}, SP${s}), cellY(j, ${raster}, SP${s}), SP${s});`,
    );
    return;
  }
  const k = query.kind;
  const b = keepsPositions(out, k) ? 'b' : '';
  const s = out.shared.plan.kinds[k]!.space;
  const space = spaceOfKind(out, k)!;
  if (!formOf(space).isStraight) {
    w.line(`const score = -squareBetween(fx${list}, fy${list}, k${k}_${b}x[j], k${k}_${b}y[j], SP${s});`);
    return;
  }
  w.line(`let dx = k${k}_${b}x[j] - fx${list}, dy = k${k}_${b}y[j] - fy${list};`);
  if (space.edge === 'wrapping') w.line(shorterWay(out.shared.plan, s));
  w.line('const score = -(dx * dx + dy * dy);');
}
