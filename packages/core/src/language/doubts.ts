import { formOf } from '../forms/forms.ts';
import type { Span } from '../diagnostics.ts';
import { nearestWord } from './near-names.ts';
import type { FieldSymbol, KindSymbol, OrderEntry } from './checked.ts';
import type { Environment } from './environment.ts';
import * as say from './meaning-messages.ts';
import type * as Ast from './syntax.ts';
import { constantOf } from './scales.ts';
import { partsOf } from './syntax.ts';

/** Warnings about what is not wrong but most likely not meant. */
export function reportDoubts(env: Environment, tree: Ast.SyntaxTree, order: readonly OrderEntry[]): void {
  for (const parameter of env.parameters.values()) {
    if (!env.used.has(parameter))
      env.report(say.neverUsed(parameter.span, 'parameter', parameter.name, removable(env, parameter.span)));
  }
  for (const variable of env.variables.values()) {
    if (!env.used.has(variable))
      env.report(say.neverUsed(variable.span, 'variable', variable.name, removable(env, variable.span)));
  }
  for (const derive of env.derives.values()) {
    if (!env.used.has(derive))
      env.report(say.neverUsed(derive.span, 'derived value', derive.name, removable(env, derive.span)));
  }
  for (const part of [...env.defines.values(), ...env.routineParts.values()]) {
    if (!env.used.has(part))
      env.report(say.neverUsed(part.name.span, part.is === 'define' ? 'formula' : 'routine', part.name.text));
  }
  for (const field of env.fields.values()) if (!field.part.choices) doubtfulWords(env, field);
  for (const tally of env.tallies.values())
    if (!env.used.has(tally)) env.report(say.neverUsed(tally.span, 'tally', tally.name, removable(env, tally.span)));
  for (const network of env.networks.values())
    if (!env.used.has(network)) env.report(say.neverUsed(network.span, 'network', network.name));
  for (const message of env.messages.values())
    if (!env.heard.has(message)) env.report(say.neverHeard(message.span, message.name));
  for (const kind of env.kinds.values()) {
    for (const part of [...kind.part.defines, ...kind.part.routines]) {
      if (!env.used.has(part))
        env.report(say.neverUsed(part.name.span, part.is === 'define' ? 'formula' : 'routine', part.name.text));
    }
    for (const attribute of kind.attributes) {
      if (!env.used.has(attribute))
        env.report(say.neverUsed(attribute.span, 'attribute', attribute.name, removable(env, attribute.span)));
    }
    const isBoarded = [...env.ridings.values()].some((riding) => riding.to === kind);
    if (kind.seats && !isBoarded) env.report(say.nobodyBoards(kind.span, kind.name));
    for (const machine of kind.machines) unreachableStates(env, kind, machine.part);
    startOf(env, kind);
    roundedWays(env, kind);
  }
  const shown = new Set(partsOf(tree, 'show').map((part) => part.name.key));
  const kinds = [...env.kinds.values()];
  const end = env.text.trimEnd().length;
  // While no kind is shown, each is drawn as a dot.
  if (env.firstSpace && kinds.some((kind) => shown.has(kind.key))) {
    for (const kind of kinds) if (!shown.has(kind.key)) env.report(say.neverShown(kind.span, kind.name, end));
  }
  const compares = env.parameters.size > 0 || partsOf(tree, 'chart').length > 0 || partsOf(tree, 'check').length > 0;
  if (env.measures.size === 0 && compares && order.length > 0) {
    const model = partsOf(tree, 'model')[0];
    if (model) env.report(say.noMeasure(model.span, kinds[0]?.name, end));
  }
}

/** A word of a field that stands once in the text, and looks like another, is likely that one, mistyped. */
function doubtfulWords(env: Environment, { type, name }: FieldSymbol): void {
  if (type.is !== 'choice') return;
  type.options.forEach((word, i) => {
    const span = type.spans[i]!;
    const others = type.options.filter((other) => other !== word);
    const near = nearestWord(word, others);
    const isAlone = [...env.uses.values()].filter(({ declaredAt }) => declaredAt.has(span.start)).length < 2;
    if (near && isAlone) env.report(say.wordOnce(span, word, name, near));
  });
}

