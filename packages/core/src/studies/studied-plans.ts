import type { ModelFile } from '../maps/map-file.ts';
import type { CompiledPlan } from '../javascript/compiled-plan.ts';
import { compilePlan } from '../load.ts';
import type { Outcome } from './outcomes.ts';
import { withOutcomes } from './outcomes.ts';
import { textWithTimeline } from './scenario-text.ts';

/** The model of a study made ready to run, once for each set of timeline lines that its scenarios lay over it. */
export class StudiedPlans {
  private readonly compiled = new Map<string, CompiledPlan>();

  constructor(
    private readonly text: string,
    private readonly files: ReadonlyMap<string, ModelFile> | undefined,
    private readonly outcomes: readonly Outcome[],
  ) {}

  /** @returns absent if the text has errors */
  of(timeline = ''): CompiledPlan | undefined {
    const known = this.compiled.get(timeline);
    if (known) return known;
    const loaded = withOutcomes(textWithTimeline(this.text, timeline), this.files, this.outcomes);
    if (!loaded) return undefined;
    const made = compilePlan(loaded.plan);
    this.compiled.set(timeline, made);
    return made;
  }
}
