import type { RandomStream } from '../engine/random/stream.ts';
import { placeIn } from '../forms/space.ts';
import * as math from '../math.ts';
import { MOST_ROUNDS, failCeiling, failCount, failAboard, failNobody, failRounds } from '../plan/failures.ts';
import { drawLaw } from '../plan/functions.ts';
import type * as P from '../plan/plan.ts';
import { Contributions } from '../plan/settling.ts';
import { dueAfter, noteText } from '../plan/values.ts';
import { drawCell, drawInZone, drawListed, isTaken, moveBy, moveTo, travel } from './movement.ts';
import { forEachFound, gathered, pickOne } from './picks.ts';
import { candidates } from './queries.ts';
import { getOrMake, isThere } from './reference-run.ts';
import type { Agent, AtOnce, Frame, Of, ReferenceRun, Signal, Tie } from './reference-run.ts';
import { agentOf, bodyValue, isBlocked, numberOf } from './values.ts';
import { addToList, writeAttribute, writeField, writeTie, writeVariable } from './writing.ts';

export function executeAll(run: ReferenceRun, statements: readonly P.Statement[], frame: Frame): Signal {
  for (const statement of statements) {
    const signal = executeStatement(run, statement, frame);
    if (signal !== 'on') return signal;
  }
  return 'on';
}

function executeStatement(run: ReferenceRun, s: P.Statement, frame: Frame): Signal {
  const { locals } = frame;
  switch (s.op) {
    case 'if':
      return run.execute(numberOf(run, s.condition, frame) !== 0 ? s.then : s.else, frame);
    case 'switch':
      return run.execute(s.cases[numberOf(run, s.value, frame)] ?? [], frame);
    case 'repeat':
      return executeRepeat(run, s, frame);
    case 'until':
      return numberOf(run, s.condition, frame) !== 0 ? 'leave loop' : 'on';
    case 'pick':
      return pickOne(run, s, frame);
    case 'each':
      return forEachFound(run, s, frame);
    case 'create':
      return createAgent(run, s, frame);
    case 'end turn':
      return 'end turn';
    case 'set':
      locals[s.local] = s.value.op === 'local' ? locals[s.value.local]! : numberOf(run, s.value, frame);
      return 'on';
    case 'draw':
      locals[s.local] = run.finite(
        drawLaw(
          s.law,
          s.args.map((arg) => numberOf(run, arg, frame)),
          frame.stream,
        ),
        s.site,
        frame,
      );
      return 'on';
    case 'nobody':
      locals[s.local] = null;
      return 'on';
    case 'find': {
      const number = numberOf(run, s.number, frame);
      locals[s.local] = run.kinds[s.kind]!.find((agent) => agent.number === number && isThere(agent)) ?? null;
      return 'on';
    }
    case 'demand':
      if (locals[s.local] === null) failNobody(run.plan.sites[s.site]!, run.context, run.nameOf(frame.actor));
      return 'on';
    case 'demand ashore':
      if (numberOf(run, s.riders, frame) > 0) failAboard(run.plan.sites[s.site]!, run.context, run.nameOf(frame.actor));
      return 'on';
    case 'find tie':
      locals[s.local] = run.tieBetween(
        s.network,
        locals[(s.flip ? s.b : s.a).local] as Agent | null,
        locals[(s.flip ? s.a : s.b).local] as Agent | null,
      );
      return 'on';
    case 'other end': {
      const tie = locals[s.tie] as Tie;
      locals[s.local] = s.from && tie.b === locals[s.from.local] ? tie.a : tie.b;
      return 'on';
    }
    case 'count':
      locals[s.local] = candidates(run, s.query, frame).length;
      return 'on';
    case 'any':
      locals[s.local] = candidates(run, s.query, frame).length > 0 ? 1 : 0;
      return 'on';
    case 'gather':
      locals[s.local] = gathered(run, s, frame);
      return 'on';
    default:
      executeAct(run, s, frame);
      return 'on';
  }
}

