import { expect } from 'vitest';
import { compilePlan, Run } from '../src/index.ts';
import { firstDifference, planOf, usualValues } from './models.ts';

/** A model in which voles do something in their turns, on some space. */
export function modelOf(space: string, behaviour: string, order = 'do in turn'): string {
  return `model Turns
clock
  step 1 minute
  end after 12 steps
${behaviour.includes('rate') ? 'parameter rate = 0.3' : ''}
${behaviour.includes('heat') ? 'variable heat = 0.25' : ''}
space Bank: ${space}
field scent on Bank${space.startsWith('plane') ? ', cells of 1' : ''}
  start uniform(0, 1)
  keep 0 to 3
${behaviour.includes('Patch') ? 'zone Patch on Bank\n  box (2, 2) to (9, 6)\n  circle 2 around (4, 5)' : ''}
agent Owl
  start 7 anywhere
agent Vole
  start 40 anywhere
  has food = uniform(0, 4)
  has hunger = 1
  states mood
    start 10 of Wild, rest Calm
    Calm
    Wild
      after uniform(1, 3) * 1 minute: Tired
    Tired
      chance 0.4: Calm
  behaviour do
${behaviour
  .split('\n')
  .map((line) => `    ${line}`)
  .join('\n')}
${behaviour.includes('Bonds') ? 'network Bonds ties Vole to Vole: ring, 4 neighbours' : ''}
order
  ${order}
  mood all at once
measure fed = sum of it.food over Vole
measure wild = count Vole where it.mood is Wild
`;
}

/** Whether the turns of the first line of the order are a kernel. */
export function isKernel(text: string): boolean {
  return compilePlan(planOf(text)).source.includes('S.turnsByKernel(0,');
}

/** Beside the interpreter, and what else a seed chooses. */
export function expectSameKernel(text: string, seed: number): void {
  expect([text, isKernel(text)]).toEqual([text, true]);
  const executable = compilePlan(planOf(text)).executable();
  new Run(executable, usualValues(planOf(text)), seed).next();
  expect([text, executable.kernelEngine, executable.linesByKernel.has(0)]).toEqual([text, 'WebAssembly', true]);
  expect([text, firstDifference(planOf(text), seed, 6)]).toEqual([text, -1]);
}
