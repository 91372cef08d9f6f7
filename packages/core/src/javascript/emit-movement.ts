import * as P from '../plan/plan.ts';
import { TRIES } from '../plan/values.ts';
import type { BodyWriter, Of } from './body-writer.ts';
import { actorArgs, emitChecked, emitFinite, emitValue, placedIn, spaceOfKind } from './emit-expression.ts';
import { emitWord } from './emit-query.ts';
import { emitCountedHere } from './cell-classes.ts';
import { FORM_CODE } from './form-code.ts';
import { sizeCode } from './known-sizes.ts';

export function emitTurnBy(out: BodyWriter, s: Of<'turn'>): void {
  const { w } = out;
  const a = `L${s.agent.local}`;
  w.line(`p = ${emitValue(out, s.direction)};`);
  const turn = (): void => {
    emitChecked(out, 'p', s.site);
    w.line(`turnTo(k${s.kind}_dir, k${s.kind}_sin, k${s.kind}_cos, ${a}, p);`);
  };
  // Who is nowhere does not turn.
  if (!s.agent.fresh && out.shared.plan.kinds[s.kind]!.mayBeNowhere)
    w.block(`if (k${s.kind}_x[${a}] === k${s.kind}_x[${a}])`, turn);
  else turn();
}

/** Whether the body itself keeps up who stands on which cell: all at once this is done when the rule is over. */
function tracks(out: BodyWriter, kind: number): boolean {
  return spaceOfKind(out, kind)!.tracksCells && !out.options.atOnce;
}

export function emitMove(out: BodyWriter, s: Of<'move by' | 'move to'>): void {
  const { w } = out;
  const k = s.kind;
  const a = `L${s.agent.local}`;
  const mayBeNowhere = out.shared.plan.kinds[k]!.mayBeNowhere;
  w.block('', () => {
    if (s.op === 'move by') {
      w.line(`const d = ${emitFinite(out, s.distance, s.site)};`);
      if (mayBeNowhere) w.block(`if (k${k}_x[${a}] === k${k}_x[${a}])`, () => emitMoveBy(out, k, a));
      else emitMoveBy(out, k, a);
      return;
    }
    if (mayBeNowhere) {
      w.line(`const vx = ${emitValue(out, s.x)}, vy = ${emitValue(out, s.y)};`);
      w.block('if (vx !== vx)', () => emitVanish(out, k, a));
      w.block('else', () => emitMoveTo(out, s, k, a, 'vx', 'vy'));
    } else emitMoveTo(out, s, k, a, emitValue(out, s.x), emitValue(out, s.y));
  });
}

/** The cell, as it is counted who stands where, of a place that lies inside the space. */
export function cellOfPlace(out: BodyWriter, s: number, x: string, y: string): string {
  const { plan } = out.shared;
  return FORM_CODE[plan.spaces[s]!.form].cellOfPlace(x, y, s, sizeCode(plan, s, 'x'));
}

export function hasObstacles(out: BodyWriter, s: number): boolean {
  return P.hasObstacles(out.shared.plan, s);
}

function emitMoveBy(out: BodyWriter, k: number, a: string): void {
  const { w } = out;
  const s = out.shared.plan.kinds[k]!.space;
  const space = spaceOfKind(out, k)!;
  w.line(`const ox = k${k}_x[${a}], oy = k${k}_y[${a}];`);
  const keyword = hasObstacles(out, s) ? 'let' : 'const';
  const [x, y] = (['x', 'y'] as const).map((axis) => FORM_CODE[space.form].ahead(axis, 'ox', 'oy', 'd', `k${k}`, a));
  w.line(`${keyword} mx = ${x}, my = ${y};`);
  if (keyword === 'let')
    w.line(
      `const share = shareBefore(S.zones.blocked[${s}], ox, oy, mx, my, SP${s}); if (share < 1) { mx = ox + (mx - ox) * share; my = oy + (my - oy) * share; }`,
    );
  const [tx, ty] = placedIn(out.shared.plan, s, 'mx', 'my');
  w.line(`const tx = ${tx}, ty = ${ty};`);
  emitSettleAt(out, k, a, space.edge === 'reflecting');
}

export function emitTravel(out: BodyWriter, s: Of<'travel'>): void {
  const { w } = out;
  const k = s.kind;
  const a = `L${s.agent.local}`;
  const on = out.shared.plan.kinds[k]!.space;
  const [x, y, amount, speed] = [s.x, s.y, s.amount, s.speed].map((e) => emitFinite(out, e, s.site));
  w.block('', () => {
    w.line(`const gx = ${x}, gy = ${y}, am = ${amount}, sp = ${speed}, LN = SP${on}.lanes;`);
    w.line(`L${s.used} = 0; L${s.left} = 1;`);
    const go = (): void => {
      w.line(`LN.travel(k${k}_x[${a}], k${k}_y[${a}], gx, gy, am, sp, ${JSON.stringify(s.ways)}, ${a});`);
      if (s.mustReach) w.line(`if (LN.left === Infinity) FW(${s.site}, ${actorArgs(out)});`);
      w.line(`L${s.used} = LN.used; L${s.left} = LN.left === Infinity ? -1 : LN.left;`);
      w.block('if (LN.used > 0)', () => {
        w.line('const tx = LN.x, ty = LN.y;');
        w.line(`if (LN.direction === LN.direction) turnTo(k${k}_dir, k${k}_sin, k${k}_cos, ${a}, LN.direction);`);
        emitSettleAt(out, k, a, false);
      });
    };
    if (out.shared.plan.kinds[k]!.mayBeNowhere) w.block(`if (k${k}_x[${a}] === k${k}_x[${a}])`, go);
    else go();
  });
}

