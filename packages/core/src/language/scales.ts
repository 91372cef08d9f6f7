import type { DisplayUnit } from './checked.ts';
import type { Expr, Name } from './syntax.ts';
import type { Dimension } from './types.ts';
import { ANGLE, combine, isPlain, LENGTH, PLAIN, power, sameDimension, TIME } from './types.ts';
import type { OwnUnit, Unit } from './units.ts';
import { STEP_WORDS, unitOf } from './units.ts';

/**
 * The base units of a model: values inside a run are in the unit of the clock's step, in the unit of the space's size,
 * and in degrees, so that numbers look inside as they look in the text.
 */
export interface Scales {
  /** Undefined without a clock: then time is counted in steps. */
  readonly time: Unit | undefined;
  readonly length: Unit | undefined;
  /** Length of a step in base units of time. */
  readonly stepLength: number;
  /** Units that the model declares, by lower-cased word. */
  readonly own: ReadonlyMap<string, OwnUnit>;
}

export interface Quantity {
  readonly value: number;
  /** Undefined for a literal 0. */
  readonly dim: Dimension | undefined;
}

export interface UnitScale {
  readonly factor: number;
  readonly dim: Dimension;
}

const DIMENSIONS = { time: TIME, length: LENGTH, angle: ANGLE };
const DEGREE = unitOf('deg')!;

/** Size of a unit in base units; undefined for a unit of time without a clock. */
export function unitScale(word: string, scales: Scales): UnitScale | undefined {
  if (STEP_WORDS.has(word)) return { factor: scales.stepLength, dim: TIME };
  const own = scales.own.get(word);
  if (own) return own.base in DIMENSIONS ? ownScale(own, scales) : { factor: own.size, dim: { [own.base]: 1 } };
  const unit = unitOf(word);
  if (!unit) return undefined;
  const base = unit.base === 'angle' ? DEGREE : scales[unit.base];
  if (!base && unit.base === 'time') return undefined;
  return { factor: unit.size / (base ?? unit).size, dim: DIMENSIONS[unit.base] };
}

/** A unit such as `unit mile = 1609 m`, in the base units of the model. */
function ownScale(own: OwnUnit, scales: Scales): UnitScale | undefined {
  const dim = DIMENSIONS[own.base as keyof typeof DIMENSIONS];
  const base = own.base === 'angle' ? DEGREE : scales[own.base as 'time' | 'length'];
  return base || own.base !== 'time' ? { factor: own.size / (base?.size ?? 1), dim } : undefined;
}

/** The value of an expression made of numbers, units and arithmetic only; undefined for any other or one that does not fit. */
export function constantOf(expr: Expr, scales: Scales): Quantity | undefined {
  switch (expr.is) {
    case 'number': {
      if (!expr.unit) return { value: expr.value, dim: expr.value === 0 ? undefined : PLAIN };
      const scale = unitScale(expr.unit.key, scales);
      return scale && { value: expr.value * scale.factor, dim: scale.dim };
    }
    case 'percent':
      return { value: expr.value, dim: PLAIN };
    case 'brackets':
      return constantOf(expr.value, scales);
    case 'with unit': {
      const scale = unitScale(expr.unit.key, scales);
      const value = constantOf(expr.value, scales);
      return value && scale && (value.dim === undefined || isPlain(value.dim))
        ? { value: value.value * scale.factor, dim: scale.dim }
        : undefined;
    }
    case 'per': {
      const scale = unitScale(expr.unit.key, scales);
      const value = constantOf(expr.value, scales);
      return (
        value &&
        scale && { value: value.value / (expr.count * scale.factor), dim: combine(value.dim ?? PLAIN, scale.dim, -1) }
      );
    }
    case 'unary': {
      const value = expr.op === '-' ? constantOf(expr.value, scales) : undefined;
      return value && { value: -value.value, dim: value.dim };
    }
    case 'binary':
      return constantBinary(expr.op, constantOf(expr.left, scales), constantOf(expr.right, scales));
    default:
      return undefined;
  }
}

