import type { AnyPart } from '@vole/core';
import { treeOf } from '@vole/core';

type AgentPart = Extract<AnyPart, { is: 'agent' }>;
type StatePart = AgentPart['states'][number]['states'][number];

export interface StateNode {
  readonly name: string;
  /** The state it lies in, if any. */
  readonly group: string | undefined;
  readonly start: number;
  /** In columns of the picture from the left and rows from the top. */
  readonly column: number;
  readonly row: number;
}

export interface StateArrow {
  /** Absent where a rule brings agents into the state from whatever they are in. */
  readonly from: string | undefined;
  readonly to: string;
  /** The trigger as it is written: `after 21 days`. */
  readonly trigger: string;
  /** With which share it leads to this one of several states: `80 %`, `rest`. */
  readonly share: string | undefined;
  /** What makes the change: the machine itself, a message it hears, or a rule that sets it: a meeting or a behaviour, by its name. */
  readonly by: 'itself' | 'message' | 'rule';
  /** The whole line. */
  readonly line: string;
  readonly start: number;
}

export interface StateGraph {
  readonly kind: string;
  readonly machine: string;
  readonly start: number;
  readonly end: number;
  readonly nodes: readonly StateNode[];
  readonly arrows: readonly StateArrow[];
}

/** The state machines of a text as pictures to be drawn, also while it is half typed. */
export function stateGraphs(text: string): StateGraph[] {
  const { parts } = treeOf(text);
  return parts
    .filter((part): part is AgentPart => part.is === 'agent')
    .flatMap((agent) =>
      agent.states.map((machine) => {
        const flat: { state: StatePart; group: string | undefined }[] = [];
        const visit = (state: StatePart, group: string | undefined): void => {
          if (state.states.length === 0) flat.push({ state, group });
          for (const inner of state.states) visit(inner, state.name.text);
        };
        for (const state of machine.states) visit(state, undefined);
        const groups = new Map<string, string[]>();
        for (const { state, group } of flat)
          if (group) groups.set(group.toLowerCase(), [...(groups.get(group.toLowerCase()) ?? []), state.name.text]);
        const all = flat.map(({ state }) => state.name.text);
        const set = changesByRules(parts, agent.name.key, machine.name.key).flatMap(
          ({ from, to, rule, span }): StateArrow[] => {
            const named = (key: string): string[] =>
              groups.get(key) ?? all.filter((name) => name.toLowerCase() === key);
            const line = text.slice(span.start).split('\n')[0]!.trim();
            const froms: (string | undefined)[] = from === undefined ? [undefined] : named(from);
            return named(to)
              .slice(0, 1)
              .flatMap((target) =>
                froms
                  .filter((name) => name !== target)
                  .map((name) => ({
                    from: name,
                    to: target,
                    trigger: rule,
                    share: undefined,
                    by: 'rule',
                    line,
                    start: span.start,
                  })),
              );
          },
        );
        const arrows = [...arrowsOf(machine.states, groups, text), ...set];
        const nodes = laidOut(
          flat.map(({ state, group }) => ({ name: state.name.text, group, start: state.span.start })),
          arrows,
        );
        return {
          kind: agent.name.text,
          machine: machine.name.text,
          start: machine.span.start,
          end: machine.span.end,
          nodes,
          arrows,
        };
      }),
    );
}

function* arrowsOf(
  states: readonly StatePart[],
  groups: ReadonlyMap<string, readonly string[]>,
  text: string,
): Generator<StateArrow> {
  for (const state of states) {
    const froms = groups.get(state.name.key) ?? [state.name.text];
    for (const transition of state.transitions) {
      const line = text.slice(transition.span.start).split('\n')[0]!.trim();
      const colon = line.lastIndexOf(':');
      const trigger = colon < 0 ? line : line.slice(0, colon).trim();
      for (const target of transition.targets) {
        const to = groups.get(target.state.key)?.[0] ?? target.state.text;
        const share =
          target.share === 'rest'
            ? transition.targets.length > 1
              ? 'rest'
              : undefined
            : text.slice(target.share.span.start, target.share.span.end);
        for (const from of froms)
          yield {
            from,
            to,
            trigger,
            share: transition.targets.length > 1 ? share : undefined,
            by: transition.message ? 'message' : 'itself',
            line,
            start: transition.span.start,
          };
      }
    }
    yield* arrowsOf(state.states, groups, text);
  }
}

type Parts = readonly AnyPart[];
type Block = AgentPart['behaviours'][number]['body'];
type Expr = Extract<Block[number], { is: 'let' }>['value'];

interface RuleChange {
  readonly from: string | undefined;
  readonly to: string;
  readonly rule: string;
  readonly span: { readonly start: number };
}

