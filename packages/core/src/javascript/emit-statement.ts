import { TWO_M53 } from '../engine/random/laws.ts';
import { drawsLuck } from '../plan/analysis.ts';
import { MOST_ROUNDS } from '../plan/failures.ts';
import { LAWS } from '../plan/functions.ts';
import type * as P from '../plan/plan.ts';
import { machineColumnId, tieColumnId, variableColumnId } from '../plan/settling.ts';
import type { BodyWriter, Of } from './body-writer.ts';
import { emitCountedHere } from './cell-classes.ts';
import { emitBecome, emitCreate } from './emit-creation.ts';
import { emitTell, emitTellOf } from './emit-events.ts';
import { actorArgs, emitChecked, emitFinite, emitTest, emitValue } from './emit-expression.ts';
import { emitCount, emitEach, emitGather } from './emit-found.ts';
import { emitDrawCell, emitDrawInZone, emitMove, emitTravel, emitTurnBy, emitVanish } from './emit-movement.ts';
import { emitPick } from './emit-pick.ts';
import { emitWord } from './emit-query.ts';
import { applied, emitAddToList, emitSend, emitTie, emitWrite, emitWriteField, loggedWrite } from './emit-writing.ts';

/** Writes the body of a turn: its stream begins with `seed`, just before the first draw. */
export function emitTurn(out: BodyWriter, list: readonly P.Statement[], seed: string): void {
  out.seed = seed;
  out.drawsLater = false;
  out.statements(list);
  out.seed = undefined;
}

export function emitStatements(out: BodyWriter, list: readonly P.Statement[]): void {
  const later = out.drawsLater;
  list.forEach((statement, i) => {
    if (out.seed !== undefined && drawsLuck(statement))
      emitBeginLuck(out, statement, later || list.slice(i + 1).some(drawsLuck));
    else emitStatement(out, statement);
  });
  out.drawsLater = later;
}

/** Only branches in which luck is drawn begin it, if nothing after them needs it. */
function emitBeginLuck(out: BodyWriter, statement: P.Statement, drawsLater: boolean): void {
  const { seed } = out;
  if (drawsLater || (statement.op !== 'if' && statement.op !== 'switch')) {
    out.w.line(seed!);
    out.seed = undefined;
    emitStatement(out, statement);
    return;
  }
  out.drawsLater = false;
  const branches = statement.op === 'if' ? [statement.then, statement.else] : statement.cases;
  const emit = (branch: readonly P.Statement[]): void => {
    out.seed = seed;
    out.statements(branch);
  };
  if (statement.op === 'if') emitIf(out, statement, emit);
  else emitSwitch(out, statement, emit);
  out.seed = branches.length > 0 ? undefined : seed;
}

function emitStatement(out: BodyWriter, s: P.Statement): void {
  const { w } = out;
  switch (s.op) {
    case 'set':
      return w.line(`L${s.local} = ${emitValue(out, s.value)};`);
    case 'draw':
      return emitDraw(out, s);
    case 'if':
      return emitIf(out, s, (block) => out.statements(block));
    case 'switch':
      return emitSwitch(out, s, (block) => out.statements(block));
    case 'repeat':
      return emitRepeat(out, s);
    case 'until':
      return w.line(`if (${emitTest(out, s.condition)}) break rep${out.loops[out.loops.length - 1]};`);
    case 'nobody':
      return w.line(`L${s.local} = -1;`);
    case 'find':
      return w.line(`L${s.local} = k${s.kind}.slotOf(${emitValue(out, s.number)});`);
    case 'demand':
      return w.line(`if (L${s.local} < 0) FN(${s.site}, ${actorArgs(out)});`);
    case 'demand ashore':
      return w.line(`if (${emitValue(out, s.riders)} > 0) FA(${s.site}, ${actorArgs(out)});`);
    case 'find tie':
      return w.line(
        `L${s.local} = net${s.network}.between(L${(s.flip ? s.b : s.a).local}, L${(s.flip ? s.a : s.b).local});`,
      );
    case 'other end':
      return w.line(
        `L${s.local} = ${s.from ? `net${s.network}.b[L${s.tie}] === L${s.from.local} ? net${s.network}.a[L${s.tie}] : ` : ''}net${s.network}.b[L${s.tie}];`,
      );
    case 'count':
    case 'any':
      return emitCount(out, s);
    case 'gather':
      return emitGather(out, s);
    case 'pick':
      return emitPick(out, s);
    case 'each':
      return emitEach(out, s);
    case 'create':
      emitTell(out, `{ is: "act", what: "created", site: ${s.site} }`);
      return emitCreate(out, s);
    case 'end turn':
      return w.line('break turn;');
    default:
      return emitAct(out, s);
  }
}

