import { measuredCell } from '../forms/lengths.ts';
import { RandomStream, below } from '../engine/random/stream.ts';
import type * as P from '../plan/plan.ts';
import { deliveryKey } from '../plan/values.ts';
import { runAtOnce } from './at-once.ts';
import { changeFields } from './field-change.ts';
import { isThere } from './reference-run.ts';
import type { ReferenceRun } from './reference-run.ts';
import { ofAgent } from './start.ts';
import { isRecordedNow, runBody } from './statements.ts';
import { bodyValue } from './values.ts';

export function runEntry(run: ReferenceRun, entry: P.ScheduleEntry): void {
  if (entry.is === 'fields') changeFields(run, entry.fields);
  else if (entry.is === 'surroundings') {
    const rule = run.plan.rules[entry.rule]!;
    if (!rule.every || run.context.isMultipleNow(bodyValue(run, rule.every)))
      runBody(run, rule.body, RandomStream.of(run.context.seed, run.context.step, rule.key));
  } else runRules(run, entry);
  clearGone(run);
}

function clearGone(run: ReferenceRun): void {
  run.kinds = run.kinds.map((agents) => agents.filter((agent) => agent.life !== 'gone'));
}

function runRules(run: ReferenceRun, entry: Extract<P.ScheduleEntry, { is: 'rules' }>): void {
  const rules = entry.rules
    .map((index) => run.plan.rules[index]!)
    .filter((rule) => !rule.every || run.context.isMultipleNow(bodyValue(run, rule.every)));
  if (entry.mode === 'all at once') for (const rule of rules) runAtOnce(run, rule);
  else runTurns(run, entry, rules);
}

function runTurns(
  run: ReferenceRun,
  entry: Extract<P.ScheduleEntry, { is: 'rules' }>,
  rules: readonly P.RulePlan[],
): void {
  const kinds = [...new Set(rules.map((rule) => rule.kind))];
  const turns = kinds.flatMap((kind) => run.kinds[kind]!.filter(isThere));
  if (entry.mode === 'in turn') {
    const luck = RandomStream.of(run.context.seed, run.context.step, entry.key);
    for (let i = turns.length - 1; i > 0; i--) {
      const j = below(luck.word(), i + 1);
      [turns[i], turns[j]] = [turns[j]!, turns[i]!];
    }
  }
  for (const agent of turns) {
    for (const rule of rules) {
      if (rule.kind !== agent.kind || !isThere(agent)) continue;
      runBody(run, rule.body, RandomStream.of(run.context.seed, run.context.step, rule.key, agent.number), agent);
    }
  }
}

// Messages, tallies, records

export function beginStep(run: ReferenceRun): void {
  for (const tally of run.tallies) tally.beginStep();
}

export function deliverMessages(run: ReferenceRun, round: number): void {
  const { context, plan, mail } = run;
  mail.round(context.seed, context.step, round, context.end, context.stepLength * 1e-9, round === 0, (row, ordinal) => {
    const kind = mail.kind[row]!;
    const receiver = run.kinds[kind]!.find((agent) => agent.number === mail.receiver[row] && isThere(agent));
    const reaction = plan.reactions.find((r) => r.kind === kind && r.message === mail.message[row]);
    if (!receiver || !reaction) return;
    const stream = RandomStream.of(
      context.seed,
      context.step,
      deliveryKey(reaction.key, round, ordinal),
      receiver.number,
    );
    run.execute(reaction.body.statements, {
      locals: [receiver],
      stream,
      actor: receiver,
      atOnce: undefined,
      cell: -1,
      mail: row,
    });
  });
  clearGone(run);
}

function recordField(run: ReferenceRun, data: number[], field: number): void {
  const { space } = run.groundOf(field);
  const raster = run.fields[field]!;
  raster.values.forEach((value, cell) => {
    const { x, y } = measuredCell(cell, raster, space);
    data.push(run.context.step, x, y, value);
  });
}

export function recordRows(run: ReferenceRun): void {
  run.plan.records.forEach((record, i) => {
    if (!isRecordedNow(run, i)) return;
    if (record.field !== undefined) recordField(run, run.kept[i]!.data, record.field);
    if (record.kind < 0) return;
    for (const agent of run.kinds[record.kind]!.filter(isThere)) {
      if (record.when && ofAgent(run, record.when, agent) === 0) continue;
      run.kept[i]!.data.push(
        run.context.step,
        agent.number,
        ...record.values!.map((body) => ofAgent(run, body, agent)),
      );
    }
  });
}
