import type { Expr } from '../language/syntax.ts';
import type { AgentClass } from './classes.ts';
import type { MeanField, Stages } from './derive.ts';
import type { Slopes } from './integrate.ts';
import { integrate } from './integrate.ts';
import type { Moment, Term } from './terms.ts';
import { NO_ROLES, NotDerived, TermReader } from './terms.ts';

/** The course of a well-mixed limit, row by row as a run keeps them. */
export interface MeanFieldCourse {
  /** Rows one after another, measures within; empty where a measure has no limit. Row i is of step i * every. */
  readonly rows: Float64Array;
  readonly steps: number;
  readonly every: number;
  /** Why a run with these values may differ from it. */
  readonly reasons: readonly string[];
}

/** Relative, and of one agent in a million. */
const TOLERANCE = 1e-8;
const MOST_STAGES = 100;
/** Shares of a step from which on it is long, and numbers of agents below which luck counts. */
const LONG_STEP = 0.1;
const FEW_AGENTS = 500;

/** A class in one combination of stages. */
interface Compartment {
  readonly agents: AgentClass;
  /** Of each machine the stage, from 0 on. */
  readonly stages: readonly number[];
}

/** Compartments with what is the same at any time for given parameters. */
class Compartments {
  readonly all: readonly Compartment[];
  readonly ofClass: readonly (readonly number[])[];
  private readonly places = new Map<string, number>();

  constructor(limit: MeanField, moment: Moment) {
    const all: Compartment[] = [];
    this.ofClass = limit.classes.all.map((agents) => {
      const counts = agents.states.map((state, machine) => {
        const stages = stagesOf(limit, agents, machine, state);
        return stages ? stageCount(stages, moment) : 1;
      });
      const combined = counts.reduce<number[][]>(
        (found, count) => found.flatMap((stages) => Array.from({ length: count }, (_, i) => [...stages, i])),
        [[]],
      );
      return combined.map((stages) => {
        this.places.set(keyOf(agents, stages), all.length);
        all.push({ agents, stages });
        return all.length - 1;
      });
    });
    this.all = all;
  }

  /** Where agents of a compartment are once they are of another class: what has not changed keeps its stage. */
  moved({ agents, stages }: Compartment, to: AgentClass): number {
    return this.at(
      to,
      to.states.map((state, machine) =>
        agents.kind === to.kind && state === agents.states[machine] ? stages[machine]! : 0,
      ),
    );
  }

  at(agents: AgentClass, stages: readonly number[]): number {
    return this.places.get(keyOf(agents, stages))!;
  }

  /** Where those who have just come into a class are. */
  first(agents: AgentClass): number {
    return this.at(
      agents,
      agents.states.map(() => 0),
    );
  }
}

function keyOf(agents: AgentClass, stages: readonly number[]): string {
  return `${agents.index}:${stages.join(',')}`;
}

function stagesOf({ stages }: MeanField, { kind }: AgentClass, machine: number, state: number): Stages | undefined {
  return stages.find((each) => each.kind === kind && each.machine.index === machine && each.state === state);
}

/** @throws NotDerived where a shape is not whole */
function stageCount({ count, transition }: Stages, moment: Moment): number {
  const value = count.at(moment);
  if (Number.isInteger(value) && value >= 1 && value <= MOST_STAGES) return value;
  throw new NotDerived(
    transition.span,
    `A gamma duration has equations if its shape is a whole number up to ${MOST_STAGES}, not ${Number(value.toPrecision(6))}.`,
  );
}

/**
 * The limit for given values of the parameters, in base units, in the order of the text.
 * @throws NotDerived if these values have no limit
 * @throws RangeError if it cannot be followed
 */
