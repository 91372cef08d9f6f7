import type {
  AttributeSymbol, CalendarDate, CheckedClock, DeriveSymbol, FieldSymbol, KindSymbol, LocalSymbol, MachineSymbol, MeasureSymbol, ParameterSymbol, SpaceSymbol, StateSymbol,
} from './checked.ts';
import type { Environment } from './environment.ts';
import * as say from './messages.ts';
import type { Quantity, Scales } from './scales.ts';
import { constantOf, displayUnitOf } from './scales.ts';
import type * as Ast from './syntax.ts';
import { partsOf } from './syntax.ts';
import type { Type } from './types.ts';
import { isPlain, number, PLAIN, sameDimension, sayDimension, TIME, UNKNOWN, YESNO } from './types.ts';
import type { Unit } from './units.ts';
import { unitOf } from './units.ts';

/** Finds the base units of a model from its clock and its space. */
export function findScales(tree: Ast.SyntaxTree): Scales {
  const clock = partsOf(tree, 'clock')[0];
  const space = partsOf(tree, 'space')[0];
  const time = clock?.step ? firstUnit(clock.step, 'time') : undefined;
  const length = space ? (firstUnit(space.width, 'length') ?? firstUnit(space.height, 'length')) : undefined;
  const scales: Scales = { time, length, stepLength: 1 };
  const step = clock?.step && time ? constantOf(clock.step, scales) : undefined;
  return { time, length, stepLength: step && step.value > 0 ? step.value : 1 };
}

function firstUnit(expr: Ast.Expr, base: 'time' | 'length'): Unit | undefined {
  switch (expr.is) {
    case 'number':
    case 'with unit': {
      const unit = expr.unit && unitOf(expr.unit.key);
      return unit?.base === base ? unit : undefined;
    }
    case 'binary':
      return firstUnit(expr.left, base) ?? firstUnit(expr.right, base);
    case 'brackets':
    case 'unary':
      return firstUnit(expr.value, base);
    default:
      return undefined;
  }
}

/** Gives every part of a model its symbol; names that are taken twice are reported at the second one. */
export class Declarer {
  private readonly globals = new Map<string, string>();

  constructor(
    private readonly env: Environment,
    private readonly tree: Ast.SyntaxTree,
  ) {}

  private claim(name: Ast.Name, what: string, names: Map<string, string> = this.globals): boolean {
    const taken = names.get(name.key);
    if (taken) this.env.report(say.takenName(name.span, name.text, taken));
    else names.set(name.key, what);
    this.env.spell(name, name.text);
    return !taken;
  }

  private single<K extends Ast.AnyPart['is']>(is: K): Ast.PartOf<K> | undefined {
    const [first, ...others] = partsOf(this.tree, is);
    for (const part of others) this.env.report(say.onlyOne(part.span, is));
    return first;
  }

  clock(): CheckedClock {
    const env = this.env;
    const part = this.single('clock');
    const { scales } = env;
    const unit = { label: scales.time?.label ?? 'steps', factor: 1 };
    if (part?.step) {
      const step = constantOf(part.step, scales);
      if (!step) env.report(say.notConstant(part.step.span));
      else if (!step.dim || !sameDimension(step.dim, TIME)) env.report(say.timeWithoutUnit(part.step.span, env.textOf(part.step.span)));
      else if (step.value <= 0) env.report(say.notPositive(part.step.span, 'A step'));
    }
    const start = part?.from ? calendarDate(part.from.text) : undefined;
    if (part?.from && !start) env.report(say.noSuchDay(part.from.span, part.from.text));
    env.hasCalendar = start !== undefined;
    return { part, stepLength: scales.stepLength, start, unit };
  }

  space(): SpaceSymbol | undefined {
    const spaces = partsOf(this.tree, 'space');
    for (const other of spaces.slice(1)) this.env.report(say.notYetSeveralSpaces(other.span));
    const part = spaces[0];
    if (!part) return undefined;
    this.env.spell(part.name, part.name.text);
    const unit = { label: this.env.scales.length?.label ?? '', factor: 1 };
    return {
      is: 'space', name: part.name.text, key: part.name.key, index: 0, span: part.name.span, about: part.about, form: part.form, edge: part.edge ?? 'walled',
      neighbours: part.neighbours === 4 ? 4 : 8, oneAgentACell: part.oneAgentACell, unit, part,
    };
  }

