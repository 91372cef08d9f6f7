import { formOf } from '../forms/forms.ts';
import * as P from '../plan/plan.ts';
import { zoneAsked } from '../plan/zone-asked.ts';
import type { BodyWriter } from './body-writer.ts';
import { emitTest, emitValue, keepsPositions, rasterName, skipGone, spaceOfKind } from './emit-expression.ts';
import { sizeCode } from './known-sizes.ts';

export type CellsQuery = P.Query & { readonly over: Extract<P.Query['over'], { is: 'cells' }> };

/** Draws the next word of the agent's stream into a variable. */
export function emitWord(out: BodyWriter, name: string): void {
  out.w.line(
    `t = Math.imul(s0, 0x9e3779bb); ${name} = Math.imul((t << 5) | (t >>> 27), 5) >>> 0; s1 ^= s0; s0 = ((s0 << 26) | (s0 >>> 6)) ^ s1 ^ (s1 << 9); s1 = (s1 << 13) | (s1 >>> 19);`,
  );
}

/** Loops over the candidates of a query, each in its local; agents in reach in no particular order. */
export function emitCandidates(out: BodyWriter, query: P.Query, list: number, body: () => void): void {
  const c = `L${query.candidate}`;
  const fitting = (): void => {
    if (!query.where) return body();
    out.statements(query.where.statements);
    out.w.block(`if (${emitTest(out, query.where.value)})`, body);
  };
  const { over } = query;
  switch (over.is) {
    case 'agents':
      return emitAgents(out, query, list, fitting);
    case 'cells':
      return emitCells(out, query as CellsQuery, list, fitting);
    case 'ties':
      return emitTies(out, over, c, list, fitting);
    case 'list':
      return emitItems(out, query, over, c, list, fitting);
    case 'tally':
      return out.w.block(`for (let j${list} = 0, e = TL[${over.tally}].count; j${list} < e; j${list}++)`, () => {
        out.w.line(`${c} = j${list};`);
        fitting();
      });
  }
}

/** Code that tells whether an agent is none of those of whom it is asked who fits; empty where all are. */
export function passedOverTest(out: BodyWriter, { kind: k, candidate, except, present }: P.Query): string {
  const skip = except === undefined ? '' : `L${candidate} === L${except}`;
  const x = `k${k}_${keepsPositions(out, k) ? 'b' : ''}x[L${candidate}]`;
  const absent = present && out.shared.plan.kinds[k]!.mayBeNowhere && spaceOfKind(out, k) ? `${x} !== ${x}` : '';
  return [skip, absent].filter(Boolean).join(' || ');
}

function emitAgents(out: BodyWriter, query: P.Query, list: number, fitting: () => void): void {
  const { reach } = query;
  const k = query.kind;
  const c = `L${query.candidate}`;
  const there = (): void => skipGone(out, k, c, passedOverTest(out, query));
  if (reach.is === 'all') {
    out.w.block(`for (let j${list} = 0, e = k${k}.used; j${list} < e; j${list}++)`, () => {
      out.w.line(`${c} = j${list};`);
      there();
      fitting();
    });
  } else if (reach.is === 'tied') emitTied(out, reach, c, there, list, fitting);
  else emitNear(out, query, reach, list, there, fitting);
}

/** The arrays of the rows of a network: held in locals of the rule where it leaves the ties alone, else read from `R` and the number of the list. */
export function networkRows(
  out: BodyWriter,
  { network, side }: Extract<P.Reach, { is: 'tied' }>,
  list: number,
): { start: string; length: string; other: string } {
  const isHeld = out.options.holdsRows && !out.options.effects.movesTies;
  if (!isHeld) out.w.line(`const R${list} = net${network}.rows[${side}];`);
  const part = (name: string): string => (isHeld ? `net${network}_${side}_${name}` : `R${list}.${name}`);
  return { start: part('start'), length: part('length'), other: part('other') };
}

