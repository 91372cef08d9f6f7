import type * as Ast from './syntax.ts';
import { WORDS } from './words.ts';

/**
 * The words that a field holds, where it holds words: those of its `start`, given with `of` or as they stand there, then those that it `becomes`, then those that rules
 * write to it. A name that stands for something else is no word.
 * @returns nothing where its `start` is no word
 */
export function wordsOfField(tree: Ast.SyntaxTree, field: Ast.FieldPart): Ast.Name[] | undefined {
  if (field.choices) return [...field.choices];
  const first = field.start ? wordsIn(field.start) : [];
  if (first.length === 0) return undefined;
  const taken = namesOf(tree);
  const words = [...first, ...field.becomes.flatMap(({ value }) => wordsIn(value)), ...writtenTo(tree, field.name.key)];
  const free = words.filter(({ key }) => !taken.has(key));
  const distinct = free.filter(({ key }, i) => free.findIndex((other) => other.key === key) === i);
  return first.some(({ key }) => taken.has(key)) || distinct.length < 2 ? undefined : distinct;
}

/** Bare names that an expression comes to: itself, or one of several. */
function wordsIn(expr: Ast.Expr): Ast.Name[] {
  switch (expr.is) {
    case 'path':
      return expr.names.length === 1 ? [expr.names[0]!] : [];
    case 'brackets':
      return wordsIn(expr.value);
    case 'if':
      return [...wordsIn(expr.then), ...wordsIn(expr.else)];
    case 'call':
      return expr.name.key === 'pick' ? expr.args.flatMap(({ value }) => wordsIn(value)) : [];
    default:
      return [];
  }
}

function writtenTo(tree: Ast.SyntaxTree, field: string): Ast.Name[] {
  const found: Ast.Name[] = [];
  visit(tree, (node) => {
    const { is, target, value, op } = node as Partial<Ast.StatementOf<'assign'>>;
    if (is !== 'assign' || op !== '=' || !target || !value) return;
    const isOfField =
      target.is === 'at'
        ? target.field.key === field
        : target.is === 'path' && target.names.length === 1 && target.names[0]!.key === field;
    if (isOfField) found.push(...wordsIn(value));
  });
  return found;
}

/** Names that the language itself gives. */
const GIVEN = [
  ...WORDS.own,
  'here',
  'self',
  'it',
  'now',
  'step',
  'hour',
  'weekday',
  'month',
  'year',
  'date',
  'vehicle',
  'waiting',
];

/** Everything that has a name of its own, wherever it is declared. */
function namesOf(tree: Ast.SyntaxTree): Set<string> {
  const found = new Set(GIVEN);
  visit(tree, (node) => {
    const { is, name, alias, inputs } = node as {
      is?: string;
      name?: Partial<Ast.Name>;
      alias?: Partial<Ast.Name>;
      inputs?: readonly Ast.Name[];
    };
    // Calls and states name nothing that could stand bare for a value.
    const isValue = is !== 'call' && !('transitions' in node);
    if (isValue && name?.key !== undefined) found.add(name.key);
    if (alias?.key !== undefined) found.add(alias.key);
    for (const { key } of inputs ?? []) found.add(key);
  });
  return found;
}

function visit(node: unknown, found: (node: object) => void): void {
  if (node === null || typeof node !== 'object') return;
  if (!Array.isArray(node)) found(node);
  for (const inner of Object.values(node)) visit(inner, found);
}
