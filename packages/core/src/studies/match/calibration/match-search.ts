import { drawUnit } from '../../../engine/random/laws.ts';
import { keyOfName, RandomStream } from '../../../engine/random/stream.ts';
import type { Plan } from '../../../plan/plan.ts';
import type { DesignPoint, ListedDesign, StudyJob, StudySetting } from '../../design/design.ts';
import { jobOf } from '../../design/design.ts';
import { keyOfRun } from '../../runner/missing-runs.ts';
import type { FinishedRun, Proposer } from '../../runner/run-study.ts';
import type { RunOutcome } from '../../runner/simulate.ts';
import type { RunWithValues } from '../match-runs.ts';
import { limitOf, observedOf } from '../match-runs.ts';
import type { MatchMethod } from '../match-lines.ts';
import type { MatchDefinition, Search } from '../read-match.ts';
import type { BestPlace } from './best-point.ts';
import { bestPoint } from './best-point.ts';
import type { Candidate, Place, Tried } from './candidates.ts';
import { valuesAt } from './candidates.ts';
import { evenDraws } from './even-draws.ts';
import { adjusted } from './regression.ts';
import type { Method, SearchWish, WeightedDraws } from './sequential.ts';
import { effectiveDraws, rejection, sequential } from './sequential.ts';
import { historyMatching, leastHistoryRuns } from './history.ts';
import { leastRuns, syntheticLikelihood } from './synthetic.ts';
import { Targets, writtenSeries } from './targets.ts';

/** What was found to agree: draws of the posterior of the unknowns. */
export interface Posterior {
  readonly parameters: readonly string[];
  /** Of each draw a value a parameter, in the unit in which it is shown. */
  readonly draws: readonly (readonly number[])[];
  /** Add up to one. */
  readonly weights: readonly number[];
  /** As many draws with equal weights would tell as much. */
  readonly effective: number;
  /** Whether draws were moved by regression to where they would lie had their runs been what was observed. */
  readonly isAdjusted: boolean;
  /** Of the draw whose run lay nearest, before any regression. */
  readonly best: readonly number[];
  readonly tolerance: number;
  readonly rounds: number;
  /** Share of the runs of the last round that was accepted. */
  readonly accepted: number;
  readonly method: MatchMethod;
  /** Share of the priors that is not ruled out: the draws are then spread over it as the priors are, and are no posterior. */
  readonly left?: number;
}

/** What is kept of a run that came to its end: it, or what an observer might have written of it. */
interface Kept {
  readonly run?: RunWithValues;
  readonly written?: readonly number[];
}

/** Batches of candidates that are given what is kept of their runs. */
type Course<T> = Generator<readonly Candidate[], T, readonly (Kept | undefined)[]>;

/** The values at which runs lie nearest to what was observed. They say nothing of how well they are known. */
export interface BestPoint {
  readonly parameters: readonly string[];
  /** In the units in which the parameters are shown. */
  readonly values: readonly number[];
  /** How widely the search still looked around it, in standard deviations of the priors. */
  readonly reach: number;
  readonly generations: number;
}

/** Runs at the medians of the priors, by whose spread distances are measured. */
export const PILOTS = 30;
/** Runs at draws of the posterior, that show what it predicts. */
const MOST_PREDICTIVE = 200;

/**
 * Finds the unknowns of a match: proposes runs, looks at what comes out, proposes more. Which runs these are depends on text, seed and budget alone, so
 * that a search which is broken off is gone on with by proposing the same runs again, of which those that are known are not run twice.
 */
export class MatchSearch implements Proposer {
  private readonly setting: StudySetting;
  private readonly search: Search;
  private readonly steps: Course<void>;
  private batch: readonly StudyJob[] = [];
  private found: (Kept | undefined)[] = [];
  private isNoted: boolean[] = [];
  private missing = 0;
  /** Places in the batch by point and seed. */
  private readonly places = new Map<string, number>();
  /** Jobs of the batch that `next` has not given yet; absent while it has not looked which are known. */
  private queue: StudyJob[] | undefined;
  /** What is kept of a run: all of a pilot, of others what is held against the observations. */
  private keep: (run: RunWithValues) => Kept = (run) => ({ run });
  private drawn: WeightedDraws | undefined;
  private result: Posterior | undefined;
  private nearest: BestPlace | undefined;
  private predicted: readonly StudyJob[] = [];
  private ran = 0;
  private why: string | undefined;

  /**
   * @param known outcomes of runs that were finished before, by point and seed
   * @throws RangeError if the match seeks nothing
   */
  constructor(
    private readonly match: MatchDefinition,
    private readonly plan: Plan,
    private readonly known: (point: string, seed: number) => RunOutcome | undefined = () => undefined,
  ) {
    if (!match.search) throw new RangeError('The match seeks nothing');
    this.search = match.search;
    const design: ListedDesign = {
      is: 'listed',
      method: 'random',
      factors: match.unknowns.map(({ parameter }) => ({ parameter, values: [] })),
      points: [],
      seeds: [],
    };
    this.setting = { design, parameters: match.parameters, steps: match.steps, every: 1 };
    this.steps = this.course();
    this.goOn([]);
  }

