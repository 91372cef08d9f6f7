import type { CivilDate } from '../calendar/civil.ts';
import { daysFromCivil, weekdayOf } from '../calendar/civil.ts';
import type {
  AttributeSymbol,
  CheckedClock,
  DeriveSymbol,
  FieldSymbol,
  KindSymbol,
  LocalSymbol,
  MachineSymbol,
  ParameterSymbol,
  SpaceSymbol,
  StateGroup,
  StateSymbol,
} from './checked.ts';
import type { Span } from '../diagnostics.ts';
import { lanesOfPart } from './check-maps.ts';
import type { Environment } from './environment.ts';
import { wordsOfField } from './field-words.ts';
import { MeasureDeclarer } from './declare-measures.ts';
import { nearestWord } from './near-names.ts';
import * as say from './meaning-messages.ts';
import type { Quantity, Scales } from './scales.ts';
import { constantOf, displayUnitOf, unitWithoutSize } from './scales.ts';
import type * as Ast from './syntax.ts';
import { partsOf } from './syntax.ts';
import type { Type } from './types.ts';
import {
  choiceOf,
  isPlain,
  LENGTH,
  number,
  PLAIN,
  sameDimension,
  sayDimension,
  TIME,
  UNKNOWN,
  withArticle,
  YESNO,
} from './types.ts';
import type { OwnUnit, Unit } from './units.ts';
import { isUnitWord, unitOf } from './units.ts';

/** Finds the base units of a model from its clock and its space. */
export function findScales(tree: Ast.SyntaxTree): Scales {
  const clock = partsOf(tree, 'clock')[0];
  const time = clock?.step ? firstUnit(clock.step, 'time') : undefined;
  const length = partsOf(tree, 'space')
    .map(lengthUnit)
    .find((unit) => unit !== undefined);
  const own = ownUnits(tree);
  const scales: Scales = { time, length, stepLength: 1, own };
  const step = clock?.step && time ? constantOf(clock.step, scales) : undefined;
  return { time, length, stepLength: step && step.value > 0 ? step.value : 1, own };
}

/** The units a model declares; one that is no multiple of another is a base of its own. */
function ownUnits(tree: Ast.SyntaxTree): Map<string, OwnUnit> {
  const own = new Map<string, OwnUnit>();
  for (const { name, of } of partsOf(tree, 'unit')) {
    const known = of && (own.get(of.unit.key) ?? unitOf(of.unit.key));
    if (!of) own.set(name.key, { base: name.key, size: 1, label: name.text });
    else if (known) own.set(name.key, { base: known.base, size: of.count * known.size, label: name.text });
  }
  return own;
}

