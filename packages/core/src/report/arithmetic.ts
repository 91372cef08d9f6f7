import type { CheckedModel, RuleSymbol } from '../language/checked.ts';
import type * as Ast from '../language/syntax.ts';
import type { Formula } from '../mean-field/formula.ts';
import { productOf } from '../mean-field/formula.ts';
import type { Assignment } from './document.ts';
import { wording } from './model-words.ts';

/** What a rule computes whenever it is done, set in type: each new value that is arithmetic, and more than a number. What stands under a condition, in a loop or at a transition is left to the listing, as its formula alone would say that it always holds. */
export function rulesArithmetic(model: CheckedModel, rule: RuleSymbol): Assignment[] {
  const found: Assignment[] = [];
  const add = (left: Formula, sign: Assignment['sign'], right: Formula | undefined): void => {
    if (right && right.is !== 'number' && right.is !== 'name') found.push({ left, sign, right });
  };
  const block = (statements: Ast.Block): void => {
    for (const statement of statements)
      switch (statement.is) {
        case 'let':
          add({ is: 'name', text: statement.name.text }, '=', arithmetic(model, statement.value));
          break;
        case 'assign': {
          const left = arithmetic(model, statement.target);
          const right = arithmetic(model, statement.value);
          if (left && right) add(left, '←', assigned(left, statement.op, right));
          break;
        }
        default:
      }
  };
  switch (rule.is) {
    case 'behaviour':
    case 'surroundings':
    case 'interaction':
      block(rule.part.body);
      break;
    case 'line':
    case 'machine':
      break;
    case 'field': {
      const { part, name } = rule.field;
      const grown = part.grow && arithmetic(model, part.grow);
      const own: Formula = { is: 'name', text: name };
      const step: Formula = { is: 'name', text: 'step' };
      if (grown) add(own, '←', sum(own, isPerTime(model, part.grow) ? productOf([grown, step]) : grown, false));
      break;
    }
  }
  return found;
}

function isPerTime(model: CheckedModel, expr: Ast.Expr): boolean {
  const type = model.types.get(expr);
  return type?.is === 'number' && type.dim?.time === -1;
}

function assigned(left: Formula, op: Ast.StatementOf<'assign'>['op'], right: Formula): Formula {
  switch (op) {
    case '=':
      return right;
    case '+=':
      return sum(left, right, false);
    case '-=':
      return sum(left, right, true);
    case '*=':
      return productOf([left, right]);
    case '/=':
      return { is: 'fraction', top: left, bottom: right };
  }
}

function sum(first: Formula, second: Formula, isLess: boolean): Formula {
  const terms = (of: Formula, less: boolean): { readonly isLess: boolean; readonly of: Formula }[] =>
    of.is === 'sum' && !less ? [...of.terms] : [{ isLess: less, of }];
  return { is: 'sum', terms: [...terms(first, false), ...terms(second, isLess)] };
}

/** An expression as it is set in type; nothing where it is more than arithmetic. */
function arithmetic(model: CheckedModel, expr: Ast.Expr): Formula | undefined {
  const of = (inner: Ast.Expr): Formula | undefined => arithmetic(model, inner);
  const named = (name: string, args: readonly Ast.Expr[]): Formula | undefined => {
    const formulas = args.map(of);
    return formulas.every((formula) => formula !== undefined) ? { is: 'function', name, args: formulas } : undefined;
  };
  switch (expr.is) {
    case 'number':
    case 'percent':
    case 'per':
    case 'with unit':
      return { is: 'number', text: wording(model, expr.span) };
    case 'path':
      return { is: 'name', text: expr.names.map(({ text }) => text).join('.') };
    case 'brackets':
      return of(expr.value);
    case 'unary': {
      const value = expr.op === '-' ? of(expr.value) : undefined;
      return value && { is: 'sum', terms: [{ isLess: true, of: value }] };
    }
    case 'binary':
      return binary(expr.op, of(expr.left), of(expr.right));
    case 'call':
      return named(
        `${expr.of ? `${wording(model, expr.of.span)}.` : ''}${expr.name.text}`,
        expr.args.map(({ value }) => value),
      );
    case 'if': {
      const [then, otherwise] = [of(expr.then), of(expr.else)];
      return (
        then &&
        otherwise && {
          is: 'function',
          name: 'if',
          args: [{ is: 'condition', words: [wording(model, expr.condition.span)] }, then, otherwise],
        }
      );
    }
    case 'ask':
    case 'gather':
    case 'at':
      return { is: 'condition', words: [wording(model, expr.span)] };
    default:
      return undefined;
  }
}

function binary(op: Ast.BinaryOperator, left: Formula | undefined, right: Formula | undefined): Formula | undefined {
  if (!left || !right) return undefined;
  switch (op) {
    case '+':
    case '-':
      return sum(left, right, op === '-');
    case '*':
      return { is: 'product', factors: [left, right] };
    case '/':
      return { is: 'fraction', top: left, bottom: right };
    case '^':
      return { is: 'power', base: left, exponent: right };
    default:
      return undefined;
  }
}