/** The first unit of an expression that has no size: one of time, without a clock that says how long a step is. */
export function unitWithoutSize(expr: Expr, scales: Scales): Name | undefined {
  switch (expr.is) {
    case 'number':
      return expr.unit && !unitScale(expr.unit.key, scales) ? expr.unit : undefined;
    case 'with unit':
    case 'per':
      return unitScale(expr.unit.key, scales) ? unitWithoutSize(expr.value, scales) : expr.unit;
    case 'brackets':
    case 'unary':
      return unitWithoutSize(expr.value, scales);
    case 'binary':
      return unitWithoutSize(expr.left, scales) ?? unitWithoutSize(expr.right, scales);
    default:
      return undefined;
  }
}

function constantBinary(op: string, a: Quantity | undefined, b: Quantity | undefined): Quantity | undefined {
  if (!a || !b) return undefined;
  const aDim = a.dim ?? PLAIN;
  const bDim = b.dim ?? PLAIN;
  switch (op) {
    case '+':
    case '-': {
      if (a.dim && b.dim && !sameDimension(a.dim, b.dim)) return undefined;
      return { value: op === '+' ? a.value + b.value : a.value - b.value, dim: a.dim ?? b.dim };
    }
    case '*':
      return { value: a.value * b.value, dim: combine(aDim, bDim, 1) };
    case '/':
      return { value: a.value / b.value, dim: combine(aDim, bDim, -1) };
    case '^': {
      if (!isPlain(bDim) || !Number.isInteger(b.value) || Math.abs(b.value) > 32) return undefined;
      let value = 1;
      for (let i = 0; i < Math.abs(b.value); i++) value *= a.value;
      return { value: b.value < 0 ? 1 / value : value, dim: power(aDim, b.value) };
    }
    default:
      return undefined;
  }
}

/** The unit in which the text states a value: `0.2 per day` is shown per day. Plain values have an empty label. */
export function displayUnitOf(expr: Expr, scales: Scales, dim: Dimension | undefined): DisplayUnit {
  return statedUnit(expr, scales) ?? baseUnit(dim ?? PLAIN, scales);
}

function statedUnit(expr: Expr, scales: Scales): DisplayUnit | undefined {
  switch (expr.is) {
    case 'number':
    case 'with unit': {
      const scale = expr.unit && unitScale(expr.unit.key, scales);
      return scale && { label: expr.unit.text, factor: scale.factor };
    }
    case 'per': {
      const scale = unitScale(expr.unit.key, scales);
      if (!scale) return undefined;
      const over = statedUnit(expr.value, scales);
      const count = expr.count === 1 ? '' : `${expr.count} `;
      return {
        label: `${over ? `${over.label} ` : ''}per ${count}${expr.unit.text}`,
        factor: (over?.factor ?? 1) / (expr.count * scale.factor),
      };
    }
    case 'brackets':
      return statedUnit(expr.value, scales);
    case 'unary':
      return statedUnit(expr.value, scales);
    case 'call': {
      for (const arg of expr.args) {
        const unit = statedUnit(arg.value, scales);
        if (unit) return unit;
      }
      return undefined;
    }
    default:
      return undefined;
  }
}

/** The unit in which values of a dimension are kept inside a run. */
export function baseUnit(dim: Dimension, scales: Scales): DisplayUnit {
  const labels: Record<string, string> = {
    time: scales.time?.label ?? 'steps',
    length: scales.length?.label ?? '',
    angle: 'deg',
  };
  const over: string[] = [];
  const under: string[] = [];
  for (const [base, exponent] of Object.entries(dim)) {
    for (let i = 0; i < Math.abs(exponent); i++) (exponent > 0 ? over : under).push(labels[base] ?? base);
  }
  return {
    label: [over.join(' '), ...under.map((unit) => `per ${unit.replace(/s$/, '')}`)].filter(Boolean).join(' '),
    factor: 1,
  };
}