/** Maps are measured in metres. */
function lengthUnit({ map, form, width, height, cell }: Ast.SpacePart): Unit | undefined {
  if (map) return unitOf('m');
  if (form === 'grid' && cell) return firstUnit(cell, 'length');
  return (width && firstUnit(width, 'length')) ?? (height && firstUnit(height, 'length'));
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
    this.env.stands(name, name);
    return !taken;
  }

  units(): void {
    for (const part of partsOf(this.tree, 'unit')) {
      if (isUnitWord(part.name.key))
        this.env.report(say.takenName(part.name.span, part.name.text, 'a unit of the language'));
      const { of } = part;
      if (of && !isUnitWord(of.unit.key) && !this.env.scales.own.has(of.unit.key))
        this.env.report(say.unknownUnit(of.unit.span, of.unit.text));
    }
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
      else if (!step.dim || !sameDimension(step.dim, TIME))
        env.report(say.timeWithoutUnit(part.step.span, env.textOf(part.step.span)));
      else if (step.value <= 0) env.report(say.notPositive(part.step.span, 'A step'));
    }
    const date = part?.from ? calendarDate(part.from.text) : undefined;
    const start = date && { ...date, ...(part?.from?.hours ? { seconds: part.from.hours * 3600 } : {}) };
    if (part?.from && !start) env.report(say.noSuchDay(part.from.span, part.from.text));
    env.hasCalendar = start !== undefined;
    env.firstWeekday = start && weekdayOf(daysFromCivil(start.year, start.month, start.day)) - 1;
    return { part, stepLength: scales.stepLength, start, unit };
  }

  spaces(): void {
    const { spaces, scales } = this.env;
    const names = new Map<string, string>();
    for (const part of partsOf(this.tree, 'space')) {
      if (!this.claim(part.name, 'a space', names)) continue;
      const isLong = lengthUnit(part) !== undefined;
      spaces.set(part.name.key, {
        is: 'space',
        name: part.name.text,
        key: part.name.key,
        index: spaces.size,
        span: part.name.span,
        about: part.about,
        form: part.form === 'grid' && part.neighbours === 6 ? 'hexagons' : part.form,
        edge: part.edge ?? 'walled',
        neighbours: part.neighbours ?? 8,
        oneAgentACell: part.oneAgentACell,
        cellLength: part.form === 'grid' && part.cell ? constantOf(part.cell, scales)?.value : undefined,
        dim: isLong ? LENGTH : PLAIN,
        unit: { label: isLong ? scales.length!.label : '', factor: 1 },
        part,
        lanes: part.map && lanesOfPart({ env: this.env, map: part.map }),
      });
    }
  }

  parameters(): void {
    for (const part of partsOf(this.tree, 'parameter')) {
      if (!this.claim(part.name, 'a parameter')) continue;
      const symbol = this.parameter(part, this.env.parameters.size);
      this.env.parameters.set(part.name.key, symbol);
    }
  }

  private parameter(part: Ast.ParameterPart, index: number): ParameterSymbol {
    const base = {
      is: 'parameter' as const,
      name: part.name.text,
      key: part.name.key,
      index,
      span: part.name.span,
      about: part.about,
      part,
    };
    const plain = { ...base, whole: false, unit: { label: '', factor: 1 } };
    if (part.value.is === 'yesno') return { ...plain, type: YESNO, value: part.value.value ? 1 : 0 };
    if (part.choices) {
      const usual = (part.value as Ast.ExprOf<'path'>).names[0]!;
      const options = part.choices.map((choice) => choice.text);
      const value = part.choices.findIndex((choice) => choice.key === usual.key);
      if (value < 0) this.env.report(say.unknownChoice(usual.span, usual.text, options, undefined));
      for (const choice of part.choices) this.env.stands(choice, choice);
      if (value >= 0) this.env.stands(usual, part.choices[value]!);
      return { ...plain, type: choiceOf(part.choices), value };
    }
    const constant = constantOf(part.value, this.env.scales);
    if (!constant || !Number.isFinite(constant.value)) {
      const unit = unitWithoutSize(part.value, this.env.scales);
      this.env.report(unit ? say.stepUnitOnly(unit.span) : say.notConstant(part.value.span));
      return { ...plain, type: UNKNOWN, value: 0 };
    }
    const bound = part.bound && this.bounds(part, constant);
    if (part.whole && !Number.isInteger(constant.value))
      this.env.report(say.needsWhole(part.value.span, this.env.textOf(part.value.span)));
    const whole = part.whole;
    const unit = displayUnitOf(part.value, this.env.scales, constant.dim);
    return {
      ...base,
      type: number(constant.dim ?? bound?.dim ?? PLAIN, whole),
      value: constant.value,
      min: bound?.min,
      max: bound?.max,
      whole,
      unit,
    };
  }

  /** Plain numbers in bounds take the unit of the value (D24). */
  private bounds(
    part: Ast.ParameterPart,
    value: Quantity,
  ): { min: number; max: number; dim: Quantity['dim'] } | undefined {
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
      if (value.dim && !sameDimension(dim, value.dim))
        env.report(say.wrongDimension(expr.span, sayDimension(value.dim), sayDimension(dim)));
      return constant.value;
    };
    const min = read(bound.from);
    const max = read(bound.to);
    if (min === undefined || max === undefined) return undefined;
    if (min >= max) env.report(say.emptyBounds(bound.span));
    else if (value.value < min || value.value > max)
      env.report(say.outOfBounds(part.value.span, part.name.text, env.textOf(bound.span)));
    return { min, max, dim: value.dim };
  }

  variables(): void {
    for (const part of partsOf(this.tree, 'variable')) {
      if (!this.claim(part.name, 'a variable')) continue;
      const { name } = part;
      const type: Type = part.choices ? choiceOf(part.choices) : UNKNOWN;
      for (const choice of part.choices ?? []) this.env.stands(choice, choice);
      this.env.variables.set(name.key, {
        is: 'variable',
        name: name.text,
        key: name.key,
        index: this.env.variables.size,
        span: name.span,
        about: part.about,
        type,
        part,
      });
    }
  }

  derives(): void {
    const { derives } = this.env;
    for (const part of partsOf(this.tree, 'derive'))
      if (this.claim(part.name, 'a derived value')) derives.set(part.name.key, deriveSymbol(part, derives.size));
  }

  fields(): void {
    for (const part of partsOf(this.tree, 'field')) {
      if (!this.claim(part.name, 'a field')) continue;
      const space = this.onSpace(part.space, part.span, 'A field');
      const words = wordsOfField(this.tree, part);
      for (const word of words ?? []) this.env.stands(word, word);
      const symbol: FieldSymbol = {
        is: 'field',
        name: part.name.text,
        key: part.name.key,
        index: this.env.fields.size,
        span: part.name.span,
        about: part.about,
        space,
        type: words ? choiceOf(words) : UNKNOWN,
        part,
      };
      this.env.fields.set(part.name.key, symbol);
    }
  }

  kinds(): void {
    const names = new Map<string, string>();
    for (const part of partsOf(this.tree, 'agent')) {
      if (!this.claim(part.name, 'a kind', names)) continue;
      this.env.kinds.set(part.name.key, this.kind(part, this.env.kinds.size));
    }
  }

  private kind(part: Ast.AgentPart, index: number): KindSymbol {
    const names = new Map<string, string>(
      ['x', 'y', 'direction', 'number', 'place'].map((word) => [word, 'something every agent has']),
    );
    const attributes = this.attributes(part.has, part.name.text, names);
    const derives: DeriveSymbol[] = [];
    for (const line of part.derives) {
      if (this.claim(line.name, `a derived attribute of ${part.name.text}`, names))
        derives.push(deriveSymbol(line, derives.length));
    }
    const machines: MachineSymbol[] = [];
    for (const machine of part.states) {
      if (this.claim(machine.name, `a state machine of ${part.name.text}`, names))
        machines.push(this.machine(machine, machines.length));
    }
    for (const behaviour of part.behaviours) this.claim(behaviour.name, `a behaviour of ${part.name.text}`, names);
    for (const formula of [...part.defines, ...part.routines])
      this.claim(formula.name, `a ${formula.is === 'define' ? 'formula' : 'routine'} of ${part.name.text}`, names);
    const self: LocalSymbol = {
      is: 'local',
      name: 'self',
      span: part.name.span,
      type: { is: 'agent', kind: part.name.text },
    };
    const space = this.spaceOf(part);
    return {
      is: 'kind',
      name: part.name.text,
      key: part.name.key,
      index,
      span: part.name.span,
      about: part.about,
      space,
      attributes,
      derives,
      seats: part.seats?.value,
      machines,
      part,
      self,
    };
  }

  /** Where there is one space, every kind lives on it. */
  private spaceOf(part: Ast.AgentPart): SpaceSymbol | undefined {
    const { env } = this;
    if (part.space) return this.onSpace(part.space, part.space.span, '“on”');
    if (env.spaces.size > 1)
      env.report(
        say.whichSpace(
          part.name.span,
          part.name.text,
          [...env.spaces.values()].map((space) => space.name),
        ),
      );
    return env.firstSpace;
  }

  private attributes(lines: readonly Ast.HasLine[], owner: string, names: Map<string, string>): AttributeSymbol[] {
    const { env } = this;
    const attributes: AttributeSymbol[] = [];
    for (const line of lines) {
      if (!this.claim(line.name, `an attribute of ${owner}`, names)) continue;
      if (this.globals.has(line.name.key))
        env.report(say.takenName(line.name.span, line.name.text, this.globals.get(line.name.key)!));
      const dim = constantOf(line.value, env.scales)?.dim;
      attributes.push({
        is: 'attribute',
        name: line.name.text,
        key: line.name.key,
        index: attributes.length,
        span: line.name.span,
        about: line.about,
        type: UNKNOWN,
        unit: displayUnitOf(line.value, env.scales, dim),
        line,
      });
    }
    return attributes;
  }

  private machine(part: Ast.StatesPart, index: number): MachineSymbol {
    const names = new Map<string, string>();
    const states: StateSymbol[] = [];
    const groups: StateGroup[] = [];
    const collect = (list: readonly Ast.StatePart[], outer: readonly StateGroup[]): void => {
      for (const state of list) {
        if (!this.claim(state.name, `a state of ${part.name.text}`, names)) continue;
        const base = { name: state.name.text, key: state.name.key, span: state.name.span, part: state };
        if (state.states.length === 0) {
          for (const group of outer) group.members.push(states.length);
          states.push({ ...base, groups: outer });
          continue;
        }
        const group: StateGroup = { ...base, members: [] };
        groups.push(group);
        collect(state.states, [...outer, group]);
      }
    };
    collect(part.states, []);
    const type = {
      is: 'choice' as const,
      options: states.map((state) => state.name),
      spans: states.map((state) => state.span),
      machine: part.name.text,
      groups,
    };
    return {
      is: 'machine',
      name: part.name.text,
      key: part.name.key,
      index,
      span: part.name.span,
      about: part.about,
      type,
      states,
      groups,
      part,
    };
  }

  tallies(): void {
    for (const part of partsOf(this.tree, 'tally')) {
      if (!this.claim(part.name, 'a tally')) continue;
      const { name } = part;
      this.env.tallies.set(name.key, {
        is: 'tally',
        name: name.text,
        key: name.key,
        index: this.env.tallies.size,
        span: name.span,
        about: part.about,
        type: number(undefined),
        part,
      });
    }
  }

  zones(): void {
    const names = new Map<string, string>();
    for (const part of this.tree.parts) {
      if (part.is !== 'zone' && part.is !== 'obstacle') continue;
      if (!this.claim(part.name, withArticle(part.is), names)) continue;
      const space = this.onSpace(part.space, part.span, part.is === 'zone' ? 'A zone' : 'An obstacle');
      const { name } = part;
      this.env.zones.set(name.key, {
        is: 'zone',
        name: name.text,
        key: name.key,
        index: this.env.zones.size,
        span: name.span,
        about: part.about,
        space,
        part,
      });
    }
  }

  private onSpace(named: Ast.Name, span: Span, what: string): SpaceSymbol | undefined {
    const { env } = this;
    if (env.spaces.size === 0) env.report(say.noSpace(span, what));
    else return env.spaceNamed(named);
    return undefined;
  }

  /** Formulas and routines of the whole model. */
  formulas(): void {
    for (const part of this.tree.parts) {
      if (part.is === 'define' && this.claim(part.name, 'a formula')) this.env.defines.set(part.name.key, part);
      if (part.is === 'routine' && this.claim(part.name, 'a routine')) this.env.routineParts.set(part.name.key, part);
    }
  }

  networks(): void {
    const names = new Map<string, string>();
    for (const part of partsOf(this.tree, 'network')) {
      if (!this.claim(part.name, 'a network', names)) continue;
      const [from, to] = part.kinds.map((name) => {
        const kind = this.env.kinds.get(name.key);
        if (kind) {
          this.env.stands(name, kind);
          this.env.use(kind);
        } else
          this.env.report(
            say.unknownKind(
              name.span,
              name.text,
              nearestWord(
                name.text,
                [...this.env.kinds.values()].map((k) => k.name),
              ),
            ),
          );
        return kind;
      });
      if (!from || !to) continue;
      const { name } = part;
      const attributes = this.attributes(part.has, part.name.text, new Map([['other', 'something every tie has']]));
      this.env.networks.set(name.key, {
        is: 'network',
        name: name.text,
        key: name.key,
        index: this.env.networks.size,
        span: name.span,
        about: part.about,
        from,
        to,
        directed: part.directed,
        attributes,
        part,
      });
    }
  }

  messages(): void {
    const names = new Map<string, string>();
    for (const part of partsOf(this.tree, 'message')) {
      if (!this.claim(part.name, 'a message', names)) continue;
      const { name } = part;
      const attributes = this.attributes(
        part.has,
        part.name.text,
        new Map([['sender', 'something every message has']]),
      );
      this.env.messages.set(name.key, {
        is: 'message',
        name: name.text,
        key: name.key,
        index: this.env.messages.size,
        span: name.span,
        about: part.about,
        attributes,
        senders: new Set(),
        part,
      });
    }
  }

  measures(): MeasureDeclarer {
    const { env, tree } = this;
    const parts = tree.parts.flatMap((part) =>
      (part.is === 'measure' || part.is === 'summary') && this.claim(part.name, `a ${part.is}`) ? [part] : [],
    );
    return new MeasureDeclarer(env, tree, parts);
  }
}

function deriveSymbol(line: Ast.DeriveLine, index: number): DeriveSymbol {
  const { name, about } = line;
  return { is: 'derive', name: name.text, key: name.key, index, span: name.span, about, type: UNKNOWN, line };
}

/** A date as written, or undefined if there is no such day. */
function calendarDate(text: string): CivilDate | undefined {
  const [year, month, day] = text.split('-').map(Number) as [number, number, number];
  const leap = (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
  const lengths = [31, leap ? 29 : 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
  return month >= 1 && month <= 12 && day >= 1 && day <= lengths[month - 1]! ? { year, month, day } : undefined;
}