/** Statements that change something and always go on. */
function emitAct(
  out: BodyWriter,
  s: Exclude<
    P.Statement,
    {
      op:
        | 'set'
        | 'draw'
        | 'if'
        | 'switch'
        | 'repeat'
        | 'until'
        | 'nobody'
        | 'find'
        | 'demand'
        | 'demand ashore'
        | 'find tie'
        | 'other end'
        | 'count'
        | 'any'
        | 'gather'
        | 'pick'
        | 'each'
        | 'create'
        | 'end turn';
    }
  >,
): void {
  const { w } = out;
  switch (s.op) {
    case 'write':
      return emitWrite(out, s);
    case 'write field':
      emitTell(out, `{ is: "act", what: "changed", site: ${s.site} }`);
      return emitWriteField(out, s);
    case 'write variable': {
      const held = `W.variables[${s.index}]`;
      w.line(`p = ${emitFinite(out, s.value, s.site)};`);
      return w.line(
        out.options.atOnce
          ? loggedWrite(variableColumnId(s.index), '0', s.how)
          : `${held} = fin(${applied(held, s.how, 'p')}, ${s.site}, ${actorArgs(out)});`,
      );
    }
    case 'write tie': {
      const held = `net${s.network}.columns[${s.column}][L${s.tie}]`;
      w.line(`p = ${emitFinite(out, s.value, s.site)};`);
      return w.line(
        out.options.atOnce
          ? loggedWrite(tieColumnId(s.network, s.column), `L${s.tie}`, s.how)
          : `${held} = fin(${applied(held, s.how, 'p')}, ${s.site}, ${actorArgs(out)});`,
      );
    }
    case 'write parameter':
      return w.line(`W.beneath[${s.index}] = ${emitFinite(out, s.value, s.site)};`);
    case 'add to list':
      return emitAddToList(out, s);
    case 'add to tally':
      return w.line(`TL[${s.tally}].add(${emitFinite(out, s.value, s.site)}, ${out.options.atOnce});`);
    case 'tie':
      return emitTie(out, s);
    case 'untie': {
      const first = `L${(s.flip && s.b ? s.b : s.a).local}`;
      const cut = s.b
        ? `untie(${s.network}, ${first}, L${(s.flip ? s.a : s.b).local})`
        : `isolate(${s.network}, ${s.flip ? 1 : 0}, L${s.a.local})`;
      if (!out.options.atOnce) return w.line(`S.${cut};`);
      return w.block('', () => {
        w.line(`const a = ${first}, b = ${s.b ? `L${(s.flip ? s.a : s.b).local}` : '-1'};`);
        w.line(
          `S.later.push(() => S.${s.b ? `untie(${s.network}, a, b)` : `isolate(${s.network}, ${s.flip ? 1 : 0}, a)`});`,
        );
      });
    }
    case 'send':
      emitTell(out, `{ is: "act", what: "sent", site: ${s.site} }`);
      return emitSend(out, s);
    case 'log':
      return w.line(
        `S.note(${s.site}, [${s.values.map(({ value }) => emitValue(out, value)).join(', ')}], ${actorArgs(out)});`,
      );
    case 'record':
      return w.line(
        `if (S.recording) S.recordRow(${s.record}, [${s.values.map((value) => emitValue(out, value)).join(', ')}]);`,
      );
    case 'change':
      w.line(`p = ${emitValue(out, s.state)};`);
      return w.line(loggedWrite(machineColumnId(s.kind, s.machine), `L${s.agent.local}`, '='));
    case 'vanish':
      return emitVanish(out, s.kind, `L${s.agent.local}`);
    case 'become':
      return emitBecome(out, s);
    case 'write due':
      return w.line(`k${s.kind}_d${s.column}[L${s.agent.local}] = ${emitFinite(out, s.value, s.site)};`);
    case 'turn':
      emitTell(out, `{ is: "act", what: "turned", site: ${s.site} }`);
      return emitTurnBy(out, s);
    case 'move by':
    case 'move to':
      emitTell(out, `{ is: "act", what: "moved", site: ${s.site} }`);
      return emitMove(out, s);
    case 'travel':
      emitTell(out, `{ is: "act", what: "moved", site: ${s.site} }`);
      return emitTravel(out, s);
    case 'draw cell':
      return emitDrawCell(out, s);
    case 'draw in zone':
      return emitDrawInZone(out, s);
    case 'draw listed':
      emitWord(out, 'w1');
      w.line(`L${s.local} = CL.draw(w1, ${out.shared.plan.spaces[s.space]!.oneAgentACell});`);
      return w.line(`if (L${s.local} < 0) F(${s.site}, NaN, -1, -1);`);
    case 'remove':
      if (out.options.atOnce)
        w.line(`if (k${s.kind}_alive[L${s.agent.local}] === 1) k${s.kind}_alive[L${s.agent.local}] = 3;`);
      else
        w.block(`if (k${s.kind}_alive[L${s.agent.local}] & 1)`, () => {
          emitCountedHere(out, s.kind, `L${s.agent.local}`, -1);
          w.line(`removeAt(${s.kind}, L${s.agent.local});`);
        });
      return emitTellOf(out, s.kind, s.agent, (number) => `{ is: "removed", kind: ${s.kind}, number: ${number} }`);
    case 'end run':
      return w.line('W.isEnding = true;');
  }
}

