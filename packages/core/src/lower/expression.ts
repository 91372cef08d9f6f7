import { formOf } from '../forms/forms.ts';
import { daysFromCivil } from '../engine/calendar.ts';
import type { Ref } from '../language/checked.ts';
import { FUNCTIONS } from '../language/functions.ts';
import { unitScale } from '../language/scales.ts';
import type * as Ast from '../language/syntax.ts';
import { binary, local, num, shownFactor, times } from './body-lowerer.ts';
import { QueryLowerer } from './query.ts';
import { rasterOfSpace } from '../plan/plan.ts';
import type { Expr, Statement } from '../plan/plan.ts';
import type { Law } from '../plan/functions.ts';
import { isPureFunction, PURE_FUNCTIONS } from '../plan/functions.ts';

/** Turns the expressions of one body into plan expressions; what loops or draws becomes statements before them. */
export abstract class ExpressionLowerer extends QueryLowerer {
  lower(expr: Ast.Expr): Expr {
    this.shared.progress.at = expr.span;
    switch (expr.is) {
      case 'number': {
        const scale = expr.unit && unitScale(expr.unit.key, this.shared.model.scales);
        return num(expr.value * (scale?.factor ?? 1));
      }
      case 'percent':
        return num(expr.value);
      case 'time':
        return num((expr.hours * 3600) / (this.shared.model.scales.time?.size ?? 1));
      case 'date':
        return num(daysFromCivil(...(expr.text.split('-').map(Number) as [number, number, number])));
      case 'yesno':
        return num(expr.value ? 1 : 0);
      case 'brackets':
        return this.lower(expr.value);
      case 'with unit': {
        const factor = unitScale(expr.unit.key, this.shared.model.scales)?.factor ?? 1;
        return factor === 1 ? this.lower(expr.value) : binary('*', this.lower(expr.value), num(factor));
      }
      case 'per': {
        const factor = (unitScale(expr.unit.key, this.shared.model.scales)?.factor ?? 1) * expr.count;
        const value = this.lower(expr.value);
        if (value.op === 'number') return num(value.value / factor);
        return factor === 1 ? value : binary('/', value, num(factor));
      }
      case 'unary': {
        const value = this.lower(expr.value);
        if (value.op === 'number' && expr.op === '-') return num(-value.value);
        return { op: expr.op === '-' ? 'minus' : 'not', value };
      }
      case 'binary':
        return this.binary(expr);
      case 'one of':
        return this.oneOf(expr);
      case 'if':
        return this.conditional(expr);
      case 'path':
        return this.path(expr);
      case 'call':
        return this.call(expr);
      case 'at':
        return this.fieldAt(expr);
      case 'ask':
        return this.ask(expr);
      case 'gather':
        return this.gather(expr);
      case 'flow':
        return this.flow(expr);
      case 'in zone': {
        const { x, y } = this.place(expr.place);
        const inside: Expr = { op: 'in zone', zone: this.shared.model.zoneOf.get(expr)!.index, x, y };
        return expr.not ? { op: 'not', value: inside } : inside;
      }
      case 'time in': {
        this.hop(expr.path);
        const ref = this.shared.model.refs.get(expr.path);
        if (ref?.is !== 'machine') throw new RangeError('No machine to time');
        const since: Expr = {
          op: 'due',
          kind: ref.kind.index,
          column: this.shared.dueColumns.get(ref.machine)!,
          agent: this.agent(ref.agent),
        };
        return { op: 'call', fn: 'max', args: [num(0), binary('-', { op: 'clock', which: 'now' }, since)] };
      }
      case 'network':
        return { op: 'network measure', which: expr.which, network: this.shared.model.networkOf.get(expr)!.index };
      case 'pick':
        return this.pickedNumber(expr);
      case 'day of year':
        return { op: 'clock', which: 'day of year' };
      default:
        throw new RangeError(`An expression of the form “${expr.is}” cannot stand here`);
    }
  }

