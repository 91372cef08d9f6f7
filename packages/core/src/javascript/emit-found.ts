import { needsNoList, removesAgents } from '../plan/analysis.ts';
import { statesAsked } from '../plan/states-asked.ts';
import type * as P from '../plan/plan.ts';
import { MOST_ITEMS } from '../plan/values.ts';
import type { BodyWriter } from './body-writer.ts';
import { cellList, emitCellCount } from './cell-classes.ts';
import { emitChecked, emitTest, emitValue, rasterName, skipGone } from './emit-expression.ts';
import { emitCandidates, emitWord } from './emit-query.ts';

// Counting and gathering

export function emitCount(out: BodyWriter, s: Extract<P.Statement, { op: 'count' | 'any' }>): void {
  if (s.op === 'count' && (countKept(out, s) || countAllCells(out, s))) return;
  const list = out.shared.nextList();
  const counter = `c${list}`;
  out.w.block('', () => {
    const byCell = emitCellCount(out, s, list);
    out.w.line(
      `let ${counter} = ${byCell === undefined ? '0' : `${byCell} < 0 ? 0 : ${s.op === 'any' ? `least(1, ${byCell})` : byCell}`};`,
    );
    out.w.block(`${byCell === undefined ? '' : `if (${byCell} < 0) `}found${list}:`, () => {
      const isState = s.op === 'count' ? stateTest(out, s.query.where) : undefined;
      if (isState)
        emitCandidates(out, { ...s.query, where: undefined }, list, () => out.w.line(`${counter} += ${isState};`));
      else {
        emitCandidates(out, s.query, list, () => {
          out.w.line(`${counter}++;`);
          if (s.op === 'any') out.w.line(`break found${list};`);
        });
      }
    });
    out.w.line(`L${s.local} = ${counter};`);
  });
}

/** Of a kind that nobody joins or leaves it is known how many are in each state; outside its rules that needs no counting. */
function countKept(out: BodyWriter, { query, local }: Extract<P.Statement, { op: 'count' | 'any' }>): boolean {
  const { kind, over, reach, except } = query;
  if (
    out.options.actorKind !== undefined ||
    over.is !== 'agents' ||
    reach.is !== 'all' ||
    except !== undefined ||
    !out.shared.steady.has(kind)
  )
    return false;
  if (query.present && out.shared.plan.kinds[kind]!.mayBeNowhere) return false;
  const asked = statesAsked(out.shared.plan, query);
  if (!asked) return false;
  const { firstCounter } = out.shared.plan.kinds[kind]!.machines[asked.machine]!;
  out.w.line(`if (S.areStatesOpen) S.countStates();`);
  out.w.line(`L${local} = ${asked.states.map((state) => `IN[${firstCounter + state}]`).join(' + ') || '0'};`);
  return true;
}

/** Of cells of a space it is known how many there are. */
function countAllCells({ w }: BodyWriter, { query, local }: Extract<P.Statement, { op: 'count' | 'any' }>): boolean {
  const { over, reach, where, except } = query;
  if (over.is !== 'cells' || over.empty || reach.is !== 'all' || where || except !== undefined) return false;
  const raster = rasterName(over.raster);
  w.line(`L${local} = ${raster}.columns * ${raster}.rows;`);
  return true;
}

/** Whether an agent is in one state, as 1 or 0 without a branch: states are hard to foretell, and a wrong guess costs more than the sum. */
function stateTest(out: BodyWriter, where: P.Code | undefined): string | undefined {
  if (!where || where.statements.length > 0 || where.value.op !== 'binary' || where.value.fn !== 'is') return undefined;
  const { left, right } = where.value;
  return left.op === 'state' && right.op === 'number'
    ? `((${emitValue(out, left)} ^ ${emitValue(out, right)}) - 1) >>> 31`
    : undefined;
}

