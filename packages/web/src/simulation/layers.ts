import type { Plan, Theme } from '@vole/core';
import { classColour, looksOf } from '@vole/core';

/** What the ribbon of a run is made of: counts that lie on one another, in the colours that their agents have in the picture. */

export interface Layer {
  readonly name: string;
  readonly kind: number;
  readonly machine: number | undefined;
  readonly state: number;
}

/** Layers of the ribbon: the states of the first machine that a show colours by, else the kinds. */
export function layersOf(plan: Plan): Layer[] {
  for (const [kind, { show, machines }] of plan.kinds.entries()) {
    const by = show?.colourBy?.value;
    if (by?.op === 'state' && by.kind === kind) {
      return machines[by.machine]!.states.map((name, state) => ({ name, kind, machine: by.machine, state }));
    }
  }
  return plan.kinds.map((kind, index) => ({ name: kind.name, kind: index, machine: undefined, state: 0 }));
}

export function layerColours(plan: Plan, theme: Theme): string[] {
  const looks = looksOf(plan, theme);
  return layersOf(plan).map(({ kind, machine, state }) => looks[kind]!.colours[machine === undefined ? 0 : state]!);
}

/** The colours of the states of a machine: those of the picture, if its kind is coloured by them there. */
export function stateColours(plan: Plan, kind: number, machine: number, theme: Theme): string[] {
  const { show, machines } = plan.kinds[kind]!;
  const by = show?.colourBy?.value;
  if (by?.op === 'state' && by.kind === kind && by.machine === machine)
    return looksOf(plan, theme)[kind]!.colours.slice();
  return machines[machine]!.states.map((_, state) => classColour(state, theme));
}