/** Where rules set a machine: meetings, behaviours and what is done on hearing a message; the state before where a condition round it names one. */
function changesByRules(parts: Parts, kind: string, machine: string): RuleChange[] {
  const found: RuleChange[] = [];
  /** @param owners names that stand for agents of the kind before a dot; '' for the acting agent itself */
  const look = (block: Block, rule: string, owners: ReadonlySet<string>, conditions: readonly Expr[]): void => {
    for (const statement of block) {
      if (
        statement.is === 'assign' &&
        statement.op === '=' &&
        statement.target.is === 'path' &&
        statement.value.is === 'path' &&
        statement.value.names.length === 1
      ) {
        const { names } = statement.target;
        const owner = names.length > 1 ? names[0]!.key : '';
        if (names[names.length - 1]!.key !== machine || !owners.has(owner)) continue;
        found.push({
          from: conditions.map((condition) => stateDemanded(condition, owner, machine)).find(Boolean),
          to: statement.value.names[0]!.key,
          rule,
          span: statement.span,
        });
      }
      if (statement.is === 'if') {
        look(statement.then, rule, owners, [...conditions, statement.condition]);
        look(statement.else ?? [], rule, owners, conditions);
      }
      if (statement.is === 'with' || statement.is === 'for each') {
        const asked =
          statement.is === 'for each'
            ? statement.query
            : statement.value.is === 'pick'
              ? statement.value.query
              : undefined;
        const isOfKind = asked?.head.is === 'kind' && asked.head.name.key === kind;
        const where = asked?.where ? [asIfNamed(asked.where, statement.name.key)] : [];
        look(
          statement.is === 'with' ? statement.then : statement.body,
          rule,
          isOfKind ? new Set([...owners, statement.name.key]) : owners,
          [...conditions, ...where],
        );
        if (statement.is === 'with') look(statement.else ?? [], rule, owners, conditions);
      }
      if (statement.is === 'repeat') look(statement.body, rule, owners, conditions);
    }
  };
  for (const part of parts) {
    if (part.is === 'interaction') {
      const roles = part.roles.filter((role) => role.kind.key === kind).map((role) => role.name.key);
      look(part.body, part.name.text, new Set(roles), part.where ? [part.where] : []);
    }
    if (part.is !== 'agent') continue;
    const own = part.name.key === kind ? [''] : [];
    for (const behaviour of part.behaviours)
      look(behaviour.body, behaviour.name.text, new Set(own), behaviour.when ? [behaviour.when] : []);
    for (const reaction of part.reactions)
      look(reaction.body, `on ${reaction.message.text}`, new Set(own), reaction.when ? [reaction.when] : []);
  }
  return found;
}

/** A condition on `it` as one on the name that the one who was found is given. */
function asIfNamed(where: Expr, name: string): Expr {
  if (where.is === 'binary' && where.op === 'and')
    return { ...where, left: asIfNamed(where.left, name), right: asIfNamed(where.right, name) };
  if (where.is !== 'binary' || where.left.is !== 'path' || where.left.names[0]!.key !== 'it') return where;
  const [first, ...rest] = where.left.names;
  return { ...where, left: { ...where.left, names: [{ ...first!, key: name }, ...rest] } };
}

/** The state that a condition demands of an agent, if it does: `a.song is Quiet and ...`. */
function stateDemanded(condition: Expr, owner: string, machine: string): string | undefined {
  if (condition.is === 'brackets') return stateDemanded(condition.value, owner, machine);
  if (condition.is !== 'binary') return undefined;
  if (condition.op === 'and')
    return stateDemanded(condition.left, owner, machine) ?? stateDemanded(condition.right, owner, machine);
  const { left, right } = condition;
  if (condition.op !== 'is' || left.is !== 'path' || right.is !== 'path' || right.names.length !== 1) return undefined;
  const names = left.names.map(({ key }) => key);
  const isIt =
    names[names.length - 1] === machine &&
    (owner === ''
      ? names.length === 1 || (names.length === 2 && names[0] === 'self')
      : names.length === 2 && names[0] === owner);
  return isIt ? right.names[0]!.key : undefined;
}

/** Two columns, gone through like a meander, in the order in which states are reached from the first; those that nothing leads to come last. */
function laidOut(nodes: readonly Omit<StateNode, 'column' | 'row'>[], arrows: readonly StateArrow[]): StateNode[] {
  const key = (name: string): string => name.toLowerCase();
  const order = nodes.slice(0, 1).map((node) => key(node.name));
  for (const at of order) {
    for (const { from, to } of arrows)
      if (
        from !== undefined &&
        key(from) === at &&
        !order.includes(key(to)) &&
        nodes.some((node) => key(node.name) === key(to))
      )
        order.push(key(to));
  }
  for (const node of nodes) if (!order.includes(key(node.name))) order.push(key(node.name));
  return nodes.map((node) => {
    const place = order.indexOf(key(node.name));
    const row = Math.floor(place / 2);
    return { ...node, row, column: row % 2 === 0 ? place % 2 : 1 - (place % 2) };
  });
}
