import { drawNormal, drawUnit } from '../../../engine/random/laws.ts';
import { keyOfName, RandomStream } from '../../../engine/random/stream.ts';
import { exp } from '../../../math.ts';
import type { Candidate, Place, Tried } from './candidates.ts';
import { drawnFromPrior } from './candidates.ts';
import { Emulator, Nearness } from './emulator.ts';
import type { SearchWish, WeightedDraws } from './sequential.ts';

/** Runs at each place, whose spread is that of luck. */
const REPLICATES = 4;
const MOST_WAVES = 6;
/** Places that emulators learn from at most: the newest. */
const MOST_LEARNT = 90;
/** Standard deviations from what was observed from which on a place is ruled out (three-sigma rule: F. Pukelsheim, Am. Stat. 48 (1994), 88-91). */
const CUT = 3;
/** From so many targets on one of them may lie further off. */
const MANY_TARGETS = 5;
/** A wave that leaves more than this share of what was left is the last. */
const LITTLE = 0.9;
/** Places that are looked at by emulators to find those of a wave. */
const LOOKS = 4000;

/** Emulators of all targets after a wave. */
interface Wave {
  /** Those that the emulators learnt from. */
  readonly places: readonly Place[];
  readonly emulators: readonly Emulator[];
  /** Variance of what is written of one run. */
  readonly luck: readonly number[];
}

/** Places of a wave. */
function placesFor(dimensions: number): number {
  return 12 * dimensions + 8;
}

/** Runs that this takes at least: two waves, and one run for each draw. */
export function leastHistoryRuns(dimensions: number, draws: number): number {
  return 2 * placesFor(dimensions) * REPLICATES + draws;
}

/**
 * History matching (I. Vernon, M. Goldstein and R. Bower, Bayesian Anal. 5 (2010), 619-670): in waves, places are tried, emulators learn what runs give
 * there, and whatever lies too far from what was observed is ruled out, given what emulators do not know and what luck and observing add. The draws are spread
 * as the priors are over what is left; they are no posterior, as nothing says which of them are likelier.
 * @param scaled what was written of a run less what was observed, in standard deviations of the pilots
 * @param tell is given the places of each wave
 */
export function* historyMatching(
  { dimensions, draws, mostRuns, luck }: SearchWish,
  scaled: (run: Tried) => readonly number[],
  targets: number,
  tell: (drawn: WeightedDraws) => void = () => undefined,
): Generator<readonly Candidate[], WeightedDraws, readonly Tried[]> {
  const count = placesFor(dimensions);
  const waves: Wave[] = [];
  let learnt: { readonly place: Place; readonly runs: readonly Tried[] }[] = [];
  let used = 0;
  let wished: readonly Place[] = Array.from({ length: count }, (_, i) => drawnFromPrior(dimensions, luck, i));
  let found: readonly Place[] = [];
  let left = 1;
  while (waves.length < MOST_WAVES && used + count * REPLICATES + draws <= mostRuns) {
    const from = used;
    const tried = yield wished.flatMap((place, i) =>
      Array.from({ length: REPLICATES }, (_, r) => ({ place, seed: from + i * REPLICATES + r + 1 })),
    );
    used += tried.length;
    const run = wished.map((place, i) => ({
      place,
      runs: tried.slice(i * REPLICATES, (i + 1) * REPLICATES).filter(({ distance }) => Number.isFinite(distance)),
    }));
    const usable = [...learnt.filter(({ place }) => isPossible(place, waves)), ...run].filter(
      ({ runs }) => runs.length === REPLICATES,
    );
    learnt = usable.slice(-MOST_LEARNT);
    // Where most runs fail or do not reach what was observed, nothing can be learnt.
    if (learnt.length < dimensions + 4) break;
    waves.push(waveOf(learnt, scaled, targets));
    const before = left;
    found = looked(waves, dimensions, luck);
    left = found.length / LOOKS;
    const places = possible(found, waves, luck, count, wished);
    if (places.length === 0) return { ...EMPTY, rounds: waves.length, left: 0 };
    wished = places;
    tell({
      draws: places.map((place, i) => ({ place, seed: i + 1, distance: NaN, written: [] })),
      weights: places.map(() => 1 / places.length),
      tolerance: NaN,
      rounds: waves.length,
      accepted: left,
      left,
    });
    if (waves.length > 1 && left > LITTLE * before) break;
  }
  if (waves.length === 0) return EMPTY;
  const places = possible(found, waves, luck, draws, wished);
  const from = used;
  const shown = yield places.map((place, i) => ({ place, seed: from + i + 1 }));
  const drawn = shown.filter(({ distance }) => Number.isFinite(distance));
  return {
    draws: drawn,
    weights: drawn.map(() => 1 / drawn.length),
    tolerance: Math.max(0, ...drawn.map(({ distance }) => distance)),
    rounds: waves.length,
    accepted: left,
    left,
  };
}

