import type { CheckedModel, KindSymbol } from '@vole/core';
import { FUNCTIONS, LOOK_COLOURS, LOOK_SHAPES, SPECIAL_FUNCTIONS, unitWords, WORDS } from '@vole/core';

/** One name or word that fits at a place of the text. */
export interface Offer {
  readonly label: string;
  readonly detail: string;
}

type Type = KindSymbol['attributes'][number]['type'];

/** The title stands there already. */
const PARTS = WORDS.parts.filter((word) => word !== 'model');
const MODES = ['in turn', 'in fixed order', 'all at once'];

const NAME = '[\\p{L}_][\\p{L}\\p{N}_]*';

interface Line {
  readonly text: string;
  readonly indent: number;
}

/** The lines that the cursor stands under, from the margin in, the last one its own up to the cursor; and all lines of the part so far. */
interface Standing {
  readonly headers: readonly string[];
  readonly above: readonly string[];
  readonly before: string;
}

function standingAt(text: string, at: number): Standing {
  const all = text
    .slice(0, at)
    .split('\n')
    .map((line): Line => ({ text: line.trimStart(), indent: line.length - line.trimStart().length }));
  const own = all.pop()!;
  const headers: string[] = [];
  const above: string[] = [];
  let indent = own.indent;
  for (let i = all.length - 1; i >= 0 && indent > 0; i--) {
    const line = all[i]!;
    if (line.text.trim() === '' || line.text.startsWith('#')) continue;
    if (line.indent <= own.indent) above.unshift(line.text);
    if (line.indent >= indent) continue;
    headers.unshift(line.text);
    indent = line.indent;
  }
  return { headers, above, before: own.text };
}

/** What may be meant by bare names in a block: who acts, and what was given a name. */
class Scope {
  readonly locals = new Map<string, KindSymbol | undefined>();
  readonly self: KindSymbol | undefined;

  constructor(
    readonly model: CheckedModel,
    readonly standing: Standing,
  ) {
    const [header = ''] = standing.headers;
    this.self = this.kind(new RegExp(`^agent\\s+(${NAME})`, 'u').exec(header)?.[1]);
    const roles = new RegExp(
      `^interaction\\s+${NAME}\\s*:\\s*(${NAME})\\s+(${NAME})\\s*,\\s*(${NAME})\\s+(${NAME})`,
      'u',
    ).exec(header);
    if (roles) this.takeRoles(roles);
    for (const line of standing.above) this.take(line);
  }

  /** Roles read “hunter Kestrel” or “Kestrel hunter”: whichever word is a kind. */
  private takeRoles(words: RegExpExecArray): void {
    for (const i of [1, 3]) {
      const [a, b] = [words[i]!, words[i + 1]!];
      this.locals.set(this.kind(b) ? a : b, this.kind(b) ?? this.kind(a));
    }
  }

  private take(line: string): void {
    const given =
      new RegExp(`^(?:let|with)\\s+(${NAME})\\s*=\\s*(.*)$`, 'u').exec(line) ??
      new RegExp(`^for each\\s+(${NAME})\\s+in\\s+(.*)$`, 'u').exec(line);
    if (given) this.locals.set(given[1]!, this.kindIn(given[2]!));
    const inputs = new RegExp(`^(?:define|routine)\\s+${NAME}\\s*\\(([^)]*)\\)`, 'u').exec(line);
    for (const input of inputs?.[1]?.split(',') ?? []) if (input.trim()) this.locals.set(input.trim(), undefined);
  }

  kind(name: string | undefined): KindSymbol | undefined {
    return name === undefined ? undefined : this.model.kinds.find((kind) => kind.key === name.toLowerCase());
  }

  /** The kind that is asked for in a piece of text: the last one that is named. */
  kindIn(words: string): KindSymbol | undefined {
    const names = words.match(new RegExp(NAME, 'gu')) ?? [];
    return names
      .map((name) => this.kind(name))
      .filter((kind) => kind !== undefined)
      .at(-1);
  }

  /** The kind of what stands before a dot. */
  of(name: string, before: string): KindSymbol | undefined {
    if (name === 'self') return this.self;
    if (name === 'it') return this.kindIn(before);
    const pointed = this.self?.attributes.find((attribute) => attribute.key === name.toLowerCase())?.type;
    return this.locals.get(name) ?? (pointed?.is === 'agent' ? this.kind(pointed.kind) : undefined);
  }
}