  private binary(expr: Ast.ExprOf<'binary'>): Expr {
    if (expr.op === 'and' || expr.op === 'or') return this.logical(expr.op, expr.left, expr.right);
    if (expr.op === 'is' || expr.op === 'is not') {
      const same = this.sameness(expr.left, expr.right);
      return expr.op === 'is'
        ? same
        : same.op === 'binary' && same.fn === 'is'
          ? { ...same, fn: 'is not' }
          : { op: 'not', value: same };
    }
    const left = this.lower(expr.left);
    const right = this.lower(expr.right);
    if (expr.op === '^') return this.finite({ op: 'call', fn: 'power', args: [left, right] }, expr.span, 'a power');
    const value = binary(expr.op, left, right);
    const divides = expr.op === '/' && !(right.op === 'number' && right.value !== 0);
    return divides ? this.finite(value, expr.span, 'a division') : value;
  }

  private sameness(leftExpr: Ast.Expr, rightExpr: Ast.Expr): Expr {
    const { types, refs } = this.shared.model;
    const left = types.get(leftExpr);
    const right = types.get(rightExpr);
    const isNobody = left?.is === 'nobody' || right?.is === 'nobody';
    if (isNobody) {
      const other = left?.is === 'nobody' ? rightExpr : leftExpr;
      const type = types.get(other);
      if (type?.is === 'nobody') return num(1);
      return {
        op: 'not',
        value: { op: 'somebody', local: type?.is === 'tie' ? this.lowerTie(other) : this.lowerAgent(other) },
      };
    }
    if (left?.is === 'agent')
      return {
        op: 'same agent',
        a: this.agentIn(this.lowerAgent(leftExpr)),
        b: this.agentIn(this.lowerAgent(rightExpr)),
      };
    if (left?.is === 'tie') return binary('is', local(this.lowerTie(leftExpr)), local(this.lowerTie(rightExpr)));
    if (left?.is === 'place') {
      const a = this.place(leftExpr);
      if (rightExpr.is === 'nowhere') return { op: 'is nowhere', x: a.x };
      const b = this.place(rightExpr);
      return binary('and', binary('is', a.x, b.x), binary('is', a.y, b.y));
    }
    const ref = refs.get(rightExpr);
    if (ref?.is === 'group') return this.isOneOf(this.hold(this.lower(leftExpr)), ref.group.members.map(num));
    return binary('is', this.lower(leftExpr), this.lower(rightExpr));
  }

  protected isOneOf(value: Expr, options: readonly Expr[]): Expr {
    return options.map((option) => binary('is', value, option)).reduce((a, b) => binary('or', a, b));
  }

  /** The right side runs only if the left side leaves it open, so that it draws nothing and loops over nothing in vain. */
  private logical(op: 'and' | 'or', leftExpr: Ast.Expr, rightExpr: Ast.Expr): Expr {
    const left = this.lower(leftExpr);
    const right = this.code(rightExpr);
    if (right.statements.length === 0) return binary(op, left, right.value);
    const slot = this.newLocal();
    this.emit({ op: 'set', local: slot, value: left });
    const body: Statement[] = [...right.statements, { op: 'set', local: slot, value: right.value }];
    const goesOn = op === 'and' ? local(slot) : { op: 'not' as const, value: local(slot) };
    this.emit({ op: 'if', condition: goesOn, then: body, else: [] });
    return local(slot);
  }

  private oneOf(expr: Ast.ExprOf<'one of'>): Expr {
    const query = expr.query ?? this.shared.model.listQueries.get(expr);
    const any = query ? this.amongQuery(expr, query) : this.amongOptions(expr);
    return expr.not ? { op: 'not', value: any } : any;
  }

  private amongOptions(expr: Ast.ExprOf<'one of'>): Expr {
    const { types, refs } = this.shared.model;
    const type = types.get(expr.left);
    if (type?.is === 'agent' || type?.is === 'place')
      return expr.options.map((option) => this.sameness(expr.left, option)).reduce((a, b) => binary('or', a, b));
    const left = this.hold(this.lower(expr.left));
    const options = expr.options.flatMap((option) => {
      const ref = refs.get(option);
      return ref?.is === 'group' ? ref.group.members.map(num) : [this.lower(option)];
    });
    return this.isOneOf(left, options);
  }

