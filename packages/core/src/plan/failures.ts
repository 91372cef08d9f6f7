import { ModelError } from '../diagnostics.ts';
import type { RunContext } from '../engine/run-context.ts';
import type { Site } from './plan.ts';

/** Stops a run at a place of the text: a value that is not finite, something of nobody, a count below zero. */
export function failAt(site: Site, context: RunContext, agent: string | undefined, value: number): never {
  const shown = Number.isNaN(value)
    ? 'not a number'
    : value === Infinity || value === -Infinity
      ? 'beyond all numbers'
      : String(value);
  throw new ModelError(
    {
      severity: 'error',
      code: 'run/not-finite',
      message: `In step ${context.step}, ${site.rule}: ${site.what} came out as ${shown}${agent ? ` for ${agent}` : ''}.`,
      span: site.span,
      hint: 'Look for a division by zero, a logarithm or root of a negative number, a mean of nobody, or growth without bound.',
    },
    { step: context.step, rule: site.rule, agent },
  );
}

/** Stops a run where somebody is needed and there is nobody. */
export function failNobody(site: Site, context: RunContext, agent: string | undefined): never {
  throw new ModelError(
    {
      severity: 'error',
      code: 'run/nobody',
      message: `In step ${context.step}, ${site.rule}: ${site.what} is nobody${agent ? ` for ${agent}` : ''}.`,
      span: site.span,
      hint: 'It may have been removed since it was looked at. Open a block with “with v = ...” and use v in it.',
    },
    { step: context.step, rule: site.rule, agent },
  );
}

/** Stops a run where an agent is to travel and no way leads to its place. */
export function failNoWay(site: Site, context: RunContext, agent: string | undefined): never {
  throw new ModelError(
    {
      severity: 'error',
      code: 'run/no-way',
      message: `In step ${context.step}, ${site.rule}: no way leads${agent ? ` ${agent}` : ''} to where it is to travel.`,
      span: site.span,
      hint: 'Lanes of one way may end in nothing, or the map has several parts. Say what to do then with “else” under the line.',
    },
    { step: context.step, rule: site.rule, agent },
  );
}

/** Stops a run where an agent that rides in a vehicle is to move by itself. */
export function failAboard(site: Site, context: RunContext, agent: string | undefined): never {
  throw new ModelError(
    {
      severity: 'error',
      code: 'run/aboard',
      message: `In step ${context.step}, ${site.rule}: ${agent ?? 'somebody'} rides in a vehicle and cannot go by itself.`,
      span: site.span,
      hint: 'Let it “alight” first, or ask before it goes: “if vehicle is nobody”.',
    },
    { step: context.step, rule: site.rule, agent },
  );
}

export function failCount(site: Site, context: RunContext, agent: string | undefined, value: number): never {
  throw new ModelError(
    {
      severity: 'error',
      code: 'run/count',
      message: `In step ${context.step}, ${site.rule}: ${value} cannot be ${site.what}.`,
      span: site.span,
      hint: 'A count is a whole number from 0 on.',
    },
    { step: context.step, rule: site.rule, agent },
  );
}

export function failShare(site: Site, context: RunContext, value: number): never {
  throw new ModelError(
    {
      severity: 'error',
      code: 'run/share',
      message: `In step ${context.step}, ${site.what}: a share of ${value} is not between 0 and 1.`,
      span: site.span,
      hint: 'What spreads or fades in a step is a share from 0 to 1; give the parameter bounds, or a rate per time.',
    },
    { step: context.step, rule: site.rule },
  );
}

/** Rounds of one loop in one turn, births and meetings among them; more would not come to an end in a useful time. */
export const MOST_ROUNDS = 20_000_000;

export function failRounds(site: Site, context: RunContext, agent: string | undefined): never {
  throw new ModelError(
    {
      severity: 'error',
      code: 'run/endless',
      message: `In ${context.step === 0 ? 'the start' : `step ${context.step}`}, ${site.rule}${agent ? `, ${agent}` : ''}: a loop went round ${MOST_ROUNDS.toLocaleString('en-GB')} times and has not come to an end (${site.what}).`,
      span: site.span,
      hint: 'Look at how large the number can get, or whether “until” can become true.',
    },
    { step: context.step, rule: site.rule, agent },
  );
}

export function failCeiling(site: Site, context: RunContext): never {
  throw new ModelError(
    {
      severity: 'error',
      code: 'run/agent-limit',
      message: `In step ${context.step}, ${site.rule}: there would be more than ${context.ceiling.toLocaleString('en-GB')} agents.`,
      span: site.span,
      hint: 'The population grows without end. Let something limit it: deaths, food, space.',
    },
    { step: context.step, rule: site.rule },
  );
}

/** Refuses a run that would not fit, before anything is allocated. */
export function failMemory(site: Site, needed: number, most: number): never {
  const megabytes = (bytes: number): string => `${Math.ceil(bytes / 1e6).toLocaleString('en-GB')} MB`;
  failSize(
    site.span,
    `This run would need about ${megabytes(needed)}; at most ${megabytes(most)} are used.`,
    'Start fewer agents, or give them fewer attributes.',
  );
}

export function failSize(span: Site['span'], message: string, hint: string): never {
  throw new ModelError({ severity: 'error', code: 'run/size', message, span, hint });
}