function emitTied(
  out: BodyWriter,
  reach: Extract<P.Reach, { is: 'tied' }>,
  c: string,
  there: () => void,
  list: number,
  fitting: () => void,
): void {
  const { w } = out;
  const a = `L${reach.agent.local}`;
  const rows = networkRows(out, reach, list);
  const isThere = reach.agent.own && out.options.actorKind !== undefined;
  w.line(
    `const a${list} = ${isThere ? '' : `${a} < 0 ? 0 : `}${rows.start}[${a}], b${list} = ${isThere ? '' : `${a} < 0 ? 0 : `}a${list} + ${rows.length}[${a}];`,
  );
  w.block(`for (let j${list} = a${list}; j${list} < b${list}; j${list}++)`, () => {
    w.line(`${c} = ${rows.other}[j${list}];`);
    there();
    fitting();
  });
}

/** Goes through the lists of the buckets that the reach touches; nothing in the body may change them. */
function emitNear(
  out: BodyWriter,
  query: P.Query,
  reach: P.SpaceReach,
  list: number,
  there: () => void,
  fitting: () => void,
): void {
  const { w } = out;
  const k = query.kind;
  const c = `L${query.candidate}`;
  const s = out.shared.plan.kinds[k]!.space;
  const space = spaceOfKind(out, k)!;
  const { isStraight, isOfCells } = formOf(space);
  const isDisc = reach.is === 'within' && isOfCells && isStraight;
  const needsDistance = reach.is === 'within' || reach.is === 'square' || reach.is === 'cross';
  w.line(
    `const x${list} = ${emitValue(out, reach.x)}, y${list} = ${emitValue(out, reach.y)}, r${list} = ${needsDistance ? emitValue(out, reach.distance) : '0'};`,
  );
  const radius = needsDistance
    ? reach.is === 'within' && isStraight
      ? `r${list}`
      : `r${list} * 1.5 + 1`
    : reach.is === 'here'
      ? '0'
      : '2';
  w.block(`if (k${k}.index.range(x${list}, y${list}, ${radius}, WRAPS${s}))`, () => {
    if (isDisc)
      w.line(
        `const isExact${list} = k${k}.index.isExact, half${list} = k${k}.index.halves(r${list}), X${list} = x${list} | 0, Y${list} = y${list} | 0;`,
      );
    w.line(
      `const I${list} = k${k}.index, C${list} = I${list}.columns, D${list} = I${list}.rows, f${list} = I${list}.fromColumn, g${list} = I${list}.toColumn;`,
    );
    const isStanding = out.options.effects.standing.has(k);
    w.line(
      isStanding
        ? `const S${list} = I${list}.start, M${list} = I${list}.members, MX${list} = I${list}.memberX, MY${list} = I${list}.memberY;`
        : `const H${list} = I${list}.head, N${list} = I${list}.next;`,
    );
    w.block(
      `for (let u${list} = I${list}.fromRow, lastRow${list} = I${list}.toRow; u${list} <= lastRow${list}; u${list}++)`,
      () => {
        w.line(
          `const row${list} = (u${list} < 0 ? u${list} + D${list} : u${list} >= D${list} ? u${list} - D${list} : u${list}) * C${list};`,
        );
        if (isDisc) {
          w.line(`let h${list} = f${list}, l${list} = g${list};`);
          w.line(
            `if (isExact${list}) { const half = half${list}[u${list} < Y${list} ? Y${list} - u${list} : u${list} - Y${list}] | 0; if (X${list} - half > h${list}) h${list} = X${list} - half; if (X${list} + half < l${list}) l${list} = X${list} + half; }`,
          );
        }
        const [first, last] = isDisc ? [`h${list}`, `l${list}`] : [`f${list}`, `g${list}`];
        if (isStanding)
          emitSortedRow(out, list, first, last, () => {
            w.line(`${c} = M${list}[j${list}];`);
            there();
            emitNearTest(out, reach, list, `MX${list}[j${list}]`, `MY${list}[j${list}]`, fitting);
          });
        else
          emitLinkedRow(out, list, first, last, isDisc && space.oneAgentACell, () => {
            w.line(`${c} = j${list};`);
            there();
            const b = keepsPositions(out, k) ? 'b' : '';
            emitNearTest(out, reach, list, `k${k}_${b}x[${c}]`, `k${k}_${b}y[${c}]`, fitting);
          });
      },
    );
  });
}

