import { literal, SourceWriter } from '../source-writer.ts';
import type { F64, I32, KernelFunction, Statement, Test } from './kernel.ts';
import { WIDE } from './kernel.ts';

/** Spells a kernel function as JavaScript; what it calls lies in `E`. */
export function javascriptOf({ name, columns, given, locals, body }: KernelFunction): string {
  const w = new KernelWriter(columns);
  w.block(`function ${name}(${[...columns, ...given].map((one) => one.name).join(', ')})`, () => {
    if (locals.length > 0) w.line(`let ${locals.map((local) => `${local.name} = 0`).join(', ')};`);
    for (const statement of body) writeStatement(w, statement);
    w.line('return -1;');
  });
  return w.toString();
}

class KernelWriter extends SourceWriter {
  constructor(readonly columns: KernelFunction['columns']) {
    super();
  }
}

function writeStatement(w: KernelWriter, s: Statement): void {
  switch (s.is) {
    case 'set':
      return w.line(`${s.local.name} = ${f64Code(s.value)};`);
    case 'set i32':
      return w.line(`${s.local.name} = ${i32Code(s.value)};`);
    case 'store':
      return w.line(`${s.column.name}[${i32Code(s.at)}] = ${f64Code(s.value)};`);
    case 'store i32':
      return w.line(`${s.column.name}[${i32Code(s.at)}] = ${i32Code(s.value)};`);
    case 'loop':
    case 'stream': {
      const i = s.index.name;
      return w.block(`for (${i} = ${i32Code(s.from)}; ${i} < ${i32Code(s.to)}; ${i}++)`, () => {
        for (const statement of s.body) writeStatement(w, statement);
      });
    }
    case 'loop over': {
      const i = s.index.name;
      const isOther = s.values.map((value) => `${s.column.name}[${i}] !== ${value}`).join(' && ');
      return w.block(`for (${i} = ${i32Code(s.from)}; ${i} < ${i32Code(s.to)}; ${i}++)`, () => {
        w.line(`if (${isOther}) continue;`);
        for (const statement of s.body) writeStatement(w, statement);
      });
    }
    case 'loop through': {
      const [i, from, mask] = [s.index.name, i32Code(s.from), i32Code(s.maskAt)];
      return w.block(
        `for (let $at = ${from}, $end = $at + ${WIDE}, $mask = ${mask}; $at < $end; $at++, $mask++)`,
        () => {
          w.line(`if (!(${s.column.name}[$at] && ${s.masks.name}[$mask])) continue;`);
          w.line(`${i} = $at;`);
          for (const statement of s.body) writeStatement(w, statement);
        },
      );
    }
    case 'sum rows': {
      const [at, mask] = [i32Code(s.at), i32Code(s.maskAt)];
      return w.block(
        `for (let $left = ${i32Code(s.rows)}, $at = ${at}, $mask = ${mask}; $left > 0; $left--, $at += ${i32Code(s.stride)}, $mask += ${WIDE})`,
        () =>
          w.line(
            `for (let $i = 0; $i < ${WIDE}; $i++) if (${s.masks.name}[$mask + $i]) ${s.into.name} += ${s.column.name}[$at + $i];`,
          ),
      );
    }
    case 'touch':
      // Nothing of it can be seen.
      return;
    case 'block':
      return w.block(`${s.name}:`, () => {
        for (const statement of s.body) writeStatement(w, statement);
      });
    case 'leave':
      return w.line(`break ${s.block};`);
    case 'tell':
      return w.line(`${s.anew ? `[${w.columns.map(({ name }) => name).join(', ')}] = ` : ''}${called(s.fn, s.given)};`);
    case 'give':
      return w.line(`return ${i32Code(s.value)};`);
    case 'when':
      return writeWhen(w, s);
    case 'unless finite':
      return w.line(`if (${s.value.name} - ${s.value.name} !== 0) return ${i32Code(s.at)};`);
  }
}

function writeWhen(w: KernelWriter, { test, then, else: otherwise }: Extract<Statement, { is: 'when' }>): void {
  w.block(`if (${condition(test)})`, () => then.forEach((statement) => writeStatement(w, statement)));
  if (otherwise.length > 0) w.block('else', () => otherwise.forEach((statement) => writeStatement(w, statement)));
}

function called(fn: string, given: readonly F64[]): string {
  return `E.${fn}(${given.map(f64Code).join(', ')})`;
}