export function meanFieldCourse(
  limit: MeanField,
  parameters: readonly number[],
  steps: number,
  every: number,
): MeanFieldCourse {
  const { model, classes } = limit;
  const { stepLength } = model.clock;
  const measures = model.measures.map(({ part }) => measureOf(limit, part.value));
  const values = Float64Array.from(parameters);
  const counts = new Float64Array(classes.all.length);
  const moment: Moment = { parameters: values, counts };
  const compartments = new Compartments(limit, moment);
  const slopes = slopesOf(limit, compartments, moment, counts);
  const changes = overrideSteps(limit, moment, steps);
  const kept = Math.floor(steps / every) + 1;
  const rows = new Float64Array(kept * measures.length).fill(NaN);
  let state = startOf(limit, compartments, moment);
  const atFirst = state.reduce((sum, x) => sum + x, 0);
  const scale = Math.max(1, atFirst) / 1e6;
  const keep = (row: number): void => {
    total(compartments, state, counts);
    measures.forEach((measure, i) => {
      if (measure) rows[row * measures.length + i] = measure.at(moment);
    });
  };
  let longest = 0;
  for (let step = 0; step <= steps; step++) {
    if (changes.has(step)) layOverrides(limit, parameters, values, step);
    if (step % every === 0) keep(step / every);
    total(compartments, state, counts);
    longest = Math.max(longest, fastest(limit, moment) * stepLength);
    if (step < steps)
      state = integrate(slopes, state, step * stepLength, (step + 1) * stepLength, { tolerance: TOLERANCE, scale });
  }
  return {
    rows,
    steps,
    every,
    reasons: [...limit.reasons, ...reasonsOf(longest, atFirst)],
  };
}

/** A measure as a number of the limit; nothing where it reads what has none. */
function measureOf({ model, classes, written }: MeanField, value: Expr): Term | undefined {
  const reader = new TermReader(model, classes);
  try {
    const term = reader.term(value, NO_ROLES);
    return [...reader.read].some((symbol) => written.has(symbol)) ? undefined : term;
  } catch (error) {
    if (error instanceof NotDerived) return undefined;
    throw error;
  }
}

function reasonsOf(longest: number, agents: number): string[] {
  return [
    ...(longest > LONG_STEP
      ? [
          `In one step up to ${Number((100 * Math.min(1, longest)).toPrecision(2))} % of the agents of a state would change; the equations are those of much shorter steps.`,
        ]
      : []),
    ...(agents < FEW_AGENTS
      ? [
          `There are ${Math.round(agents)} agents at first; the equations are those of very many, where luck averages out.`,
        ]
      : []),
  ];
}

/** The greatest rate at which agents of a class leave it. */
function fastest({ flows, classes, stages }: MeanField, moment: Moment): number {
  const leaving = new Float64Array(classes.all.length);
  for (const flow of flows)
    for (const { from } of flow.moves) {
      const own = moment.counts[from.index]!;
      if (own > 0) leaving[from.index]! += flowOf(flow, classes, moment) / own;
    }
  return Math.max(0, ...leaving, ...stages.map(({ rate, count }) => rate.at(moment) / count.at(moment)));
}

function total({ ofClass }: Compartments, state: Float64Array, counts: Float64Array): void {
  ofClass.forEach((places, i) => {
    counts[i] = places.reduce((sum, place) => sum + state[place]!, 0);
  });
}

/** How many times a unit of time a flow comes about. */
function flowOf(
  { per, rate, among }: MeanField['flows'][number],
  classes: MeanField['classes'],
  moment: Moment,
): number {
  const product = per.reduce((so, { index }) => so * moment.counts[index]!, 1);
  if (product === 0) return 0;
  const all = among ? classes.of(among).reduce((sum, { index }) => sum + moment.counts[index]!, 0) : 1;
  const own = rate.at(moment);
  // Below 0 nothing happens, as in a run.
  return own < 0 ? 0 : (own * product) / all;
}

/** Agents of a flow or of stages that move from one compartment to another, or go where there is none. */
interface Move {
  readonly from: number;
  readonly to: number | undefined;
}

/** The slopes of all compartments; where agents move is looked up once. */
function slopesOf(limit: MeanField, compartments: Compartments, moment: Moment, counts: Float64Array): Slopes {
  const { all, ofClass } = compartments;
  const flows = limit.flows.map((flow) => ({
    flow,
    moves: flow.moves.map(({ from, to }) => ({
      of: from.index,
      places: ofClass[from.index]!.map((place): Move => ({
        from: place,
        to: to && compartments.moved(all[place]!, to),
      })),
    })),
    born: flow.born.map(({ agents, count }) => ({ to: compartments.first(agents), count })),
  }));
  const stages = limit.stages.map((each) => ({ ...each, ...stageMoves(limit, each, compartments) }));
  return (_time, state, into) => {
    into.fill(0);
    total(compartments, state, counts);
    for (const { flow, moves, born } of flows) {
      const amount = flowOf(flow, limit.classes, moment);
      if (amount === 0) continue;
      for (const { of, places } of moves)
        for (const { from, to } of places) {
          const share = (amount * state[from]!) / counts[of]!;
          into[from]! -= share;
          if (to !== undefined) into[to]! += share;
        }
      for (const { to, count } of born) into[to]! += amount * count.at(moment);
    }
    for (const { rate, onwards, out, to } of stages) {
      const own = rate.at(moment);
      const shares = to.map(({ share }) => share.at(moment));
      for (const move of onwards) {
        into[move.from]! -= own * state[move.from]!;
        into[move.to!]! += own * state[move.from]!;
      }
      for (const { from, targets } of out) {
        into[from]! -= own * state[from]!;
        targets.forEach((target, i) => (into[target]! += own * state[from]! * shares[i]!));
      }
    }
  };
}