/** Those in a row of sorted buckets, in one go, or two where the row goes round the edge. */
function emitSortedRow(out: BodyWriter, list: number, first: string, last: string, body: () => void): void {
  const { w } = out;
  w.block(`for (let z${list} = ${first}; z${list} <= ${last};)`, () => {
    w.line(
      `const b${list} = z${list} < 0 ? z${list} + C${list} : z${list} >= C${list} ? z${list} - C${list} : z${list};`,
    );
    w.line(`const t${list} = ${last} - z${list} < C${list} - b${list} ? ${last} - z${list} + 1 : C${list} - b${list};`);
    w.block(
      `for (let j${list} = S${list}[row${list} + b${list}], end${list} = S${list}[row${list} + b${list} + t${list}]; j${list} < end${list}; j${list}++)`,
      body,
    );
    w.line(`z${list} += t${list};`);
  });
}

/** Those in a row of buckets as linked lists. */
function emitLinkedRow(
  out: BodyWriter,
  list: number,
  first: string,
  last: string,
  isSingle: boolean,
  body: () => void,
): void {
  const { w } = out;
  w.block(`for (let z${list} = ${first}; z${list} <= ${last}; z${list}++)`, () => {
    const next = isSingle ? `isExact${list} ? -1 : N${list}[j${list}]` : `N${list}[j${list}]`;
    w.block(
      `for (let j${list} = H${list}[row${list} + (z${list} < 0 ? z${list} + C${list} : z${list} >= C${list} ? z${list} - C${list} : z${list})]; j${list} >= 0; j${list} = ${next})`,
      body,
    );
  });
}

/** Whether a candidate at a place is in reach. */
function emitNearTest(
  out: BodyWriter,
  reach: P.SpaceReach,
  list: number,
  x: string,
  y: string,
  fitting: () => void,
): void {
  const { w } = out;
  const s = reach.space;
  const space = out.shared.plan.spaces[s]!;
  const { isStraight, isOfCells } = formOf(space);
  const isPlain = isStraight && (reach.is === 'within' || reach.is === 'here' || reach.is === 'next to');
  if (!isPlain) {
    w.block(`if (isInReach(${JSON.stringify(reach.is)}, r${list}, x${list}, y${list}, ${x}, ${y}, SP${s}))`, fitting);
    return;
  }
  const measure = (): void => {
    w.line(`dx = ${x} - x${list}; dy = ${y} - y${list};`);
    if (space.edge === 'wrapping') w.line(shorterWay(out.shared.plan, s));
  };
  w.line('let dx = 0, dy = 0;');
  if (reach.is === 'within' && isOfCells) w.block(`if (!isExact${list})`, measure);
  else measure();
  const near =
    reach.is === 'within'
      ? `dx * dx + dy * dy <= r${list} * r${list} && r${list} >= 0`
      : reach.is === 'here'
        ? 'dx === 0 && dy === 0'
        : space.neighbours === 4
          ? 'Math.abs(dx) + Math.abs(dy) === 1'
          : 'greatest(Math.abs(dx), Math.abs(dy)) === 1';
  w.block(`if (${near})`, fitting);
}

function emitTies(
  out: BodyWriter,
  over: Extract<P.Query['over'], { is: 'ties' }>,
  c: string,
  list: number,
  fitting: () => void,
): void {
  const { w } = out;
  const n = over.network;
  if (!over.agent) {
    w.block(`for (let j${list} = 0; j${list} < net${n}.count; j${list}++)`, () => {
      w.line(`${c} = j${list};`);
      w.line(`if (!net${n}.there[${c}]) continue;`);
      fitting();
    });
    return;
  }
  const a = `L${over.agent.local}`;
  w.line(`const R${list} = net${n}.rows[${over.side}];`);
  w.block(
    `for (let j${list} = R${list}.start[${a}], end${list} = j${list} + R${list}.length[${a}]; j${list} < end${list}; j${list}++)`,
    () => {
      w.line(`${c} = R${list}.tie[j${list}];`);
      fitting();
    },
  );
}

