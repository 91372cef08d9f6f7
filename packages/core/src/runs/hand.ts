import type { HandAct } from '../engine/hand-act.ts';
import type { Run } from '../engine/run.ts';
import { mix, ruleKey0, ruleKey1 } from '../engine/random/stream.ts';
import { placeIn } from '../forms/space.ts';
import { isInMask, repainted } from '../engine/zones.ts';
import type { GeneratedRun } from '../javascript/generated-run.ts';
import type { Zones } from '../plan/start-space.ts';
import { zonesOf } from '../plan/start-space.ts';

/** Luck of what is done by hand, apart from that of all rules. */
const BY_HAND = 0x51ed270b;

/**
 * Does an act by hand to a run that stands before a step; what it draws is keyed by seed, step and its place among the acts of the step.
 * @returns why it could not be done, if so: nothing has changed then
 */
export function actByHand(run: Run, executable: GeneratedRun, act: HandAct, ordinal: number): string | undefined {
  const { context } = executable;
  executable.openStates();
  const key = mix(BY_HAND + ordinal);
  const [key0, key1] = [ruleKey0(context.seed, context.step, key), ruleKey1(context.seed, context.step, key)];
  switch (act.is) {
    case 'set parameter':
      run.setParameter(act.parameter, act.value);
      return undefined;
    case 'switch':
      if (act.on) executable.off.delete(act.line);
      else executable.off.add(act.line);
      return undefined;
    case 'paint': {
      const { plan } = executable;
      const { zones } = executable.state;
      const mask = zones.masks[act.zone];
      if (!mask) return 'the model has no such zone';
      const { space } = executable.state.grounds[plan.zones[act.zone]!.space]!;
      executable.useZones(
        zonesOf(
          plan,
          zones.masks.map((other) =>
            other === mask ? repainted(mask, act.places, act.radius, act.inside, space) : other,
          ),
        ),
      );
      return undefined;
    }
    case 'place': {
      const refused = whyNot(executable, act.kind, act.x, act.y);
      if (refused) return refused;
      const slot = executable.startOne(act.kind, key0, key1);
      if (slot < 0) return `the text has no start line for ${executable.plan.kinds[act.kind]!.name} that finds room`;
      return moveTo(executable, act.kind, slot, act.x, act.y);
    }
    default:
    // The others are acts on an agent.
  }
  const population = executable.state.populations[act.kind]!;
  const slot = population.slotOf(act.number);
  if (slot < 0) return 'the agent is not there';
  switch (act.is) {
    case 'move': {
      const refused = whyNot(executable, act.kind, act.x, act.y);
      if (refused) return refused;
      alight(executable, act.kind, slot);
      return moveTo(executable, act.kind, slot, act.x, act.y);
    }
    case 'remove':
      executable.state.removeAt(act.kind, slot);
      population.index.invalidate();
      return undefined;
    case 'set attribute':
      population.attributes[act.column]![slot] = act.value;
      return undefined;
    case 'set state':
      executable.changeState(act.kind, act.machine, slot, act.state, key0, key1);
      return undefined;
    case 'send':
      executable.state.mail.send(act.message, act.kind, act.number, -1, 0, NaN, context.end, []);
      return undefined;
  }
}

/** What acts by hand have changed besides what a snapshot holds. */
export interface HandState {
  readonly zones: Zones;
  readonly off: readonly number[];
}

/** What acts by hand have changed so far, to go with a snapshot. */
export function handState(executable: GeneratedRun): HandState {
  return { zones: executable.state.zones, off: [...executable.off] };
}

/** For a run that is taken to a snapshot: zones and lines of the order as they were then. */
export function restoreHand(executable: GeneratedRun, { zones, off }: HandState): void {
  executable.off.clear();
  for (const line of off) executable.off.add(line);
  if (executable.state.zones !== zones) executable.useZones(zones);
}

function whyNot({ state }: GeneratedRun, kind: number, x: number, y: number): string | undefined {
  const { plan, zones } = state;
  const s = plan.kinds[kind]!.space;
  const space = state.grounds[s]?.space;
  if (!space) return undefined;
  const [tx, ty] = placeIn(x, y, space);
  const blocked = zones.blocked[s];
  if (blocked && isInMask(blocked, tx, ty, space)) return 'there is an obstacle';
  const isTaken =
    space.oneAgentACell &&
    state.populations.some(
      (p, k) =>
        plan.kinds[k]!.space === s &&
        p.x.subarray(0, p.used).some((px, slot) => (p.alive[slot]! & 1) === 1 && px === tx && p.y[slot] === ty),
    );
  return isTaken ? 'the cell is taken' : undefined;
}

/** Who is taken elsewhere by hand leaves its vehicle. */
function alight({ state, plan }: GeneratedRun, kind: number, slot: number): void {
  plan.networks.forEach(({ riding, from }, n) => {
    if (riding && from === kind) state.networks[n]!.isolate(kind, slot);
  });
}

/** Moves an agent, and with it all who ride in it. */
function moveTo(executable: GeneratedRun, kind: number, slot: number, x: number, y: number): undefined {
  const { plan, state } = executable;
  const number = state.populations[kind]!.number[slot]!;
  plan.networks.forEach(({ riding, from, to }, n) => {
    if (!riding || to !== kind) return;
    for (const rider of state.ties(n).partnersOf({ kind, number }) ?? [])
      moveTo(executable, from, state.populations[from]!.slotOf(rider.number), x, y);
  });
  const space = executable.state.grounds[executable.plan.kinds[kind]!.space]?.space;
  if (!space) return;
  const population = executable.state.populations[kind]!;
  [population.x[slot], population.y[slot]] = placeIn(x, y, space);
  population.index.invalidate();
  executable.state.countCells();
}
