import type { KindSymbol, OrderEntry } from './checked.ts';
import type { Environment } from './environment.ts';
import * as say from './messages.ts';
import type * as Ast from './syntax.ts';
import { partsOf } from './syntax.ts';

/** Warnings about what is not wrong but most likely not meant. */
export function reportDoubts(env: Environment, tree: Ast.SyntaxTree, order: readonly OrderEntry[]): void {
  for (const parameter of env.parameters.values()) {
    if (!env.used.has(parameter)) env.report(say.neverUsed(parameter.span, 'parameter', parameter.name));
  }
  for (const variable of env.variables.values()) {
    if (!env.used.has(variable)) env.report(say.neverUsed(variable.span, 'variable', variable.name));
  }
  for (const kind of env.kinds.values()) {
    for (const attribute of kind.attributes) {
      if (!env.used.has(attribute)) env.report(say.neverUsed(attribute.span, 'attribute', attribute.name));
    }
    for (const machine of kind.machines) unreachableStates(env, kind, machine.part);
    startOf(env, kind);
  }
  const shown = new Set(partsOf(tree, 'show').map((part) => part.name.key));
  const end = env.text.trimEnd().length;
  if (env.space) {
    for (const kind of env.kinds.values()) if (!shown.has(kind.key)) env.report(say.neverShown(kind.span, kind.name, end));
  }
  if (env.measures.size === 0 && order.length > 0) {
    const model = partsOf(tree, 'model')[0];
    if (model) env.report(say.noMeasure(model.span));
  }
}

function startOf(env: Environment, kind: KindSymbol): void {
  const { starts } = kind.part;
  if (starts.length === 0 && !env.used.has(kind.self)) env.report(say.neverStarted(kind.span, kind.name));
  if (starts.length > 0 && starts.every((start) => start.placing?.is === 'at')) env.report(say.stacked(starts[0]!.span, kind.name));
}

function unreachableStates(env: Environment, kind: KindSymbol, machine: Ast.StatesPart): void {
  const reached = new Set(machine.start.map((share) => share.state.key));
  if (reached.size === 0 && machine.states[0]) reached.add(machine.states[0].name.key);
  for (const state of machine.states) {
    for (const transition of state.transitions) for (const target of transition.targets) reached.add(target.state.key);
  }
  const symbol = kind.machines.find((m) => m.part === machine);
  if (symbol && env.setMachines.has(symbol)) return;
  for (const state of machine.states) {
    if (!reached.has(state.name.key)) env.report(say.neverReached(state.name.span, state.name.text));
  }
}
