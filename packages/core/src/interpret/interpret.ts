import { RandomStream } from '../engine/random/stream.ts';
import type { Executable, StateView } from '../engine/executable.ts';
import { failAt } from '../plan/failures.ts';
import type * as P from '../plan/plan.ts';
import { askWhen } from '../plan/values.ts';
import type { Tie } from './reference-run.ts';
import { isThere, ReferenceRun } from './reference-run.ts';
import { beginStep, deliverMessages, recordRows, runEntry } from './schedule.ts';
import { startRun } from './start.ts';
import { executeAll, runBody } from './statements.ts';
import { bodyValue } from './values.ts';

/**
 * The reference: runs a plan by walking over it, with agents as objects and every query asking everybody. Slow and plain; generated
 * code must give the same bits (test/differential.test.ts).
 */
export function interpretPlan(plan: P.Plan): Executable {
  const run = new ReferenceRun(plan, executeAll);
  const ask = (body: P.ValueBody) => (): number => bodyValue(run, body);
  return {
    context: run.context,
    entries: plan.schedule.map((entry) => () => runEntry(run, entry)),
    timeline: plan.timeline.map((line) => ({
      when: askWhen(line.when, ask),
      overrides: line.overrides.map(({ parameter, value }) => ({ parameter, value: ask(value) })),
      act: () => runBody(run, line.body, RandomStream.of(run.context.seed, run.context.step, line.key)),
    })),
    measures: plan.measures.map((measure) => ask(measure.body)),
    measureOrder: plan.measureOrder,
    endAfter: ask(plan.clock.endAfter),
    endWhen: plan.clock.endWhen.map(ask),
    inputs: plan.inputs,
    finals: plan.finals.map(ask),
    get recording() {
      return run.recording;
    },
    set recording(wanted) {
      run.recording = wanted;
    },
    start: () => startRun(run),
    beginStep: () => beginStep(run),
    deliver: (round) => deliverMessages(run, round),
    record: () => recordRows(run),
    get records() {
      return run.kept;
    },
    living: (kind) => run.kinds[kind]!.filter(isThere).length,
    snapshot: noSnapshot,
    restore: noSnapshot,
    view: () => viewOf(run),
  };

  function noSnapshot(): never {
    return failAt(
      { span: { start: 0, end: 0 }, rule: 'snapshot', what: 'a snapshot of the reference' },
      run.context,
      undefined,
      NaN,
    );
  }
}

function viewOf(run: ReferenceRun): StateView {
  const ties = (index: number): Tie[] => run.tiesOf(index);
  return {
    populations: run.kinds.map((agents, kind) => ({
      numbers: agents.map((agent) => agent.number),
      x: agents.map((agent) => agent.x),
      y: agents.map((agent) => agent.y),
      direction: agents.map((agent) => agent.direction),
      attributes: run.plan.kinds[kind]!.columns.map((_, i) => agents.map((agent) => agent.attributes[i]!)),
      states: run.plan.kinds[kind]!.machines.map((_, i) => agents.map((agent) => agent.states[i]!)),
      due: Array.from({ length: run.plan.kinds[kind]!.dueCount }, (_, i) => agents.map((agent) => agent.due[i]!)),
    })),
    fields: run.fields.map((field) => [...field.values]),
    networks: run.plan.networks.map((network, n) => ({
      a: ties(n).map((tie) => tie.a.number),
      b: ties(n).map((tie) => tie.b.number),
      values: network.firsts.map((_, column) => ties(n).map((tie) => tie.values[column]!)),
    })),
    tallies: run.tallies.map((tally) => [...tally.values.subarray(0, tally.count)]),
    mail: run.mail.view(),
  };
}