function endOfLine(text: string, at: number): number {
  const next = text.indexOf('\n', at);
  return next < 0 ? text.length : next;
}

/** The whole line of a piece of text, with the break after it. */
function lineOf(text: string, { start }: Span): Span {
  return { start: text.lastIndexOf('\n', start) + 1, end: Math.min(text.length, endOfLine(text, start) + 1) };
}

/** The line that declares something, if nothing else in the text names it. */
function removable(env: Environment, span: Span): Span | undefined {
  const isNamed = [...env.uses].some(([at, { declaredAt }]) => at !== span.start && declaredAt.has(span.start));
  return isNamed ? undefined : lineOf(env.text, span);
}

/** On a grid a way by a part of a cell, or after turns that lead to no neighbour, is rounded at each step. */
function roundedWays(env: Environment, kind: KindSymbol): void {
  const { space } = kind;
  const sharpest = space && formOf(space).turnOfNeighbours(space.neighbours);
  if (sharpest === undefined) return;
  const ways: Ast.Statement[] = [];
  let isRounded = false;
  const look = (statement: Ast.Statement): void => {
    if (statement.is === 'move' && statement.how === 'by') {
      ways.push(statement);
      const by = constantOf(statement.value, env.scales);
      if (by && !Number.isInteger(by.value)) isRounded = true;
    }
    if (statement.is !== 'turn' || statement.how !== 'by') return;
    const angle = constantOf(statement.value, env.scales);
    if (!angle || angle.value % sharpest !== 0) isRounded = true;
  };
  for (const { body } of kind.part.behaviours) eachStatement(body, look);
  if (isRounded && ways[0]) env.report(say.roundedWay(ways[0].span));
}

function eachStatement(block: Ast.Block, look: (statement: Ast.Statement) => void): void {
  for (const statement of block) {
    look(statement);
    if ('body' in statement && Array.isArray(statement.body)) eachStatement(statement.body as Ast.Block, look);
    if ('then' in statement) eachStatement(statement.then, look);
    if ('else' in statement && statement.else) eachStatement(statement.else, look);
  }
}

function startOf(env: Environment, kind: KindSymbol): void {
  const { starts } = kind.part;
  if (starts.length === 0 && !env.used.has(kind.self))
    env.report(
      say.neverStarted(kind.span, kind.name, endOfLine(env.text, kind.span.start), kind.space ? ' anywhere' : ''),
    );
  const points = new Set(
    starts.map(({ placing }) => (placing?.is === 'at' ? env.textOf(placing.span).replace(/\s+/g, '') : undefined)),
  );
  const [first] = starts;
  const isAlone = starts.length === 1 && first?.count.is === 'number' && first.count.value === 1;
  if (first?.placing && points.size === 1 && !points.has(undefined) && !isAlone)
    env.report(say.stacked(first.span, kind.name, first.placing.span));
}

function unreachableStates(env: Environment, kind: KindSymbol, part: Ast.StatesPart): void {
  const machine = kind.machines.find((m) => m.part === part);
  if (!machine || env.setMachines.has(machine)) return;
  const reached = new Set<string>();
  const reach = (key: string): void => {
    if (reached.has(key)) return;
    reached.add(key);
    const group = machine.groups.find((g) => g.key === key);
    if (group) for (const first of firstOf(group.part)) reach(first);
  };
  for (const first of firstOf(part)) reach(first);
  for (const state of [...machine.states, ...machine.groups]) {
    for (const transition of state.part.transitions) {
      for (const target of transition.targets) reach(target.state.key);
      const message = env.messageOf.get(transition);
      if (message && !env.sent.has(message)) env.report(say.neverSent(transition.span, message.name));
    }
  }
  for (const state of machine.states) if (!reached.has(state.key)) env.report(say.neverReached(state.span, state.name));
}

/** The states in which a machine, or a state with states inside, may begin. */
function firstOf(part: Ast.StatesPart | Ast.StatePart): string[] {
  return part.start.length > 0
    ? part.start.map((share) => share.state.key)
    : part.states.slice(0, 1).map((state) => state.name.key);
}