/** Statements that change something and always go on. */
function executeAct(
  run: ReferenceRun,
  s: Exclude<
    P.Statement,
    {
      op:
        | 'if'
        | 'switch'
        | 'repeat'
        | 'until'
        | 'pick'
        | 'each'
        | 'create'
        | 'end turn'
        | 'set'
        | 'draw'
        | 'nobody'
        | 'find'
        | 'demand'
        | 'demand ashore'
        | 'find tie'
        | 'other end'
        | 'count'
        | 'any'
        | 'gather';
    }
  >,
  frame: Frame,
): void {
  switch (s.op) {
    case 'write':
      return writeAttribute(run, s, frame);
    case 'write field':
      return writeField(run, s, frame);
    case 'write variable':
      return writeVariable(run, s, frame);
    case 'write tie':
      return writeTie(run, s, frame);
    case 'write parameter':
      run.context.beneath[s.index] = run.finite(numberOf(run, s.value, frame), s.site, frame);
      return;
    case 'add to list':
      return addToList(run, s, frame);
    case 'add to tally':
      return run.tallies[s.tally]!.add(
        run.finite(numberOf(run, s.value, frame), s.site, frame),
        frame.atOnce !== undefined,
      );
    case 'tie':
      return makeTie(run, s, frame);
    case 'untie':
      return removeTies(run, s, frame);
    case 'send':
      return sendMessage(run, s, frame);
    case 'log':
      return run.context.note(
        s.site,
        run.nameOf(frame.actor) ?? '',
        noteText(
          s.values,
          s.values.map(({ value }) => numberOf(run, value, frame)),
        ),
      );
    case 'record':
      if (run.recording && isRecordedNow(run, s.record))
        run.kept[s.record]!.data.push(run.context.step, ...s.values.map((value) => numberOf(run, value, frame)));
      return;
    case 'change': {
      const changes = getOrMake(frame.atOnce!.changes, agentOf(s.agent, frame), () => new Map<number, Contributions>());
      getOrMake(changes, s.machine, () => new Contributions()).add('=', numberOf(run, s.state, frame));
      return;
    }
    case 'vanish': {
      const agent = agentOf(s.agent, frame);
      agent.x = NaN;
      agent.y = NaN;
      return;
    }
    case 'become':
      return become(run, agentOf(s.agent, frame), s.machine, s.state, s.agent.fresh === true);
    case 'write due':
      agentOf(s.agent, frame).due[s.column] = run.finite(numberOf(run, s.value, frame), s.site, frame);
      return;
    case 'turn':
      // Who is nowhere does not turn.
      if (!s.agent.fresh && Number.isNaN(agentOf(s.agent, frame).x)) return;
      agentOf(s.agent, frame).direction = math.heading(run.finite(numberOf(run, s.direction, frame), s.site, frame));
      return;
    case 'move by':
      return moveBy(run, s, frame);
    case 'move to':
      return moveTo(run, s, frame);
    case 'travel':
      return travel(run, s, frame);
    case 'draw cell':
      return drawCell(run, s, frame);
    case 'draw in zone':
      return drawInZone(run, s, frame);
    case 'draw listed':
      return drawListed(run, s, frame);
    case 'remove': {
      const agent = agentOf(s.agent, frame);
      if (frame.atOnce && agent.life === 'there') agent.life = 'leaving';
      else if (!frame.atOnce && isThere(agent)) leave(run, agent);
      return;
    }
    case 'end run':
      run.context.isEnding = true;
  }
}

export function isRecordedNow(run: ReferenceRun, record: number): boolean {
  const { every } = run.plan.records[record]!;
  return !every || run.context.isRowOf(bodyValue(run, every));
}

function executeRepeat(run: ReferenceRun, s: Of<'repeat'>, frame: Frame): Signal {
  const count = numberOf(run, s.count, frame);
  if (!(count >= 0) || Math.floor(count) !== count)
    failCount(run.plan.sites[s.site]!, run.context, run.nameOf(frame.actor), count);
  for (let i = 0; i < count; i++) {
    if (i === MOST_ROUNDS) failRounds(run.plan.sites[s.site]!, run.context, run.nameOf(frame.actor));
    const signal = run.execute(s.body, frame);
    if (signal === 'leave loop') break;
    if (signal !== 'on') return signal;
  }
  return 'on';
}

// Ties and messages

function makeTie(run: ReferenceRun, s: Of<'tie'>, frame: Frame): void {
  const first = agentOf(s.flip ? s.b : s.a, frame);
  const second = agentOf(s.flip ? s.a : s.b, frame);
  const values = s.values.map((value) => run.finite(numberOf(run, value, frame), s.site, frame));
  const tie = (): void => {
    if (first === second || !isThere(first) || !isThere(second) || run.tieBetween(s.network, first, second)) return;
    run.networks[s.network]!.push({
      a: first,
      b: second,
      serial: run.nextSerials[s.network]!++,
      there: true,
      values,
    });
  };
  if (frame.atOnce) frame.atOnce.later.push(tie);
  else tie();
}