function emitItems(
  out: BodyWriter,
  query: P.Query,
  over: Extract<P.Query['over'], { is: 'list' }>,
  c: string,
  list: number,
  fitting: () => void,
): void {
  const { w } = out;
  const a = `L${over.agent.local}`;
  w.block(
    `for (let j${list} = 0, end${list} = k${over.owner}_a${over.column}[${a}]; j${list} < end${list}; j${list}++)`,
    () => {
      if (over.ofAgents) {
        w.line(`${c} = k${query.kind}.slotOf(k${over.owner}.attributes[${over.column + 1} + j${list}][${a}]);`);
        w.line(`if (${c} < 0) continue;`);
      } else w.line(`${c} = j${list};`);
      fitting();
    },
  );
}

function emitCells(out: BodyWriter, query: CellsQuery, list: number, fitting: () => void): void {
  const { w } = out;
  const { reach, over } = query;
  const raster = rasterName(over.raster);
  const s = P.spaceOfRaster(out.shared.plan, over.raster);
  const take = (cell: string): void => {
    w.line(`L${query.candidate} = ${cell};`);
    if (over.empty) w.line(`if (OCC${s}[L${query.candidate}]) continue;`);
    fitting();
  };
  if (reach.is === 'all' || reach.is === 'tied') {
    // The topmost row first, as lists of cells are.
    const zone = formOf(out.shared.plan.spaces[s]!).isOfCells ? zoneAsked(query) : undefined;
    w.line(`const C${list} = ${raster}.columns;`);
    if (zone !== undefined) w.line(`const inside${list} = S.zones.masks[${zone}].inside;`);
    w.block(`for (let row${list} = (${raster}.rows - 1) * C${list}; row${list} >= 0; row${list} -= C${list})`, () =>
      w.block(`for (let j${list} = row${list}; j${list} < row${list} + C${list}; j${list}++)`, () => {
        if (zone !== undefined) w.line(`if (!inside${list}[j${list}]) continue;`);
        take(`j${list}`);
      }),
    );
  } else {
    const [distance, disc] = [out.shared.lasting('-1'), out.shared.lasting('undefined')];
    const is = JSON.stringify(reach.is);
    w.line(
      `const d${list} = ${emitValue(out, reach.distance)}, x${list} = ${emitValue(out, reach.x)}, y${list} = ${emitValue(out, reach.y)}, q${list} = lists.get(${list}, ${raster}.columns * ${raster}.rows);`,
    );
    w.line(
      `if (d${list} !== ${distance}) { ${distance} = d${list}; ${disc} = DISCS${s}.ofMiddles(${raster}, ${is}, d${list}); }`,
    );
    const cell = knownCell(out.shared.plan, over.raster, reach);
    const around = cell
      ? `around(${raster}, ${disc}, ${emitValue(out, cell)}, q${list})`
      : `into(${raster}, ${disc}, x${list}, y${list}, q${list})`;
    w.line(`let m${list} = ${disc} ? DISCS${s}.${around} : -1;`);
    w.line(`if (m${list} < 0) m${list} = cellsInto(${raster}, SP${s}, ${is}, d${list}, x${list}, y${list}, q${list});`);
    w.block(`for (let j${list} = 0; j${list} < m${list}; j${list}++)`, () => take(`q${list}[j${list}]`));
  }
}

/** On a wrapping space the shorter of the ways dx, dy. */
export function shorterWay(plan: P.Plan, s: number): string {
  const on = (v: string, size: string): string =>
    `${v} = ${v} > ${size} / 2 ? ${v} - ${size} : ${v} < -${size} / 2 ? ${v} + ${size} : ${v};`;
  return `${on('dx', sizeCode(plan, s, 'x'))} ${on('dy', sizeCode(plan, s, 'y'))}`;
}

/** The cell of a raster whose middle is where a reach begins, if the text says so. */
function knownCell(plan: P.Plan, raster: number, { x, y }: P.SpaceReach): P.Expr | undefined {
  if (x.op !== 'cell x' || y.op !== 'cell y') return undefined;
  const on = P.spaceOfRaster(plan, raster);
  const isSame = x.raster === raster || (P.spaceOfRaster(plan, x.raster) === on && formOf(plan.spaces[on]!).isOfCells);
  const { cell } = x;
  const isOne = cell.op === 'own cell' || (cell.op === 'local' && y.cell.op === 'local' && cell.local === y.cell.local);
  return isSame && isOne ? cell : undefined;
}