  parameters(): void {
    for (const part of partsOf(this.tree, 'parameter')) {
      if (!this.claim(part.name, 'a parameter')) continue;
      const symbol = this.parameter(part, this.env.parameters.size);
      this.env.parameters.set(part.name.key, symbol);
    }
  }

  private parameter(part: Ast.ParameterPart, index: number): ParameterSymbol {
    const base = { is: 'parameter' as const, name: part.name.text, key: part.name.key, index, span: part.name.span, about: part.about, part };
    const plain = { ...base, whole: false, unit: { label: '', factor: 1 } };
    if (part.value.is === 'yesno') return { ...plain, type: YESNO, value: part.value.value ? 1 : 0 };
    if (part.choices) {
      const usual = (part.value as Ast.ExprOf<'path'>).names[0]!;
      const options = part.choices.map((choice) => choice.text);
      const value = part.choices.findIndex((choice) => choice.key === usual.key);
      if (value < 0) this.env.report(say.unknownChoice(usual.span, usual.text, options, undefined));
      return { ...plain, type: { is: 'choice', options }, value };
    }
    const constant = constantOf(part.value, this.env.scales);
    if (!constant || !Number.isFinite(constant.value)) {
      this.env.report(say.notConstant(part.value.span));
      return { ...plain, type: UNKNOWN, value: 0 };
    }
    const bound = part.bound && this.bounds(part, constant);
    if (part.whole && !Number.isInteger(constant.value)) this.env.report(say.needsWhole(part.value.span, this.env.textOf(part.value.span)));
    const whole = part.whole;
    const unit = displayUnitOf(part.value, this.env.scales, constant.dim);
    return { ...base, type: number(constant.dim ?? bound?.dim ?? PLAIN, whole), value: constant.value, min: bound?.min, max: bound?.max, whole, unit };
  }

  /** Plain numbers in bounds take the unit of the value (D24). */
  private bounds(part: Ast.ParameterPart, value: Quantity): { min: number; max: number; dim: Quantity['dim'] } | undefined {
    const { env } = this;
    const bound = part.bound!;
    const unit = displayUnitOf(part.value, env.scales, value.dim);
    const read = (expr: Ast.Expr): number | undefined => {
      const constant = constantOf(expr, env.scales);
      if (!constant) {
        env.report(say.notConstant(expr.span));
        return undefined;
      }
      const dim = constant.dim ?? PLAIN;
      if (isPlain(dim)) return constant.value * unit.factor;
      if (value.dim && !sameDimension(dim, value.dim)) env.report(say.wrongDimension(expr.span, sayDimension(value.dim), sayDimension(dim)));
      return constant.value;
    };
    const min = read(bound.from);
    const max = read(bound.to);
    if (min === undefined || max === undefined) return undefined;
    if (min >= max) env.report(say.emptyBounds(bound.span));
    else if (value.value < min || value.value > max) env.report(say.outOfBounds(part.value.span, part.name.text, env.textOf(bound.span)));
    return { min, max, dim: value.dim };
  }

  variables(): void {
    for (const part of partsOf(this.tree, 'variable')) {
      if (!this.claim(part.name, 'a variable')) continue;
      const { name } = part;
      const type: Type = part.choices ? { is: 'choice', options: part.choices.map((choice) => choice.text) } : UNKNOWN;
      this.env.variables.set(name.key, { is: 'variable', name: name.text, key: name.key, index: this.env.variables.size, span: name.span, about: part.about, type, part });
    }
  }