  /** How many runs it has used. */
  get runs(): number {
    return this.ran;
  }

  /** Why nothing was found, once it is over. */
  get problem(): string | undefined {
    return this.why;
  }

  /** The draws after the last round that is finished. */
  get posterior(): Posterior | undefined {
    return this.result ?? (this.drawn && this.posteriorOf(this.drawn));
  }

  /** Where runs lie nearest to what was observed, of a search for that; after the last generation that is finished. */
  get bestPoint(): BestPoint | undefined {
    return (
      this.nearest && {
        parameters: this.match.unknowns.map(({ parameter }) => parameter),
        values: this.valuesOf(this.nearest.place),
        reach: this.nearest.reach,
        generations: this.nearest.generations,
      }
    );
  }

  /** Runs at draws of the posterior, or at the best point, that came to their end, once it is found. */
  get predictive(): readonly StudyJob[] {
    return this.predicted;
  }

  /** The runs of the draws as they are now: where nothing is predicted yet, they tell what agrees. */
  get drawnRuns(): readonly StudyJob[] {
    return this.drawn?.draws.map((candidate) => this.jobOf(candidate)) ?? [];
  }

  next(): StudyJob | undefined {
    this.queue ??= this.missingJobs();
    return this.queue.shift();
  }

  took({ point, seed, outcome }: FinishedRun): void {
    const place = this.places.get(keyOfRun(point, seed));
    if (place !== undefined) this.note(place, outcome);
  }

  /** Takes note of every run that is known by now, and gives the next ones that are not; none once it is over. */
  missingJobs(): StudyJob[] {
    for (;;) {
      const { batch } = this;
      for (const [place, { point, seed }] of batch.entries()) {
        const outcome = this.isNoted[place] ? undefined : this.known(point, seed);
        if (outcome) this.note(place, outcome);
        // The last one that was missing has brought the next batch, whose places are others.
        if (this.batch !== batch) break;
      }
      if (this.batch === batch) return batch.filter((_, place) => !this.isNoted[place]);
    }
  }

  private note(place: number, outcome: RunOutcome): void {
    if (this.isNoted[place]) return;
    this.isNoted[place] = true;
    if ('result' in outcome)
      this.found[place] = this.keep({ result: outcome.result, parameters: this.batch[place]!.parameters });
    this.ran++;
    if (--this.missing === 0) this.goOn(this.found);
  }

  /** Gives the last batch back, and takes the next. */
  private goOn(found: readonly (Kept | undefined)[]): void {
    const { value, done } = this.steps.next(found);
    const candidates = done ? [] : value;
    this.batch = candidates.map((candidate) => this.jobOf(candidate));
    this.found = candidates.map(() => undefined);
    this.isNoted = candidates.map(() => false);
    this.missing = candidates.length;
    this.queue = undefined;
    this.places.clear();
    this.batch.forEach(({ point, seed }, place) => this.places.set(keyOfRun(point, seed), place));
  }

  private jobOf({ place, seed }: Candidate): StudyJob {
    const values = this.valuesOf(place);
    const id = this.match.unknowns.map(({ parameter }, i) => `${parameter}=${values[i]}`).join(';');
    const point: DesignPoint = { id, values };
    return jobOf(this.setting, this.plan, point, seed);
  }

  private valuesOf(place: Place): number[] {
    return valuesAt(
      place,
      this.match.unknowns.map(({ prior }) => prior),
    ).map((value) => Number(value.toPrecision(12)));
  }

  private *course(): Course<void> {
    const { unknowns } = this.match;
    const { draws, mostRuns, luck, method } = this.search;
    const middle = unknowns.map(() => 0);
    const pilots = yield Array.from({ length: PILOTS }, (_, i) => ({ place: middle, seed: i + 1 }));
    const targets = this.targetsOf(pilots.flatMap((kept) => kept?.run ?? []));
    if (!targets) return;
    const wish = { dimensions: unknowns.length, draws, luck, mostRuns: mostRuns - PILOTS - predictiveRuns(draws) };
    if (method === 'best point') {
      const best = yield* tried(
        targets,
        bestPoint(wish, (found) => (this.nearest = found)),
      );
      if (best) yield* this.predict(Array.from({ length: predictiveRuns(draws) }, () => best.place));
      else this.why = NOTHING_REACHES;
      return;
    }
    const steps = this.methodOf(wish, targets);
    if (!steps) return;
    const drawn = yield* tried(targets, steps);
    if (drawn.draws.length === 0) {
      this.drawn = undefined;
      this.why = drawn.left === 0 ? ALL_RULED_OUT : NOTHING_REACHES;
      return;
    }
    this.drawn = drawn;
    const moved = BY_DISTANCE.includes(method) ? adjusted(drawn, targets.observed) : undefined;
    const places = moved?.places ?? drawn.draws.map(({ place }) => place);
    this.result = this.posteriorOf(drawn, moved);
    const stream = RandomStream.of(luck, 0, PREDICTIVE);
    yield* this.predict(
      evenDraws(this.result.weights, predictiveRuns(draws), drawUnit(stream.word(), stream.word())).map(
        (draw) => places[draw]!,
      ),
    );
  }