/** What fits at a place of the text, by the last meaning of the model that was right: the nearest in scope first. */
export function offersAt(text: string, at: number, model: CheckedModel): Offer[] {
  const standing = standingAt(text, at);
  const scope = new Scope(model, standing);
  const before = standing.before.replace(new RegExp(`${NAME}$`, 'u'), '');
  return unique(afterWord(scope, before) ?? (before === '' ? lineStarts(scope) : inExpression(scope)));
}

const words = (list: Iterable<string>, detail = ''): Offer[] => [...list].map((label) => ({ label, detail }));
const named = (list: readonly { readonly name: string; readonly about?: string }[], what: string): Offer[] =>
  list.map(({ name, about }) => ({ label: name, detail: about ?? what }));

/** What can only follow the words before the cursor; nothing if that is open. */
function afterWord(scope: Scope, before: string): Offer[] | undefined {
  const { model } = scope;
  const dotted = new RegExp(`(${NAME})\\.$`, 'u').exec(before);
  if (dotted) {
    const kind = scope.of(dotted[1]!, before.slice(0, dotted.index));
    return kind ? [...membersOf(kind), ...words(WORDS.own, `of every ${kind.name}`)] : undefined;
  }
  if (/\d\s+$/.test(before))
    return [
      ...named(
        [...model.scales.own.values()].map(({ label }) => ({ name: label })),
        'unit of the model',
      ),
      ...words(unitWords(), 'unit'),
    ];
  const compared = new RegExp(
    `(?:(${NAME})\\.)?(${NAME})\\s+(?:is(?:\\s+not)?|=)\\s*(?:one of\\s+(?:${NAME}\\s*,\\s*)*)?$`,
    'u',
  ).exec(before);
  const values = compared && valuesOf(scope, compared[1], compared[2]!, before.slice(0, compared.index));
  if (values) return values;
  const [, inKind, inPart] = scope.standing.headers;
  const machine = scope.self?.machines.find(({ name }) =>
    [inKind, inPart].some((line) => line?.startsWith(`states ${name}`)),
  );
  if (machine && /:\s*$/.test(before)) return named(machine.states, `state of ${machine.name}`);
  if (/\b(?:entered|left)\s+$/.test(before))
    return model.kinds.flatMap((kind) =>
      kind.machines.flatMap(({ name, states }) => named(states, `state of ${name}`)),
    );
  if (/\bor by\s+(?:\w+,\s*)*$/.test(before)) return named(model.lines, 'line');
  if (/\b(?:tied by|ties by|by)\s+$/.test(before) && model.networks.length > 0) return named(model.networks, 'network');
  if (/\bin zone\s+$/.test(before)) return named(model.zones, 'zone');
  if (/\b(?:send|on)\s+$/.test(before) && scope.self && model.messages.length > 0)
    return named(model.messages, 'message');
  if (/^(?:agent\s.*|field\s.*|zone\s.*|obstacle\s.*|.*\bcells\s)\bon\s+$/.test(before))
    return named(model.spaces, 'space');
  if (/\b(?:count|any|share of|nearest|random|first|over|for each \S+ in|create [^ ]+|all)\s+$/.test(before))
    return [
      ...named(model.kinds, 'kind'),
      ...words(['cells', 'empty cells', 'ties by']),
      ...lists(scope),
      ...named(model.tallies, 'tally'),
    ];
  if (/^show\s.*:/.test(before)) return words([...LOOK_SHAPES, ...LOOK_COLOURS, 'colour', 'size', 'by'], 'look');
  if (/^show\s+$/.test(before))
    return [
      ...named(model.kinds, 'kind'),
      ...named(model.fields, 'field'),
      ...named(model.networks, 'network'),
      ...named(model.zones, 'zone'),
    ];
  return undefined;
}

function valuesOf(scope: Scope, owner: string | undefined, name: string, before: string): Offer[] | undefined {
  const key = name.toLowerCase();
  const kinds = owner ? [scope.of(owner, before)] : [scope.self, ...scope.model.kinds];
  for (const kind of kinds) {
    const machine = kind?.machines.find((m) => m.key === key);
    if (machine) return named([...machine.groups, ...machine.states], `state of ${machine.name}`);
    const options = optionsOf(kind?.attributes.find((attribute) => attribute.key === key)?.type);
    if (options) return words(options, `${name} of ${kind!.name}`);
  }
  const other = [...scope.model.parameters, ...scope.model.variables, ...scope.model.fields].find(
    (symbol) => symbol.key === key,
  );
  const options = optionsOf(other?.type);
  return options && words(options, `value of ${name}`);
}