function removeTies(run: ReferenceRun, s: Of<'untie'>, frame: Frame): void {
  const a = frame.locals[s.a.local] as Agent | null;
  const b = s.b && (frame.locals[s.b.local] as Agent | null);
  const untie = (): void => {
    const cut = (tie: Tie | null): void => {
      if (tie) tie.there = false;
    };
    if (b === undefined) for (const tie of run.tiesOf(s.network)) if (tie.a === a || tie.b === a) cut(tie);
    if (b !== undefined) cut(s.flip ? run.tieBetween(s.network, b, a) : run.tieBetween(s.network, a, b));
    run.networks[s.network] = run.tiesOf(s.network);
  };
  if (frame.atOnce) frame.atOnce.later.push(untie);
  else untie();
}

function sendMessage(run: ReferenceRun, s: Of<'send'>, frame: Frame): void {
  const receiver = agentOf(s.agent, frame);
  const sender = s.sender && agentOf(s.sender.agent, frame);
  const values = s.values.map((value) => run.finite(numberOf(run, value, frame), s.site, frame));
  const due = s.delay ? dueAfter(run.finite(numberOf(run, s.delay, frame), s.site, frame), run.context) : NaN;
  if (receiver.life !== 'gone')
    run.mail.send(
      s.message,
      s.kind,
      receiver.number,
      s.sender?.kind ?? -1,
      sender?.number ?? 0,
      due,
      run.context.end,
      values,
    );
}

// States and lives

function become(run: ReferenceRun, agent: Agent, machine: number, state: number, fresh: boolean): void {
  const { firstCounter, groups } = run.plan.kinds[agent.kind]!.machines[machine]!;
  const old = agent.states[machine]!;
  if (fresh || isThere(agent)) {
    if (!fresh) run.context.left[firstCounter + old]!++;
    run.context.entered[firstCounter + state]!++;
    for (const { members, counter } of groups) {
      const wasIn = !fresh && members.includes(old);
      if (wasIn && !members.includes(state)) run.context.left[counter]!++;
      if (!wasIn && members.includes(state)) run.context.entered[counter]!++;
    }
  }
  agent.states[machine] = state;
}

export function leave(run: ReferenceRun, agent: Agent): void {
  agent.life = 'gone';
  run.plan.kinds[agent.kind]!.machines.forEach(({ firstCounter, groups }, m) => {
    run.context.left[firstCounter + agent.states[m]!]!++;
    for (const { members, counter } of groups) if (members.includes(agent.states[m]!)) run.context.left[counter]!++;
  });
  run.networks = run.networks.map((ties) =>
    ties.filter((tie) => {
      if (tie.a === agent || tie.b === agent) tie.there = false;
      return tie.there;
    }),
  );
}

function createAgent(run: ReferenceRun, s: Of<'create'>, frame: Frame): Signal {
  const { plan, context } = run;
  const kind = plan.kinds[s.kind]!;
  const space = run.spaceOf(s.kind);
  const at = (e: P.Expr | undefined): number => {
    if (!e) return 0;
    const v = numberOf(run, e, frame);
    return Number.isNaN(v) && kind.mayBeNowhere ? NaN : run.finite(v, s.site, frame);
  };
  const [px, py] = [at(s.x), at(s.y)];
  const [x, y] = !s.x || Number.isNaN(px) ? [px, py] : placeIn(px, py, space!);
  if (
    s.x &&
    !s.always &&
    !Number.isNaN(x) &&
    (isBlocked(run, kind.space, x, y) || (space?.oneAgentACell && isTaken(run, kind.space, x, y)))
  ) {
    context.refused++;
    return 'on';
  }
  const total = run.kinds.reduce((sum, agents) => sum + agents.filter((agent) => agent.life !== 'gone').length, 0);
  if (total >= context.ceiling) failCeiling(plan.sites[s.site]!, context);
  const agent: Agent = {
    number: run.nextNumbers[s.kind]!++,
    kind: s.kind,
    life: frame.atOnce ? 'unborn' : 'there',
    x,
    y,
    direction: 0,
    attributes: kind.columns.map(() => 0),
    states: kind.machines.map(() => 0),
    due: new Array<number>(kind.dueCount).fill(0),
    before: undefined,
  };
  run.kinds[s.kind]!.push(agent);
  frame.locals[s.local] = agent;
  return run.execute(s.found, frame);
}

export function runBody(run: ReferenceRun, body: P.Body, stream: RandomStream, actor?: Agent, atOnce?: AtOnce): void {
  run.execute(body.statements, { locals: actor ? [actor] : [], stream, actor, atOnce, cell: -1, mail: -1 });
}