/** The candidates of a query in a list, in order. Gives the name of the list; its length is `n` with the number of the list. */
export function emitListed(out: BodyWriter, query: P.Query, list: number): string {
  const { w } = out;
  const isNear = query.over.is === 'agents' && query.reach.is !== 'all' && query.reach.is !== 'tied';
  const name = `Q${list}`;
  w.line(`let n${list} = 0;`);
  w.line(`const ${name} = lists.get(${out.shared.nextList()}, ${roomFor(query)});`);
  const candidates = (): void =>
    emitCandidates(out, query, list, () => w.line(`${name}[n${list}++] = L${query.candidate};`));
  const byCell = cellList(out, query, name);
  if (byCell) {
    w.line(`n${list} = ${byCell};`);
    w.block(`if (n${list} < 0)`, () => {
      w.line(`n${list} = 0;`);
      candidates();
    });
  } else candidates();
  if (isNear) w.line(`sortSlots(${name}, n${list});`);
  return name;
}

function roomFor({ over, kind }: P.Query): string {
  switch (over.is) {
    case 'agents':
      return `k${kind}.used`;
    case 'cells':
      return `${rasterName(over.raster)}.columns * ${rasterName(over.raster)}.rows`;
    case 'ties':
      return `net${over.network}.count`;
    case 'list':
      return String(MOST_ITEMS);
    case 'tally':
      return `TL[${over.tally}].count`;
  }
}

export function emitGather(out: BodyWriter, s: Extract<P.Statement, { op: 'gather' }>): void {
  const { w } = out;
  const list = out.shared.nextList();
  w.block('', () => {
    const name = emitListed(out, s.query, list);
    w.line(`const values${list} = lists.values(${list}, n${list});`);
    w.block(`for (let i = 0; i < n${list}; i++)`, () => {
      w.line(`L${s.query.candidate} = ${name}[i];`);
      out.statements(s.value.statements);
      w.line(`values${list}[i] = ${emitValue(out, s.value.value)};`);
    });
    w.line(
      `L${s.local} = gather(${JSON.stringify(s.fn)}, values${list}, n${list}, ${s.level ? emitValue(out, s.level) : 'undefined'});`,
    );
    if (s.site !== undefined) emitChecked(out, `L${s.local}`, s.site);
  });
}

// Going through them one by one

export function emitEach(out: BodyWriter, s: Extract<P.Statement, { op: 'each' }>): void {
  const { w } = out;
  const list = out.shared.nextList();
  const { over, kind } = s.query;
  const c = `L${s.query.candidate}`;
  if (needsNoList(s)) {
    w.block('', () => emitCandidates(out, s.query, list, () => out.statements(s.body)));
    return;
  }
  w.block('', () => {
    const name = emitListed(out, s.query, list);
    if (s.shuffled) {
      w.block(`for (let i = n${list} - 1; i > 0; i--)`, () => {
        emitWord(out, 'w1');
        w.line(
          `const j = Math.floor((w1 * (i + 1)) / 4294967296), h = ${name}[i]; ${name}[i] = ${name}[j]; ${name}[j] = h;`,
        );
      });
    }
    const end = s.most === undefined ? `n${list}` : `least(n${list}, ${s.most})`;
    w.block(`for (let i${list} = 0, z${list} = ${end}; i${list} < z${list}; i${list}++)`, () => {
      w.line(`${c} = ${name}[i${list}];`);
      if (kind >= 0) skipGone(out, kind, c);
      if (over.is === 'ties') w.line(`if (!net${over.network}.there[${c}]) continue;`);
      if (s.recheck && s.query.where) {
        out.statements(s.query.where.statements);
        w.line(`if (!(${emitTest(out, s.query.where.value)})) continue;`);
        w.line(`${c} = ${name}[i${list}];`);
      }
      out.statements(s.body);
      emitAfterMeeting(out, s.body);
    });
  });
}

function emitAfterMeeting(out: BodyWriter, body: readonly P.Statement[]): void {
  if (out.options.actorKind !== undefined && removesAgents(body))
    out.w.line(`if (!(k${out.options.actorKind}_alive[L0] & 1)) break turn;`);
}