  private amongQuery(expr: Ast.ExprOf<'one of'>, query: Ast.Query): Expr {
    const candidate = this.shared.model.locals.get(query)!;
    if (candidate.type.is !== 'agent') {
      const left = this.hold(this.lower(expr.left));
      const found = this.query(query);
      const item = this.items.get(candidate) ?? local(found.candidate);
      return this.counted('any', {
        ...found,
        where: {
          statements: found.where?.statements ?? [],
          value: found.where ? binary('and', found.where.value, binary('is', item, left)) : binary('is', item, left),
        },
      });
    }
    const wanted = this.agentIn(this.lowerAgent(expr.left));
    const found = this.query(query);
    const same: Expr = { op: 'same agent', a: { local: found.candidate, own: false }, b: wanted };
    // The asker may be one of them too.
    return this.counted('any', {
      ...found,
      except: undefined,
      where: {
        statements: found.where?.statements ?? [],
        value: found.where ? binary('and', found.where.value, same) : same,
      },
    });
  }

  private conditional(expr: Ast.ExprOf<'if'>): Expr {
    const condition = this.lower(expr.condition);
    const then = this.code(expr.then);
    const otherwise = this.code(expr.else);
    if (then.statements.length + otherwise.statements.length === 0)
      return { op: 'choose', condition, then: then.value, else: otherwise.value };
    const slot = this.newLocal();
    this.emit({
      op: 'if',
      condition,
      then: [...then.statements, { op: 'set', local: slot, value: then.value }],
      else: [...otherwise.statements, { op: 'set', local: slot, value: otherwise.value }],
    });
    return local(slot);
  }

  private path(expr: Ast.ExprOf<'path'>): Expr {
    this.hop(expr);
    const ref = this.shared.model.refs.get(expr);
    if (!ref) throw new RangeError(`“${expr.names.map((n) => n.text).join('.')}” was not resolved`);
    return this.ref(ref);
  }

  private ref(ref: Ref): Expr {
    switch (ref.is) {
      case 'parameter':
        return { op: 'parameter', index: ref.parameter.index };
      case 'variable':
        return { op: 'variable', index: ref.variable.index };
      case 'attribute':
        return {
          op: 'attribute',
          kind: ref.kind.index,
          column: this.columnOf(ref.attribute),
          agent: this.agent(ref.agent),
        };
      case 'tie attribute':
        return { op: 'tie value', network: ref.network.index, column: ref.attribute.index, tie: this.slotOf(ref.tie) };
      case 'message attribute':
        return { op: 'message value', column: ref.attribute.index };
      case 'coordinate':
        return this.place(ref.of)[ref.axis === 'y' ? 'y' : 'x'];
      case 'derive': {
        const slot = this.slotOf(ref.agent);
        let value: Expr = num(0);
        this.asSelf(ref.kind.self, slot, () => (value = this.lower(ref.derive.line.value)));
        return value;
      }
      case 'machine':
        return { op: 'state', kind: ref.kind.index, machine: ref.machine.index, agent: this.agent(ref.agent) };
      case 'builtin': {
        const kind = this.kindOfLocal(ref.agent).index;
        if (ref.which === 'number') return { op: 'number of', kind, agent: this.agent(ref.agent) };
        if (ref.which === 'place') throw new RangeError('A place is no number');
        return { op: 'position', kind, axis: ref.which, agent: this.agent(ref.agent) };
      }
      case 'field': {
        if (this.standing.ownField === ref.field.index) return { op: 'cell', field: ref.field.index };
        const { x, y } = this.here();
        return { op: 'field', field: ref.field.index, x, y };
      }
      case 'local':
        return this.items.get(ref.local) ?? local(this.slotOf(ref.local));
      case 'clock':
        return { op: 'clock', which: ref.which === 'step' ? 'step length' : ref.which };
      case 'measure':
        return times({ op: 'measure', index: ref.measure.index }, shownFactor(this.shared.model, ref.measure));
      case 'option':
        return num(ref.option);
      default:
        throw new RangeError(`A ${ref.is} is no value`);
    }
  }