  fields(): void {
    for (const part of partsOf(this.tree, 'field')) {
      if (!this.claim(part.name, 'a field')) continue;
      const { space } = this.env;
      if (!space) this.env.report(say.noSpace(part.span, 'A field'));
      else if (space.key !== part.space.key) this.env.report(say.unknownSpace(part.space.span, part.space.text, space.name));
      else this.env.spell(part.space, space.name);
      const symbol: FieldSymbol = { is: 'field', name: part.name.text, key: part.name.key, index: this.env.fields.size, span: part.name.span, about: part.about, part };
      this.env.fields.set(part.name.key, symbol);
    }
  }

  kinds(): void {
    const names = new Map<string, string>();
    for (const part of partsOf(this.tree, 'agent')) {
      if (!this.claim(part.name, 'a kind', names)) continue;
      const { space } = this.env;
      if (part.space && part.space.key !== space?.key) this.env.report(say.unknownSpace(part.space.span, part.space.text, space?.name));
      this.env.kinds.set(part.name.key, this.kind(part, this.env.kinds.size));
    }
  }

  private kind(part: Ast.AgentPart, index: number): KindSymbol {
    const names = new Map<string, string>(['x', 'y', 'direction', 'number', 'place'].map((word) => [word, 'something every agent has']));
    const { env } = this;
    const attributes: AttributeSymbol[] = [];
    for (const line of part.has) {
      if (!this.claim(line.name, `an attribute of ${part.name.text}`, names)) continue;
      if (this.globals.has(line.name.key)) env.report(say.takenName(line.name.span, line.name.text, this.globals.get(line.name.key)!));
      const dim = constantOf(line.value, env.scales)?.dim;
      attributes.push({
        is: 'attribute', name: line.name.text, key: line.name.key, index: attributes.length, span: line.name.span, about: line.about,
        type: UNKNOWN, unit: displayUnitOf(line.value, env.scales, dim), line,
      });
    }
    const derives: DeriveSymbol[] = [];
    for (const line of part.derives) {
      if (!this.claim(line.name, `a derived attribute of ${part.name.text}`, names)) continue;
      derives.push({ is: 'derive', name: line.name.text, key: line.name.key, index: derives.length, span: line.name.span, about: line.about, type: UNKNOWN, line });
    }
    const machines: MachineSymbol[] = [];
    for (const machine of part.states) {
      if (this.claim(machine.name, `a state machine of ${part.name.text}`, names)) machines.push(this.machine(machine, machines.length));
    }
    for (const behaviour of part.behaviours) this.claim(behaviour.name, `a behaviour of ${part.name.text}`, names);
    const self: LocalSymbol = { is: 'local', name: 'self', span: part.name.span, type: { is: 'agent', kind: part.name.text } };
    return { is: 'kind', name: part.name.text, key: part.name.key, index, span: part.name.span, about: part.about, attributes, derives, machines, part, self };
  }

  private machine(part: Ast.StatesPart, index: number): MachineSymbol {
    const names = new Map<string, string>();
    const states: StateSymbol[] = [];
    for (const state of part.states) {
      if (this.claim(state.name, `a state of ${part.name.text}`, names)) states.push({ name: state.name.text, key: state.name.key, span: state.name.span, part: state });
    }
    const type = { is: 'choice' as const, options: states.map((state) => state.name), machine: part.name.text };
    return { is: 'machine', name: part.name.text, key: part.name.key, index, span: part.name.span, about: part.about, type, states, part };
  }

  measures(): void {
    for (const part of this.tree.parts) {
      if (part.is !== 'measure' && part.is !== 'summary') continue;
      if (!this.claim(part.name, `a ${part.is}`)) continue;
      const target = part.is === 'measure' ? this.env.measures : this.env.summaries;
      const symbol: MeasureSymbol = { is: 'measure', name: part.name.text, key: part.name.key, index: target.size, span: part.name.span, about: part.about, type: UNKNOWN, part };
      target.set(part.name.key, symbol);
    }
  }
}

/** A date as written, or undefined if there is no such day. */
export function calendarDate(text: string): CalendarDate | undefined {
  const [year, month, day] = text.split('-').map(Number) as [number, number, number];
  const leap = (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
  const lengths = [31, leap ? 29 : 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
  return month >= 1 && month <= 12 && day >= 1 && day <= lengths[month - 1]! ? { year, month, day } : undefined;
}
