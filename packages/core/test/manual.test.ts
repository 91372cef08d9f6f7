import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { loadModel } from '../src/load.ts';
import { jobsOf, pointCount } from '../src/studies/design/design.ts';
import { withOutcomes } from '../src/studies/outcomes.ts';
import { StudiedPlans } from '../src/studies/studied-plans.ts';
import { readStudy } from '../src/studies/text/read-study.ts';
import { simulate } from '../src/studies/runner/simulate.ts';

/** The pages of docs/manual: what stands in them as a listing opens as a project, so it has to be right and to run. */

const FOLDER = new URL('../../../docs/manual/', import.meta.url);

interface Listing {
  readonly heading: string;
  readonly model: string;
  readonly study?: string;
}

function listingsOf(page: string): Listing[] {
  const text = readFileSync(new URL(page, FOLDER), 'utf8');
  let model = '';
  return text.split(/^## /m).flatMap((section) => {
    const heading = section.slice(0, section.indexOf('\n'));
    return [...section.matchAll(/```(vole|study)\n([\s\S]*?)```/g)].map(([, kind, code]): Listing => {
      if (kind === 'study') return { heading, model, study: code! };
      model = code!;
      return { heading, model };
    });
  });
}

const listings = readdirSync(FOLDER).flatMap(listingsOf);

describe('the manual', () => {
  it('has a tour, twelve recipes with a study each, and what the numbers mean', () => {
    expect(readdirSync(FOLDER).sort()).toEqual(['recipes.md', 'statistics.md', 'tour.md']);
    const recipes = listingsOf('recipes.md').filter(({ study }) => study !== undefined);
    expect(new Set(recipes.map(({ heading }) => heading)).size).toBe(12);
  });

  it.each(listings.filter(({ study }) => study === undefined).map(({ heading, model }) => [heading, model]))(
    '%s: the model has nothing that the checker doubts',
    (_, model) => expect(loadModel(model).diagnostics).toEqual([]),
  );

  it.each(listings.filter(({ study }) => study !== undefined).map((listing) => [listing.heading, listing] as const))(
    '%s: the study is right, and its first run at each end of the design comes to its end',
    (_, { model, study: text }) => {
      const { loaded } = loadModel(model);
      const { study, diagnostics } = readStudy(text!, { text: model, loaded: loaded! });
      expect(diagnostics).toEqual([]);
      const plans = new StudiedPlans(model, new Map(), study!.outcomes);
      const { plan } = withOutcomes(model, undefined, study!.outcomes)!;
      expect(plan.summaries.length).toBeGreaterThan(0);
      const jobs = [...jobsOf(study!.setting, plan)];
      expect(pointCount(study!.setting.design)).toBeGreaterThan(1);
      for (const job of [jobs[0]!, jobs.at(-1)!]) {
        const outcome = simulate(plans.of(job.timeline)!, job);
        expect(outcome && 'result' in outcome && outcome.result.steps).toBeGreaterThan(0);
      }
    },
  );
});