  private fieldAt(expr: Ast.ExprOf<'at'>): Expr {
    const ref = this.shared.model.refs.get(expr);
    if (ref?.is !== 'field') throw new RangeError(`No field at “${expr.field.text}”`);
    const field = ref.field.index;
    const placed = expr.place.is === 'path' ? this.shared.model.refs.get(expr.place) : undefined;
    const cell = placed?.is === 'local' ? this.cells.get(placed.local) : undefined;
    if (
      cell &&
      (cell.raster === field ||
        (formOf(ref.field.space!).isOfCells && cell.raster === rasterOfSpace(ref.field.space!.index)))
    )
      return { op: 'field cell', field, cell: local(cell.slot) };
    const { x, y } = this.place(expr.place);
    return { op: 'field', field, x, y };
  }

  private flow(expr: Ast.ExprOf<'flow'>): Expr {
    const ref = this.shared.model.refs.get(expr);
    if (ref?.is !== 'flow') throw new RangeError('No state to count');
    const first = this.shared.counters.get(ref.machine)!;
    const counter = ref.group
      ? first + ref.machine.states.length + ref.machine.groups.indexOf(ref.group)
      : first + ref.state;
    return { op: 'flow', which: expr.which, counter };
  }

  /** A picked item of a list or tally of numbers; not a number, which stops the run where it is used, if there is none. */
  private pickedNumber(expr: Ast.ExprOf<'pick'>): Expr {
    const slot = this.newLocal();
    const value = this.newLocal();
    const candidate = this.shared.model.locals.get(expr.query)!;
    const nothing: Statement[] = [{ op: 'set', local: value, value: num(NaN) }];
    this.pick(
      expr,
      slot,
      () => {
        const inner = this.slotOf(candidate);
        this.emit({ op: 'set', local: inner, value: local(slot) });
        this.emit({ op: 'set', local: value, value: this.items.get(candidate) ?? local(slot) });
      },
      nothing,
    );
    return this.finite(local(value), expr.span, 'what was picked');
  }

  // Calls

  private call(expr: Ast.ExprOf<'call'>): Expr {
    const key = expr.name.key;
    const formula = this.shared.model.formulas.get(expr);
    if (formula) {
      this.bindInputs(formula.inputs, formula.values);
      return this.lower(formula.body);
    }
    if (key === 'pick') return this.pickCall(expr);
    if (key === 'distance' || key === 'bearing') {
      const places = expr.args.map((arg) => this.place(arg.value));
      const [from, to] = places.length === 1 ? [this.here(), places[0]!] : [places[0]!, places[1]!];
      return { op: key, space: this.shared.model.spaceOf.get(expr)!.index, ax: from.x, ay: from.y, bx: to.x, by: to.y };
    }
    const known = FUNCTIONS.get(key)!;
    const args = this.argumentsOf(expr, known.names).map((arg) => this.lower(arg));
    if (known.draws) return this.draw(key as Law, args, expr.span);
    if (!isPureFunction(key)) throw new RangeError(`No function “${key}”`);
    if (key === 'min' || key === 'max') return args.reduce((a, b) => ({ op: 'call', fn: key, args: [a, b] }));
    const value: Expr = { op: 'call', fn: key, args };
    return PURE_FUNCTIONS[key].mayLeaveNumbers ? this.finite(value, expr.span, `“${key}”`) : value;
  }

  private argumentsOf(expr: Ast.ExprOf<'call'>, names: readonly string[]): Ast.Expr[] {
    const slots: Ast.Expr[] = [];
    expr.args.forEach((arg, i) => (slots[arg.name ? names.indexOf(arg.name.key) : i] = arg.value));
    return slots;
  }

  private pickCall(expr: Ast.ExprOf<'call'>): Expr {
    const luck = this.draw('unit', [], expr.span);
    const slot = this.newLocal();
    const n = expr.args.length;
    const shares = expr.args.map((arg, i) => (arg.share === undefined ? num((i + 1) / n) : arg.share));
    this.emitShares(luck, shares, (i) => {
      this.emit({ op: 'set', local: slot, value: this.lower(expr.args[i]!.value) });
    });
    return local(slot);
  }
}