/** From stage to stage, and out of the last one. */
function stageMoves(
  { classes }: MeanField,
  { machine, kind, state: of, to }: Stages,
  compartments: Compartments,
): { readonly onwards: readonly Move[]; readonly out: readonly { from: number; targets: readonly number[] }[] } {
  const onwards: Move[] = [];
  const out: { from: number; targets: readonly number[] }[] = [];
  for (const agents of classes.of(kind)) {
    if (agents.states[machine.index] !== of) continue;
    for (const from of compartments.ofClass[agents.index]!) {
      const own = compartments.all[from]!;
      const next = compartments.at(
        agents,
        own.stages.map((stage, i) => (i === machine.index ? stage + 1 : stage)),
      ) as number | undefined;
      if (next !== undefined) onwards.push({ from, to: next });
      else
        out.push({
          from,
          targets: to.map(({ state }) => compartments.moved(own, classes.moved(agents, machine, state))),
        });
    }
  }
  return { onwards, out };
}

/** How many agents there are in each compartment at first: exact numbers of each machine, the rest by shares. */
function startOf({ starts, classes }: MeanField, compartments: Compartments, moment: Moment): Float64Array {
  const state = new Float64Array(compartments.all.length);
  for (const { kind, count, exact, beginnings } of starts) {
    const agents = Math.max(0, count.at(moment));
    let shares = beginnings.map(({ agents: begun, share }) => ({ begun, share: share.at(moment) }));
    for (const machine of kind.machines) {
      const told = exact.filter((each) => each.machine === machine);
      const wanted = told.map(({ state: to, count: of }) => ({ to, share: agents > 0 ? of.at(moment) / agents : 0 }));
      const rest = Math.max(0, 1 - wanted.reduce((sum, { share }) => sum + share, 0));
      shares = shares.flatMap(({ begun, share }) => [
        { begun, share: share * rest },
        ...wanted.map(({ to, share: own }) => ({ begun: classes.moved(begun, machine, to), share: share * own })),
      ]);
    }
    for (const { begun, share } of shares) state[compartments.first(begun)]! += agents * share;
  }
  return state;
}

/** A step from which on a parameter has another value, up to one from which on it has not. */
function overrideSpans({ overrides, model }: MeanField, moment: Moment): { from: number; to: number }[] {
  const stepOf = (time: number): number => Math.floor(time / model.clock.stepLength + 1e-9);
  return overrides.map(({ from, to }) => ({
    from: stepOf(from.at(moment)),
    to: to ? stepOf(to.at(moment)) : Infinity,
  }));
}

function overrideSteps(limit: MeanField, moment: Moment, steps: number): Set<number> {
  return new Set(overrideSpans(limit, moment).flatMap(({ from, to }) => [from, to].filter((step) => step <= steps)));
}

/** Lays the values over that are in force at a step; the latest begun lies on top. */
function layOverrides(limit: MeanField, usual: readonly number[], values: Float64Array, step: number): void {
  values.set(usual);
  const before: Moment = { parameters: Float64Array.from(usual), counts: new Float64Array(limit.classes.all.length) };
  overrideSpans(limit, before)
    .map((span, i) => ({ ...span, override: limit.overrides[i]! }))
    .filter(({ from, to }) => from <= step && step < to)
    // What is set for good lies beneath what holds for a time.
    .sort((a, b) => Number(a.to < Infinity) - Number(b.to < Infinity) || a.from - b.from)
    .forEach(({ override: { parameter, value } }) => (values[parameter.index] = value.at(before)));
}
