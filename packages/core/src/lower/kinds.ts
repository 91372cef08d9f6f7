import { wordsOf } from '../language/types.ts';
import type { CheckedShow, KindSymbol, MachineSymbol } from '../language/checked.ts';
import { isColour } from '../language/looks.ts';
import type * as Ast from '../language/syntax.ts';
import type { AskedBody, Expr, KindPlan, MachinePlan, ShowPlan } from '../plan/plan.ts';
import { columnsOf } from './columns.ts';
import type { Standing } from './draft.ts';
import { changeBody, enterState } from './machine.ts';
import type { ModelDraft } from './model-draft.ts';
import { bornPlan, startPlan } from './starts.ts';

/** A share a step as it stands; a rate r per time as 1 - exp(-r d). */
export function shareOfStep(whole: ModelDraft, expr: Ast.Expr, rule: string): AskedBody {
  const body = whole.value(expr, rule);
  const type = whole.model.types.get(expr);
  if (type?.is !== 'number' || type.dim?.['time'] !== -1) return whole.ask(body);
  const amount: Expr = {
    op: 'binary',
    fn: '*',
    left: body.value,
    right: { op: 'number', value: whole.model.clock.stepLength },
  };
  return whole.ask({ ...body, value: { op: 'call', fn: 'chance of rate', args: [amount] } });
}

export function kindPlan(whole: ModelDraft, kind: KindSymbol): KindPlan {
  return {
    name: kind.name,
    space: kind.space?.index ?? -1,
    columns: kind.attributes.flatMap((attribute) => columnsOf(attribute, whole.model.spaces)),
    machines: kind.machines.map((machine) => machinePlan(whole, kind, machine)),
    dueCount: whole.dueCounts[kind.index]!,
    journeyColumns: whole.journeyColumns[kind.index]!,
    starts: whole.births.has(kind.name)
      ? [bornPlan(whole, kind)]
      : kind.part.starts.map((start, i) => startPlan(whole, kind, start, i)),
    mayBeNowhere: false,
    show: showPlan(
      whole,
      kind,
      whole.model.shows.find((s) => s.target === kind),
    ),
  };
}

function machinePlan(whole: ModelDraft, kind: KindSymbol, machine: MachineSymbol): MachinePlan {
  const isCarried = whole.births.get(kind.name)?.states.has(machine.name);
  const exact = isCarried ? [] : machine.part.start.filter((share) => share.exact);
  const first = whole.shared.counters.get(machine)!;
  return {
    name: machine.name,
    states: machine.states.map((state) => state.name),
    groups: machine.groups.map((group, i) => ({
      name: group.name,
      members: group.members,
      counter: first + machine.states.length + i,
    })),
    change: changeBody(whole.draft(machine.name, { actor: kind.self, given: 2 }), kind, machine),
    dues: machine.states.map(({ part, groups }) =>
      [part, ...groups.map((group) => group.part)].flatMap((state) =>
        state.transitions.flatMap((t) => whole.shared.dueColumns.get(t) ?? []),
      ),
    ),
    since: whole.model.timedMachines.has(machine) ? whole.shared.dueColumns.get(machine) : undefined,
    firstCounter: first,
    exact: exact.map((share) => {
      const draft = whole.draft(`start of ${kind.name}`, { actor: kind.self });
      const state = machine.states.findIndex((s) => s.key === share.state.key);
      const statements = draft.collect(() =>
        enterState(draft, kind, machine, { local: 0, own: true }, state, { op: 'number', value: 0 }, false, undefined),
      );
      return {
        count: whole.asked(share.share as Ast.Expr, `start of ${kind.name}`),
        state,
        enter: { statements, locals: draft.localCount },
      };
    }),
  };
}

/** The colours that a show gives to words; nothing if it gives none. */
export function coloursOfWords(
  part: Ast.ShowPart | undefined,
  words: readonly string[] | undefined,
): readonly (string | undefined)[] | undefined {
  if (!part || part.words.length === 0) return undefined;
  return words?.map((word) => part.words.find((coloured) => coloured.word.key === word.toLowerCase())?.colour.key);
}

function showPlan(whole: ModelDraft, kind: KindSymbol, show: CheckedShow | undefined): ShowPlan | undefined {
  if (!show) return undefined;
  const { part } = show;
  const standing: Standing = { actor: kind.self };
  const type = part.colourBy && whole.model.types.get(part.colourBy);
  const shapeWord = part.shape?.key;
  return {
    shape: shapeWord && !isColour(shapeWord) ? shapeWord : 'dot',
    colour: part.colour?.key ?? (shapeWord && isColour(shapeWord) ? shapeWord : undefined),
    scale: part.scale && [part.scale[0].key, part.scale[1].key],
    size: part.size && whole.value(part.size, 'show', standing),
    colourBy: part.colourBy && whole.value(part.colourBy, 'show', standing),
    classes: type && wordsOf(type),
    classColours: coloursOfWords(part, type && wordsOf(type)),
    colourTitle: part.colourBy && whole.words(part.colourBy.span),
  };
}
