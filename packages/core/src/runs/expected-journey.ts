import type { GeneratedRun } from '../javascript/generated-run.ts';
import type { Leg } from '../maps/journeys.ts';
import type { JourneyColumn } from '../plan/plan.ts';
import type { AgentKey } from '../state/readers.ts';

/**
 * The journey that an agent expects to make, part by part, from where it is now to where it was bound when it last travelled with lines; times in base units, places in the unit of the map.
 * @returns nothing for one that never did, that is nowhere, or that has arrived
 */
export function expectedJourney(run: GeneratedRun, wanted: AgentKey): readonly Leg[] | undefined {
  const { plan, state, context } = run;
  const agent = state.agents(wanted.kind).one(wanted.number);
  const value = (which: JourneyColumn): number => journeyOf(run, wanted, which);
  const aim = plan.aims[value('aim') - 1];
  const journeys = aim && state.grounds[aim.space]!.journeys;
  if (!agent || !journeys || agent.x !== agent.x) return undefined;
  const { quickest, ways, lines, trips } = aim;
  const legs = journeys.legs(
    agent.x,
    agent.y,
    context.end,
    value('goal x'),
    value('goal y'),
    { pace: value('pace'), quickest, ways, lines, trips },
    aim.terms.map((term) => run.valueOf(term)),
    vehicleOf(run, wanted),
  );
  return legs.length > 0 ? legs : undefined;
}

function journeyOf({ plan, state }: GeneratedRun, { kind, number }: AgentKey, which: JourneyColumn): number {
  const column = plan.kinds[kind]?.journeyColumns[which];
  return column === undefined ? 0 : (state.agents(kind).one(number)?.due(column) ?? 0);
}

/** The vehicle of a line that an agent sits in, and how far that has come. */
function vehicleOf(run: GeneratedRun, rider: AgentKey) {
  const vehicle = run.plan.networks.flatMap(({ riding, from }, n) =>
    riding && from === rider.kind ? (run.state.ties(n).partnersOf(rider) ?? []) : [],
  )[0];
  const line = vehicle ? journeyOf(run, vehicle, 'line') - 1 : -1;
  if (!vehicle || line < 0) return undefined;
  return { line, stop: journeyOf(run, vehicle, 'stop'), departs: journeyOf(run, vehicle, 'departs') };
}
