import { literal, SourceWriter } from '../source-writer.ts';
import type { F64, I32, KernelFunction, Statement, Test } from './kernel.ts';

/** Spells a kernel function as JavaScript. */
export function javascriptOf({ name, columns, given, locals, body }: KernelFunction): string {
  const w = new SourceWriter();
  w.block(`function ${name}(${[...columns, ...given].map((one) => one.name).join(', ')})`, () => {
    if (locals.length > 0) w.line(`let ${locals.map((local) => `${local.name} = 0`).join(', ')};`);
    for (const statement of body) writeStatement(w, statement);
    w.line('return -1;');
  });
  return w.toString();
}

function writeStatement(w: SourceWriter, s: Statement): void {
  switch (s.is) {
    case 'set':
      return w.line(`${s.local.name} = ${f64Code(s.value)};`);
    case 'set i32':
      return w.line(`${s.local.name} = ${i32Code(s.value)};`);
    case 'store':
      return w.line(`${s.column.name}[${i32Code(s.at)}] = ${f64Code(s.value)};`);
    case 'loop':
    case 'stream': {
      const i = s.index.name;
      return w.block(`for (${i} = ${i32Code(s.from)}; ${i} < ${i32Code(s.to)}; ${i}++)`, () => {
        for (const statement of s.body) writeStatement(w, statement);
      });
    }
    case 'when':
    case 'if':
      w.block(`if (${s.is === 'if' ? testCode(s.test) : comparison(s.test)})`, () =>
        s.then.forEach((statement) => writeStatement(w, statement)),
      );
      if (s.else.length > 0) w.block('else', () => s.else.forEach((statement) => writeStatement(w, statement)));
      return;
    case 'unless finite':
      return w.line(`if (${s.value.name} - ${s.value.name} !== 0) return ${i32Code(s.at)};`);
  }
}

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
    case 'at most':
      return beyond('>', e.value, e.bound);
    case 'at least':
      return beyond('<', e.value, e.bound);
    case 'unsigned':
      return `(${i32Code(e.word)} >>> 0)`;
    case 'select':
      return `(${comparison(e.test)} ? ${f64Code(e.then)} : ${f64Code(e.else)})`;
    case 'choose':
      return `(${testCode(e.test)} ? ${f64Code(e.then)} : ${f64Code(e.else)})`;
  }
}

function comparison(test: Test): string {
  switch (test.is) {
    case 'compare': {
      const fn = test.fn === '==' || test.fn === '!=' ? `${test.fn}=` : test.fn;
      return `${f64Code(test.left)} ${fn} ${f64Code(test.right)}`;
    }
    case 'and':
    case 'or':
      return `(${comparison(test.left)} ${test.is === 'and' ? '&&' : '||'} ${comparison(test.right)})`;
    case 'not':
      return `!(${comparison(test.test)})`;
  }
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
    case 'i32 choose':
      return `(${testCode(e.test)} ? ${i32Code(e.then)} : ${i32Code(e.else)})`;
    case 'i32 binary':
      if (e.fn === '<' || e.fn === '==' || e.fn === 'or') return `(${testCode(e)} ? 1 : 0)`;
      if (e.fn === 'imul') return `Math.imul(${i32Code(e.left)}, ${i32Code(e.right)})`;
      if (e.fn !== '+' && e.fn !== '-' && e.fn !== '*')
        return `(${i32Code(e.left)} ${OF_WORDS[e.fn]} ${i32Code(e.right)}${e.fn === 'add' ? ' | 0' : ''})`;
      return e.fn === '*'
        ? `${factor(e.left)} * ${factor(e.right)}`
        : `${i32Code(e.left)} ${e.fn} ${e.fn === '-' ? factor(e.right) : i32Code(e.right)}`;
  }
}

const OF_WORDS = { xor: '^', bits: '|', shl: '<<', shr: '>>>', add: '+' } as const;

function factor(e: I32): string {
  return e.is === 'i32 binary' ? `(${i32Code(e)})` : i32Code(e);
}

/** A whole number as a condition. */
function testCode(e: I32): string {
  if (e.is !== 'i32 binary') return `${i32Code(e)} !== 0`;
  switch (e.fn) {
    case '<':
      return `${i32Code(e.left)} < ${i32Code(e.right)}`;
    case '==':
      return `${i32Code(e.left)} === ${i32Code(e.right)}`;
    case 'or':
      return `${testCode(e.left)} || ${testCode(e.right)}`;
    default:
      return `${i32Code(e)} !== 0`;
  }
}
