import type { AgentClass } from './classes.ts';
import type { Flow, MeanField, Stages } from './derive.ts';
import type { Formula } from './formula.ts';
import { fractionOf, productOf } from './formula.ts';

/** How fast a number of agents changes: its slope over time, as a sum. */
export interface Equation {
  readonly of: Formula;
  readonly terms: readonly { readonly isLess: boolean; readonly of: Formula }[];
  /** For which stages it holds, of an equation that is the same for several. */
  readonly stages?: { readonly from: number; readonly to: Formula };
}

/** The equations of a limit, and what their letters stand for. */
export interface Equations {
  readonly equations: readonly Equation[];
  readonly legend: readonly string[];
}

const STAGE = 'i';

/** Sets the equations of a limit in the order of its classes. */
export function equationsOf(limit: MeanField): Equations {
  const equations = limit.classes.all.flatMap((agents) => classEquations(limit, agents));
  const told = equations.filter(({ terms }) => terms.length > 0);
  const whole = [...new Set(limit.flows.flatMap(({ among }) => (among ? [among] : [])))];
  return {
    equations: told,
    legend: [
      ...whole.map((kind) => `${wholeName(limit, kind.name)} is the number of agents of ${kind.name}.`),
      ...limit.stages.map(({ machine, state }) => {
        const { name } = machine.states[state]!;
        return `The duration of ${name} is a row of stages; ${name} without a number is all of them together.`;
      }),
      ...(equations.length > told.length ? ['Numbers that do not change have no equation.'] : []),
    ],
  };
}

function wholeName({ model }: MeanField, kind: string): string {
  return model.kinds.length === 1 ? 'N' : `N of ${kind}`;
}

function classEquations(limit: MeanField, agents: AgentClass): Equation[] {
  const stages = stagesIn(limit, agents);
  const of = (stage?: string): Formula => ({ is: 'name', text: agents.name, ...(stage ? { stage } : {}) });
  if (!stages) return [{ of: of(), terms: termsOf(limit, agents, undefined, undefined) }];
  const first: Equation = { of: of('1'), terms: termsOf(limit, agents, stages, '1') };
  if (stages.count.constant === 1) return [first];
  return [
    first,
    { of: of(STAGE), terms: termsOf(limit, agents, stages, STAGE), stages: { from: 2, to: stages.count.formula } },
  ];
}

function stagesIn({ stages }: MeanField, { kind, states }: AgentClass): Stages | undefined {
  return stages.find((each) => each.kind === kind && states[each.machine.index] === each.state);
}

function termsOf(
  limit: MeanField,
  agents: AgentClass,
  stages: Stages | undefined,
  stage: string | undefined,
): Equation['terms'] {
  const name = (of: AgentClass, at?: string): Formula => ({ is: 'name', text: of.name, ...(at ? { stage: at } : {}) });
  const more: Formula[] = [];
  const less: Formula[] = [];
  for (const flow of limit.flows) {
    for (const { from, to } of flow.moves) {
      if (from === agents) less.push(amountOf(limit, flow, from, stage));
      if (to !== agents) continue;
      // Who changes in something else stays in the stage of a duration.
      const keeps = stages !== undefined && stagesIn(limit, from) === stages;
      if (keeps) more.push(amountOf(limit, flow, from, stage));
      else if (stage === undefined || stage === '1') more.push(amountOf(limit, flow, undefined, undefined));
    }
    if (stage === undefined || stage === '1')
      for (const { agents: born, count } of flow.born)
        if (born === agents) more.push(productOf([amountOf(limit, flow, undefined, undefined), count.formula]));
  }
  if (stages) {
    less.push(productOf([stages.rate.formula, name(agents, stage)]));
    if (stage === STAGE) more.push(productOf([stages.rate.formula, name(agents, `${STAGE}−1`)]));
  }
  if (stage === undefined || stage === '1')
    for (const each of limit.stages)
      for (const { state, share } of each.to)
        for (const from of limit.classes.of(each.kind))
          if (
            from.states[each.machine.index] === each.state &&
            limit.classes.moved(from, each.machine, state) === agents
          )
            more.push(productOf([share.formula, each.rate.formula, name(from, lastStage(each))]));
  return [...more.map((of) => ({ isLess: false, of })), ...less.map((of) => ({ isLess: true, of }))];
}

function lastStage({ count }: Stages): string {
  return count.constant === undefined && count.formula.is === 'name'
    ? count.formula.text
    : String(count.constant ?? 'last');
}

/** What flows in a unit of time. @param at the class that is told by a stage */
function amountOf(limit: MeanField, flow: Flow, at: AgentClass | undefined, stage: string | undefined): Formula {
  let isTold = false;
  const numbers = flow.per.map((agents): Formula => {
    const tells = agents === at && stage !== undefined && !isTold;
    if (tells) isTold = true;
    return { is: 'name', text: agents.name, ...(tells ? { stage } : {}) };
  });
  const top = productOf([flow.rate.formula, ...numbers]);
  return flow.among ? fractionOf(top, { is: 'name', text: wholeName(limit, flow.among.name) }) : top;
}