const OF_ONE = {
  floor: 'Math.floor',
  ceiling: 'Math.ceil',
  abs: 'Math.abs',
  sqrt: 'Math.sqrt',
  single: 'Math.fround',
} as const;

function f64Code(e: F64): string {
  switch (e.is) {
    case 'local':
      return e.name;
    case 'f64':
      return literal(e.value);
    case 'load':
      return `${e.column.name}[${i32Code(e.at)}]`;
    case 'f64 binary':
      return `(${f64Code(e.left)} ${e.fn} ${f64Code(e.right)})`;
    case 'minus':
      return `(-${f64Code(e.value)})`;
    case 'of one':
      return `${OF_ONE[e.fn]}(${f64Code(e.value)})`;
    case 'at most':
      return beyond('>', e.value, e.bound);
    case 'at least':
      return beyond('<', e.value, e.bound);
    case 'of i32':
      return factor(e.value);
    case 'unsigned':
      return `(${i32Code(e.word)} >>> 0)`;
    case 'power of two':
      return `E.powerOfTwo(${i32Code(e.exponent)})`;
    case 'select':
    case 'choose':
      return `(${condition(e.test)} ? ${f64Code(e.then)} : ${f64Code(e.else)})`;
    case 'call':
      return called(e.fn, e.given);
  }
}

function testCode(test: Test): string {
  switch (test.is) {
    case 'compare':
      return `${f64Code(test.left)} ${comparison(test.fn)} ${f64Code(test.right)}`;
    case 'compare i32':
      return `${i32Code(test.left)} ${comparison(test.fn)} ${i32Code(test.right)}`;
    case 'below':
      return `${i32Code(test.word)} >>> 0 < ${i32Code(test.than)} >>> 0`;
    case 'and':
    case 'and then':
    case 'or':
    case 'or else':
      return `(${condition(test)})`;
    case 'not':
      return `!(${testCode(test.test)})`;
  }
}

/** A test where it stands alone. */
function condition(test: Test): string {
  switch (test.is) {
    case 'and':
    case 'and then':
      return `${testCode(test.left)} && ${testCode(test.right)}`;
    case 'or':
    case 'or else':
      return `${testCode(test.left)} || ${testCode(test.right)}`;
    default:
      return testCode(test);
  }
}

function comparison(fn: Extract<Test, { is: 'compare' }>['fn']): string {
  return fn === '==' || fn === '!=' ? `${fn}=` : fn;
}

/** Both are written twice, so that they should be locals or numbers. */
function beyond(how: '<' | '>', value: F64, bound: F64): string {
  return `(${f64Code(value)} ${how} ${f64Code(bound)} ? ${f64Code(bound)} : ${f64Code(value)})`;
}

function i32Code(e: I32): string {
  switch (e.is) {
    case 'local':
      return e.name;
    case 'i32':
      return String(e.value);
    case 'i32 load':
      return `${e.column.name}[${i32Code(e.at)}]`;
    case 'truncated':
      return `(${f64Code(e.value)} | 0)`;
    case 'high word':
      return `E.highWord(${f64Code(e.value)})`;
    case 'holds':
      return `(${testCode(e.test)} ? 1 : 0)`;
    case 'i32 select':
      return `(${testCode(e.test)} ? ${i32Code(e.then)} : ${i32Code(e.else)})`;
    case 'i32 binary':
      if (e.fn === 'high') return `((${i32Code(e.left)} >>> 0) * ${factor(e.right)} / 4294967296 | 0)`;
      if (e.fn === 'imul') return `Math.imul(${i32Code(e.left)}, ${i32Code(e.right)})`;
      if (e.fn !== '+' && e.fn !== '-' && e.fn !== '*')
        return `(${i32Code(e.left)} ${OF_WORDS[e.fn]} ${i32Code(e.right)}${e.fn === 'add' ? ' | 0' : ''})`;
      return e.fn === '*'
        ? `${factor(e.left)} * ${factor(e.right)}`
        : `${i32Code(e.left)} ${e.fn} ${e.fn === '-' ? factor(e.right) : i32Code(e.right)}`;
  }
}

const OF_WORDS = { xor: '^', bits: '|', mask: '&', shl: '<<', shr: '>>>', add: '+' } as const;

function factor(e: I32): string {
  return e.is === 'i32 binary' ? `(${i32Code(e)})` : i32Code(e);
}
