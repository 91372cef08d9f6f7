import type { RuleKernel } from '../kernel/rule-kernel.ts';
import type * as P from '../plan/plan.ts';
import { columnNames } from './column-names.ts';
import { emitEntry } from './emit-entries.ts';
import { emitField, emitFieldConstants } from './emit-fields.ts';
import {
  emitActFunction,
  emitAgentValue,
  emitChanges,
  emitReaction,
  emitShows,
  emitValueFunction,
} from './emit-functions.ts';
import { agentBodyOf, emitNetwork, emitStarts } from './emit-starts.ts';
import { PlanWriter } from './plan-writer.ts';
import { SourceWriter } from '../source-writer.ts';

/** Names of the engine's functions that generated code may call; nothing else is in its reach. */
const ENGINE_FUNCTIONS = [
  'mix',
  'ruleKey0',
  'ruleKey1',
  'agentKey0',
  'agentKey1',
  'exp',
  'log',
  'power',
  'sinDegrees',
  'cosDegrees',
  'tanDegrees',
  'heading',
  'swing',
  'turnTo',
  'chanceOfRate',
  'directionOf',
  'mod',
  'clip',
  'roundHalfUp',
  'drawUnit',
  'drawUniform',
  'drawNormal',
  'drawLognormal',
  'drawExponential',
  'drawGamma',
  'drawBeta',
  'drawWeibull',
  'drawTriangular',
  'drawPoisson',
  'drawBinomial',
  'drawWhole',
  'wrap',
  'stopAtWall',
  'reflect',
  'gridCell',
  'directionAfter',
  'distanceBetween',
  'bearingBetween',
  'squareBetween',
  'wayAlong',
  'hexAlong',
  'onLane',
  'laneAt',
  'wayLength',
  'isInReach',
  'isInMask',
  'shareBefore',
  'drawInMask',
  'cellAt',
  'cellX',
  'cellY',
  'cellsInto',
  'gather',
  'gatherField',
  'gatherTally',
  'recentOf',
  'dueAfter',
  'addToList',
  'least',
  'greatest',
  'sortSlots',
] as const;

/**
 * The source of a function `(W, S, E) => parts` that binds the plan's rules to a state: `W` the context, `S` the populations and fields,
 * `E` the engine's functions. It is called again whenever a population's arrays were replaced, so columns are constants inside.
 *
 * Names in the source, numbers standing for those of the plan: `k0` a population, `k0_alive`, `k0_num`, `k0_x`, `k0_dir` its columns,
 * `k0_a2` an attribute, `k0_b...` a column as it was before a rule that acts all at once; `g1_v` the values of a field, `net0` a network,
 * `K0` how many of a kind stand on each cell, `K0_1_2or3` how many of it in some states of a machine; `SP0` a space, `GR0` the same with its cells, `OCC0` who stands where; `L0` a local of the plan (in a rule the slot of who acts), `s0`
 * and `s1` the key of its luck, `w1` and `w2` two words of it, `p` and `t` values for a moment; `e0` an entry of the order, `turn:` what
 * one agent does in it.
 */
/** @param turnKernels of each line of the order, the kernel that its turns are */
export function emitPlan(plan: P.Plan, traces = false, turnKernels: readonly (RuleKernel | undefined)[] = []): string {
  return emitSource(new PlanWriter(plan, traces, turnKernels));
}