function optionsOf(type: Type | undefined): readonly string[] | undefined {
  return type?.is === 'choice' ? type.options : type?.is === 'yesno' ? ['yes', 'no'] : undefined;
}

function lineStarts(scope: Scope): Offer[] {
  const [part = '', inner = ''] = scope.standing.headers;
  const own = scope.standing.headers.at(-1) ?? '';
  if (part === '') return words(PARTS, 'part');
  if (/^order\b/.test(part)) return [...rulesOf(scope.model), ...words(MODES, 'mode')];
  if (/^agent\b/.test(part) && inner === '') return words(WORDS.agent, 'of a kind');
  if (/^states\b/.test(inner) && !/^(?:enter|leave)\b/.test(own)) return [...words(WORDS.states, 'of a state')];
  if (/^clock\b/.test(part)) return words(['step', 'from', 'end after', 'end when'], 'of the clock');
  if (/^line\b/.test(part)) return words(['stops', 'every', 'at', 'dwell', 'timetable'], 'of a line');
  if (/^(?:field|network|message|check)\b/.test(part))
    return words('start grow spread fade becomes keep has with run expect'.split(' '));
  return [
    ...words(WORDS.statements, 'statement'),
    ...inExpression(scope).filter(({ detail }) => detail !== 'function'),
  ];
}

function rulesOf(model: CheckedModel): Offer[] {
  return model.kinds
    .flatMap((kind) => [
      ...kind.part.behaviours.map(({ name }) => ({ label: name.text, detail: `behaviour of ${kind.name}` })),
      ...named(kind.machines, `states of ${kind.name}`),
    ])
    .concat(
      model.interactions.map(({ name }) => ({ label: name, detail: 'interaction' })),
      named(model.lines, 'line'),
      named(model.fields, 'field'),
    );
}

function membersOf(kind: KindSymbol): Offer[] {
  return [
    ...kind.attributes.map(({ name, type, unit }) => ({
      label: name,
      detail: [`of ${kind.name}`, type.is === 'number' ? unit.label : ''].filter(Boolean).join(', '),
    })),
    ...named(kind.derives, `derived, of ${kind.name}`),
    ...named(kind.machines, `states of ${kind.name}`),
    ...kind.part.defines.map(({ name }) => ({ label: name.text, detail: `formula of ${kind.name}` })),
  ];
}

function lists({ self }: Scope): Offer[] {
  return self
    ? named(
        self.attributes.filter(({ type }) => type.is === 'list'),
        `list of ${self.name}`,
      )
    : [];
}

function inExpression(scope: Scope): Offer[] {
  const { model, self, locals, standing } = scope;
  const [part = standing.before] = standing.headers;
  const asksRun = /^(?:measure|summary|chart|check|timeline|record)\b/.test(part);
  return [
    ...[...locals].map(([name, kind]) => ({ label: name, detail: kind ? `a ${kind.name}` : 'given here' })),
    ...(self ? [...membersOf(self), ...words(WORDS.own, `of every ${self.name}`)] : []),
    ...(asksRun ? named(model.measures, 'measure') : []),
    ...model.parameters.map(({ name, unit }) => ({ label: name, detail: `parameter ${unit.label}`.trim() })),
    ...named(model.variables, 'variable'),
    ...named(model.derives, 'derived value'),
    ...named(model.fields, 'field'),
    ...named(model.kinds, 'kind'),
    ...partNames(model, 'define', 'formula'),
    ...words([...FUNCTIONS.keys(), ...SPECIAL_FUNCTIONS], 'function'),
    ...words(WORDS.values),
  ];
}

function partNames(model: CheckedModel, is: 'define' | 'routine', what: string): Offer[] {
  return model.tree.parts.flatMap((part) => (part.is === is ? [{ label: part.name.text, detail: what }] : []));
}

function unique(offers: readonly Offer[]): Offer[] {
  const seen = new Set<string>();
  return offers.filter(({ label }) => label !== '' && !seen.has(label) && seen.add(label));
}