  /** The method that the text asks for, unless there are too few runs for it. */
  private methodOf(wish: SearchWish, targets: Targets): Method | undefined {
    const { method, mostRuns } = this.search;
    const tell = (drawn: WeightedDraws): void => void (this.drawn = drawn);
    const count = targets.observed.length;
    const scaled = (run: Tried): readonly number[] => targets.scaled(run.written);
    const least =
      method === 'synthetic likelihood'
        ? leastRuns(count)
        : method === 'history matching'
          ? leastHistoryRuns(wish.dimensions, wish.draws)
          : 0;
    if (wish.mostRuns < least) {
      const known = `${wish.draws} draws, ${wish.dimensions} ${wish.dimensions === 1 ? 'unknown' : 'unknowns'} and ${count} ${count === 1 ? 'observation' : 'observations'}`;
      this.why = `${method} with ${known} takes at least ${least + mostRuns - wish.mostRuns} runs`;
      return undefined;
    }
    switch (method) {
      case 'rejection':
        return rejection(wish);
      case 'synthetic likelihood':
        return syntheticLikelihood(wish, scaled, count, tell);
      case 'history matching':
        return historyMatching(wish, scaled, count, tell);
      default:
        return sequential(wish, tell);
    }
  }

  /** Runs that show what some places predict, with seeds of their own. */
  private *predict(places: readonly Place[]): Course<void> {
    const shown = yield places.map((place, i) => ({ place, seed: this.search.mostRuns + i + 1 }));
    this.predicted = this.batch.filter((_, i) => shown[i] !== undefined);
  }

  /** What runs are held against, by the spread of the pilots; nothing, and why, where there is none. */
  private targetsOf(pilots: readonly RunWithValues[]): Targets | undefined {
    const { series, heldOutFrom } = this.match;
    const limit = limitOf(this.match.steps, pilots);
    const writtenIn = (run: RunWithValues): Float64Array[] =>
      writtenSeries(
        series,
        series.map((each) => observedOf(run, each, this.plan, limit)),
        run.result.seed,
      );
    const targets = Targets.from(series, heldOutFrom, pilots.map(writtenIn));
    if (targets.observed.length === 0) {
      this.why =
        pilots.length === 0
          ? 'no run at the middle of the priors came to its end'
          : 'the runs do not reach any of the observations that are used';
      return undefined;
    }
    this.keep = (run) => ({ written: targets.pick(writtenIn(run)) });
    return targets;
  }

  /** @param moved places and weights of the draws, if a regression has moved them */
  private posteriorOf(drawn: WeightedDraws, moved?: ReturnType<typeof adjusted>): Posterior {
    const { draws, tolerance, rounds, accepted, left } = drawn;
    const { places, weights } = moved ?? { places: draws.map(({ place }) => place), weights: drawn.weights };
    const nearest = draws.reduce((best, draw) => (!(best.distance <= draw.distance) ? draw : best));
    return {
      parameters: this.match.unknowns.map(({ parameter }) => parameter),
      draws: places.map((place) => this.valuesOf(place)),
      weights,
      effective: drawn.effective ?? effectiveDraws(weights),
      isAdjusted: moved !== undefined,
      best: this.valuesOf(nearest.place),
      tolerance,
      rounds,
      accepted,
      method: this.search.method,
      ...(left === undefined ? {} : { left }),
    };
  }
}

/** Gives the batches of a method, and tells it of each run how far it lies from what was observed. */
function* tried<T>(targets: Targets, steps: Generator<readonly Candidate[], T, readonly Tried[]>): Course<T> {
  let step = steps.next([]);
  while (!step.done) {
    const batch = step.value;
    const found = yield batch;
    step = steps.next(
      batch.map((candidate, i) => {
        const written = found[i]?.written ?? targets.observed.map(() => NaN);
        return { ...candidate, written, distance: targets.distance(written) };
      }),
    );
  }
  return step.value;
}

/** Methods whose draws are moved by regression. */
const BY_DISTANCE: readonly MatchMethod[] = ['rejection', 'sequential monte carlo'];
const ALL_RULED_OUT =
  'all values that were thought possible are ruled out: nowhere do runs come within three standard deviations of what was observed';
const NOTHING_REACHES = 'no run came to its end, or none reaches all of the observations that are used';

function predictiveRuns(draws: number): number {
  return Math.min(MOST_PREDICTIVE, draws);
}

const PREDICTIVE = keyOfName('predictive runs of a match');