const EMPTY: WeightedDraws = { draws: [], weights: [], tolerance: NaN, rounds: 0, accepted: 0 };

function waveOf(
  learnt: readonly { readonly place: Place; readonly runs: readonly Tried[] }[],
  scaled: (run: Tried) => readonly number[],
  targets: number,
): Wave {
  const written = learnt.map(({ runs }) => runs.map(scaled));
  const places = learnt.map(({ place }) => place);
  const luck = Array.from({ length: targets }, (_, k) => {
    const variances = written.map((runs) => {
      const mean = runs.reduce((sum, run) => sum + run[k]!, 0) / runs.length;
      return runs.reduce((sum, run) => sum + (run[k]! - mean) * (run[k]! - mean), 0) / (runs.length - 1);
    });
    return variances.reduce((a, b) => a + b, 0) / variances.length;
  });
  const emulators = luck.map((variance, k) => {
    const means = written.map((runs) => runs.reduce((sum, run) => sum + run[k]!, 0) / runs.length);
    return new Emulator(places, means, variance / REPLICATES);
  });
  return { places, emulators, luck };
}

/** Whether no wave rules a place out. */
function isPossible(place: Place, waves: readonly Wave[]): boolean {
  return waves.every(({ places, emulators, luck }) => {
    const nearness = new Nearness(places, place);
    const allowed = emulators.length >= MANY_TARGETS ? 1 : 0;
    let far = 0;
    return emulators.every((emulator, k) => {
      if (emulator.isBeyond(CUT, place, luck[k]!, nearness)) far++;
      return far <= allowed;
    });
  });
}

/** Of places drawn from the priors, those that are not ruled out. */
function looked(waves: readonly Wave[], dimensions: number, luck: number): Place[] {
  return Array.from({ length: LOOKS }, (_, i) =>
    drawnFromPrior(dimensions, luck, LOOKS * (waves.length + 1) + i),
  ).filter((place) => isPossible(place, waves));
}

/** As many places as are wished that are not ruled out, spread as the priors are. @param found some of them @param known others that perhaps are not */
function possible(
  found: readonly Place[],
  waves: readonly Wave[],
  luck: number,
  count: number,
  known: readonly Place[],
): readonly Place[] {
  if (found.length >= count) return found.slice(0, count);
  // Little is left: those that are known to lie there are moved within it, as the priors weigh (Metropolis).
  const begun = [...found, ...known.filter((place) => isPossible(place, waves))];
  if (begun.length === 0) return [];
  const moved: Place[] = [];
  const width = spreadOf(begun);
  for (let i = 0; i < count; i++) {
    let place = begun[i % begun.length]!;
    for (let move = 0; move < MOVES; move++) {
      const stream = RandomStream.of(luck, waves.length, WALK, i * MOVES + move);
      const next = place.map((z, k) => z + width[k]! * drawNormal(0, 1, stream.word(), stream.word()));
      const isTaken = drawUnit(stream.word(), stream.word()) < exp((squares(place) - squares(next)) / 2);
      if (isTaken && isPossible(next, waves)) place = next;
    }
    moved.push(place);
  }
  return moved;
}

const MOVES = 20;
const WALK = keyOfName('places that are not ruled out');

function squares(place: Place): number {
  return place.reduce((sum, z) => sum + z * z, 0);
}

function spreadOf(places: readonly Place[]): number[] {
  return places[0]!.map((_, k) => {
    const values = places.map((place) => place[k]!);
    const mean = values.reduce((a, b) => a + b, 0) / values.length;
    const variance = values.reduce((sum, value) => sum + (value - mean) * (value - mean), 0) / values.length;
    return Math.max(0.02, Math.sqrt(variance));
  });
}