function emitIf(out: BodyWriter, s: Of<'if'>, branch: (block: readonly P.Statement[]) => void): void {
  const { w } = out;
  if (out.shared.traces && s.site !== undefined) {
    w.line(`q = ${emitTest(out, s.condition)} ? 1 : 0;`);
    emitTell(out, `{ is: "condition", site: ${s.site}, holds: q === 1 }`);
    w.block('if (q === 1)', () => branch(s.then));
    if (s.else.length) w.block('else', () => branch(s.else));
    return;
  }
  if (s.condition.op === 'is there' && out.shared.steady.has(s.condition.kind)) branch(s.then);
  else if (s.then.length === 0 && s.else.length > 0)
    w.block(`if (!(${emitTest(out, s.condition)}))`, () => branch(s.else));
  else {
    w.block(`if (${emitTest(out, s.condition)})`, () => branch(s.then));
    if (s.else.length) w.block('else', () => branch(s.else));
  }
}

function emitSwitch(out: BodyWriter, s: Of<'switch'>, branch: (block: readonly P.Statement[]) => void): void {
  const { w } = out;
  w.block(`switch (${emitValue(out, s.value)})`, () => {
    s.cases.forEach((block, i) => {
      if (block.length === 0) return;
      w.block(`case ${i}:`, () => {
        branch(block);
        w.line('break;');
      });
    });
  });
}

function emitDraw(out: BodyWriter, s: Of<'draw'>): void {
  const args = s.args.map((arg) => emitValue(out, arg));
  if (s.law === 'chance') {
    if (s.args[0]!.op !== 'number') {
      out.w.line(`p = ${args[0]};`);
      out.w.line(`if (p !== p) F(${s.site}, p, ${actorArgs(out)});`);
    }
    emitWord(out, 'w1');
    out.w.line(`L${s.local} = w1 < ${s.args[0]!.op === 'number' ? args[0] : 'p'} * 4294967296 ? 1 : 0;`);
    emitTell(out, `{ is: "draw", site: ${s.site}, value: L${s.local} }`);
    return;
  }
  emitWord(out, 'w1');
  emitWord(out, 'w2');
  if (s.law === 'unit') {
    // drawUnit written out, as it stands in most starts, where engines have no room left to do so.
    out.w.line(`L${s.local} = ((w1 >>> 5) * 67108864 + (w2 >>> 6)) * ${TWO_M53};`);
  } else {
    out.w.line(`L${s.local} = ${LAWS[s.law].code}(${[...args, 'w1', 'w2'].join(', ')});`);
    emitChecked(out, `L${s.local}`, s.site);
  }
  emitTell(out, `{ is: "draw", site: ${s.site}, value: L${s.local} }`);
}

function emitRepeat(out: BodyWriter, s: Of<'repeat'>): void {
  const id = out.labels++;
  out.w.line(`const n${id}_ = ${emitValue(out, s.count)};`);
  if (s.count.op !== 'number' || !(s.count.value >= 0))
    out.w.line(`if (!(n${id}_ >= 0) || Math.floor(n${id}_) !== n${id}_) FC(${s.site}, n${id}_, ${actorArgs(out)});`);
  const isBounded = s.count.op === 'number' && s.count.value <= MOST_ROUNDS;
  out.loops.push(id);
  out.w.block(`rep${id}: for (let i${id}_ = 0; i${id}_ < n${id}_; i${id}_++)`, () => {
    if (!isBounded) out.w.line(`if (i${id}_ === ${MOST_ROUNDS}) FR(${s.site}, ${actorArgs(out)});`);
    out.statements(s.body);
  });
  out.loops.pop();
}