function emitSource(script: PlanWriter): string {
  const { w, plan } = script;
  const head = new SourceWriter();
  head.line('"use strict";');
  head.line(`const { ${ENGINE_FUNCTIONS.join(', ')} } = E;`);
  head.line(
    'const P = W.parameters, lists = S.lists, writes = S.log, CL = S.cellList, TL = S.tallies, TB = S.tables, MAIL = S.mail;',
  );
  head.line(
    'const F = S.fail, FC = S.failCount, FL = S.failCeiling, FR = S.failRounds, FN = S.failNobody, FW = S.failNoWay, FA = S.failAboard, removeAt = S.removeAt, turns = S.turns, total = S.total;',
  );
  head.line('const WE = W.entered, WL = W.left, IN = S.inState;');
  if (script.shared.traces) head.line('const TR = S.trace;');
  plan.spaces.forEach(({ edge }, s) => {
    head.line(
      `const GR${s} = S.grounds[${s}], SP${s} = GR${s} && GR${s}.space, RS${s} = GR${s} && GR${s}.raster, DISCS${s} = GR${s} && GR${s}.discs, OCC${s} = S.occupied[${s}];`,
    );
    head.line(
      `const SW${s} = GR${s} ? SP${s}.width : 0, SH${s} = GR${s} ? SP${s}.height : 0, WRAPS${s} = ${edge === 'wrapping'};`,
    );
  });
  head.line('function fin(v, site, kind, slot) { if (v - v === 0) return v; return F(site, v, kind, slot); }');
  head.line('function finOrEmpty(v, site, kind, slot) { return v !== v ? v : fin(v, site, kind, slot); }');
  plan.kinds.forEach((kind, k) => {
    w.line(`const k${k} = S.populations[${k}];`);
    w.line(
      `const ${columnNames(kind, k)
        .map(([name, source]) => `${name} = ${source}`)
        .join(', ')};`,
    );
  });
  plan.networks.forEach((_, n) => w.line(`const net${n} = S.networks[${n}];`));
  plan.fields.forEach((_, g) => emitFieldConstants(script, g));
  plan.asked.forEach((body) => emitValueFunction(script, `v${body.id}`, body));
  plan.fields.forEach((field, g) => emitField(script, field, g));
  plan.kinds.forEach((kind, k) => emitStarts(script, kind, k));
  plan.networks.forEach((network, n) => emitNetwork(script, network, n));
  plan.schedule.forEach((entry, i) => emitEntry(script, entry, i));
  plan.timeline.forEach((line, i) => emitActFunction(script, `tl${i}`, line));
  plan.kinds.forEach((kind, k) => emitChanges(script, kind, k));
  plan.reactions.forEach((reaction, i) => emitReaction(script, reaction, i));
  plan.records.forEach((record, i) => {
    record.values?.forEach((body, c) => emitAgentValue(script, `rc${i}_${c}`, body, record.kind));
    if (record.when) emitAgentValue(script, `rw${i}`, record.when, record.kind);
  });
  plan.charts.forEach(
    ({ distribution }, i) => distribution && emitAgentValue(script, `ds${i}`, distribution.value, distribution.kind),
  );
  plan.kinds.forEach((kind, k) => emitShows(script, kind, k));
  emitResults(script);
  for (const [name, { kind, asked }] of script.classes)
    head.line(
      `const ${name} = S.cellCounts("${name}", ${kind}, ${asked ? `${asked.machine}, [${asked.states.join(', ')}]` : '-1, []'});`,
    );
  if (script.lasting.length > 0) head.line(`let ${script.lasting.map((first, i) => `V${i} = ${first}`).join(', ')};`);
  return `${head.toString()}\n${w.toString()}`;
}

function emitResults(script: PlanWriter): void {
  const { w, plan } = script;
  const names = (prefix: string, count: number): string =>
    `[${Array.from({ length: count }, (_, i) => `${prefix}${i}`).join(', ')}]`;
  w.block('return', () => {
    w.line(`values: ${names('v', plan.asked.length)},`);
    w.line(`fieldStarts: [${plan.fields.map((field, g) => (field.start ? `gs${g}` : 'null')).join(', ')}],`);
    w.line(`fieldGrows: [${plan.fields.map((field, g) => (field.grow ? `gg${g}` : 'null')).join(', ')}],`);
    w.line(`fieldKeeps: [${plan.fields.map((field, g) => (field.kept ? `gk${g}` : 'null')).join(', ')}],`);
    w.line(`fieldBecomes: [${plan.fields.map((field, g) => (field.becomes ? `gb${g}` : 'null')).join(', ')}],`);
    w.line(
      `cellLists: [${plan.kinds.map((kind, k) => `[${kind.starts.map((start, i) => (start.cells?.where ? `cl${k}_${i}` : 'null')).join(', ')}]`).join(', ')}],`,
    );
    w.line(
      `changes: [${plan.kinds.map((kind, k) => `[${kind.machines.map((_, m) => `ch${k}_${m}`).join(', ')}]`).join(', ')}],`,
    );
    w.line(`reactions: ${names('re', plan.reactions.length)},`);
    w.line(`tieFirsts: [${plan.networks.map((network, n) => names(`nf${n}_`, network.firsts.length)).join(', ')}],`);
    w.line(`tieAgents: [${plan.networks.map((network, n) => (agentBodyOf(network) ? `nb${n}` : 'null')).join(', ')}],`);
    w.line(
      `distributions: [${plan.charts.map(({ distribution }, i) => (distribution ? `ds${i}` : 'null')).join(', ')}],`,
    );
    w.line(`recordWhens: [${plan.records.map((record, i) => (record.when ? `rw${i}` : 'null')).join(', ')}],`);
    w.line(
      `records: [${plan.records.map((record, i) => (record.values ? names(`rc${i}_`, record.values.length) : 'null')).join(', ')}],`,
    );
    w.line(
      `starts: [${plan.kinds.map((kind, k) => `[${kind.starts.map((_, i) => `st${k}_${i}`).join(', ')}]`).join(', ')}],`,
    );
    w.line(
      `exacts: [${plan.kinds.map((kind, k) => `[${kind.machines.map((machine, m) => `[${machine.exact.map((_, i) => `ex${k}_${m}_${i}`).join(', ')}]`).join(', ')}]`).join(', ')}],`,
    );
    w.line(`entries: [${plan.schedule.map((entry, i) => (entry.is === 'fields' ? 'null' : `e${i}`)).join(', ')}],`);
    w.line(`acts: ${names('tl', plan.timeline.length)},`);
    w.line(`sizes: [${plan.kinds.map((kind, k) => (kind.show?.size ? `sz${k}` : 'null')).join(', ')}],`);
    w.line(`colours: [${plan.kinds.map((kind, k) => (kind.show?.colourBy ? `co${k}` : 'null')).join(', ')}],`);
  });
}