function emitMoveTo(out: BodyWriter, s: Of<'move to'>, k: number, a: string, x: string, y: string): void {
  const { w } = out;
  w.line(`const mx = fin(${x}, ${s.site}, ${actorArgs(out)}), my = fin(${y}, ${s.site}, ${actorArgs(out)});`);
  const on = out.shared.plan.kinds[k]!.space;
  const [tx, ty] = placedIn(out.shared.plan, on, 'mx', 'my');
  w.line(`const tx = ${tx}, ty = ${ty};`);
  if (!hasObstacles(out, on)) {
    emitSettleAt(out, k, a, false);
    return;
  }
  w.line(`if (isInMask(S.zones.blocked[${on}], tx, ty, SP${on})) W.refused++;`);
  w.block('else', () => emitSettleAt(out, k, a, false));
}

function emitSettleAt(out: BodyWriter, k: number, a: string, turnsBack: boolean): void {
  const { w } = out;
  const s = out.shared.plan.kinds[k]!.space;
  const go = (): void => {
    emitCountedHere(out, k, a, -1);
    w.line(`k${k}_x[${a}] = tx; k${k}_y[${a}] = ty;`);
    emitCountedHere(out, k, a, 1);
    if (!out.options.atOnce && out.options.effects.queried.has(k)) w.line(`k${k}.index.move(${a}, tx, ty);`);
    if (turnsBack)
      w.line(`turnTo(k${k}_dir, k${k}_sin, k${k}_cos, ${a}, directionAfter(k${k}_dir[${a}], mx, my, SP${s}));`);
  };
  if (!tracks(out, k)) return go();
  w.line(
    `const from = k${k}_x[${a}] === k${k}_x[${a}] ? ${cellOfPlace(out, s, `k${k}_x[${a}]`, `k${k}_y[${a}]`)} : -1, to = ${cellOfPlace(out, s, 'tx', 'ty')};`,
  );
  const take = (): void => {
    w.line(`if (from >= 0) OCC${s}[from]--;`);
    w.line(`OCC${s}[to]++;`);
    go();
  };
  if (!spaceOfKind(out, k)!.oneAgentACell) return take();
  w.line(`if (from !== to && OCC${s}[to]) W.refused++;`);
  w.block('else', take);
}

export function emitDrawCell(out: BodyWriter, s: Of<'draw cell'>): void {
  const { w } = out;
  const on = s.space;
  const blocked = hasObstacles(out, on) ? `S.zones.blocked[${on}].inside[c]` : '';
  const full = [out.shared.plan.spaces[on]!.oneAgentACell ? `OCC${on}[c]` : '', blocked].filter(Boolean).join(' || ');
  w.block('', () => {
    const width = sizeCode(out.shared.plan, on, 'x');
    w.line(`let c = 0; const n = ${width} * ${sizeCode(out.shared.plan, on, 'y')};`);
    w.block(`for (let tries = 0; tries < ${TRIES}; tries++)`, () => {
      emitWord(out, 'w1');
      w.line('c = Math.floor((w1 * n) / 4294967296);');
      w.line(full ? `if (!(${full})) break;` : 'break;');
    });
    if (full) w.line(`for (let i = 0; i < n && (${full}); i++) c = (c + 1) % n;`);
    w.line(`L${s.x} = c % ${width}; L${s.y} = Math.floor(c / ${width});`);
  });
}

export function emitDrawInZone(out: BodyWriter, s: Of<'draw in zone'>): void {
  const { w } = out;
  const on = s.space;
  const mask = s.zone < 0 ? `S.zones.free[${on}]` : `S.zones.masks[${s.zone}]`;
  w.block(`for (let tries = 0; tries < ${TRIES}; tries++)`, () => {
    w.line('let w3 = 0;');
    for (const word of ['w1', 'w2', 'w3']) emitWord(out, word);
    w.line(
      `L${s.x} = drawInMask(${mask}, "x", w1, w2, w3, SP${on}); L${s.y} = drawInMask(${mask}, "y", w1, w2, w3, SP${on});`,
    );
    const cell = `L${s.y} * ${sizeCode(out.shared.plan, on, 'x')} + L${s.x}`;
    w.line(out.shared.plan.spaces[on]!.oneAgentACell ? `if (!OCC${on}[${cell}]) break;` : 'break;');
  });
  emitChecked(out, `L${s.x}`, s.site);
}

export function emitVanish(out: BodyWriter, k: number, a: string): void {
  const { w } = out;
  const s = out.shared.plan.kinds[k]!.space;
  if (tracks(out, k))
    w.line(`if (k${k}_x[${a}] === k${k}_x[${a}]) OCC${s}[${cellOfPlace(out, s, `k${k}_x[${a}]`, `k${k}_y[${a}]`)}]--;`);
  if (!out.options.atOnce && out.options.effects.queried.has(k)) w.line(`k${k}.index.remove(${a});`);
  emitCountedHere(out, k, a, -1);
  w.line(`k${k}_x[${a}] = NaN; k${k}_y[${a}] = NaN;`);
}
