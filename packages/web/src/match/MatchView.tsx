import { Meaning } from '../manual/Meaning.tsx';
import type { Bands, Plan, SeriesAgreement } from '@vole/core';
import { categoriesOf, heading, measureColours, provenanceOf, unitOfParameter } from '@vole/core';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { ChartFrame } from '../charts/ChartFrame.tsx';
import { ChecksPanel } from '../checks/ChecksPanel.tsx';
import { TakenOf } from '../files/taken-of.ts';
import { takeFile } from '../observed/table-reader.ts';
import { FanRibbon } from '../ribbon/FanRibbon.tsx';
import { takeObserved } from '../session/session.ts';
import { useAppSelector } from '../store/store.ts';
import { StudyList } from '../studies/StudyList.tsx';
import { NothingMeasured } from '../studies/study-views.tsx';
import { useShownStudy, useTextRead } from '../studies/use-study-plan.ts';
import { BestPoint } from './BestPoint.tsx';
import { InWords } from './InWords.tsx';
import { MatchSetup } from './MatchSetup.tsx';
import { ObservedTables } from './ObservedTables.tsx';
import { PosteriorPairs } from './PosteriorPairs.tsx';
import { Ranking } from './Ranking.tsx';
import { ScoreCard } from './ScoreCard.tsx';
import { SeriesFrame } from './SeriesFrame.tsx';
import type { ComparedRuns } from './compared-runs.ts';
import { useComparedRuns } from './compared-runs.ts';
import type { ShownTable } from './TablePreview.tsx';
import { TablePreview } from './TablePreview.tsx';
import type { ReadText } from './use-match.ts';
import { useMatch } from './use-match.ts';

/** What was observed against the runs of a study, and what agrees with it. */
export function MatchView() {
  const textRead = useTextRead();
  const textPlan = textRead?.loaded?.plan;
  const { text: model, files, matchDraft } = useAppSelector((state) => state.project);
  const read = useMatch();
  // While the text has errors, what it said before stays on show.
  const [right, setRight] = useState<ReadText>();
  if (read?.match && read !== right) setRight(read);
  const good = right?.project === read?.project ? right : undefined;
  const [preview, setPreview] = useState<ShownTable>();
  const [refused, setRefused] = useState<string>();
  const [place, setPlace] = useState(0);
  const compared = useComparedRuns(good);
  const { plan, study, answer, posterior } = compared;
  const series = answer?.series[Math.min(place, answer.series.length - 1)];
  const of = useMemo(
    () => study && plan && provenanceOf(study, plan, { text: model, files }),
    [study, plan, model, files],
  );
  const take = async (file: Blob, name: string): Promise<void> => {
    setRefused(undefined);
    try {
      setPreview({ name, ...(await takeFile(file)) });
    } catch (error) {
      setRefused(
        `“${name}” was not taken. ${error instanceof Error ? error.message : String(error)} What was here before is kept.`,
      );
    }
  };
  const shownPlan = plan ?? textPlan;
  const colour = useSeriesColour(shownPlan, series?.expression);
  const units = study
    ? unitsOf(
        shownPlan,
        study.factors.map(({ parameter }) => parameter),
      )
    : [];
  const found = compared.source === 'search' ? posterior?.found : undefined;
  const { study: vary } = useAppSelector((state) => state.studies.vary);
  const { plan: varyPlan, runs: varyRuns } = useShownStudy('vary');
  const repeat = useShownStudy('repeat');
  const repeatStudy = useAppSelector((state) => state.studies.repeat.study);
  const hasOthers = useAppSelector((state) =>
    state.studies.list.some(({ kind, id }) => kind !== 'match' && id !== state.studies.repeat.study?.id),
  );
  return (
    <TakenOf value={of}>
      <div
        className="flex h-full flex-col"
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          const [file] = event.dataTransfer.files;
          if (file) void take(file, file.name);
        }}
        onPaste={(event) => {
          const text = event.clipboardData.getData('text/plain');
          const isField = event.target instanceof HTMLElement && event.target.matches('input, textarea, select');
          if (!isField && text.trim() !== '') void take(new Blob([text]), 'pasted.csv');
        }}
      >
        <main className="flex min-h-0 flex-1 gap-4 p-4">
          <div className="flex w-[300px] shrink-0 flex-col gap-4 overflow-auto">
            {textPlan?.measures.length === 0 && <NothingMeasured plan={textPlan} />}
            {textPlan && textPlan.measures.length > 0 && (
              <MatchSetup
                plan={textPlan}
                read={read}
                match={good?.match}
                place={place}
                onPlace={setPlace}
                compared={compared}
              />
            )}
            {textRead && !textPlan && (
              <div className="card p-4 text-problem">The text has errors. Mend them in Build.</div>
            )}
            {found && study && plan && (
              <InWords
                plan={plan}
                study={study}
                series={answer?.series ?? []}
                posterior={posterior!}
                found={found}
                units={units}
              />
            )}
            {compared.source === 'search' && posterior?.best && study && plan && (
              <BestPoint plan={plan} study={study} best={posterior.best} />
            )}
            {textPlan && (
              <ObservedTables refused={refused} onFile={(file) => void take(file, file.name)} onLook={setPreview} />
            )}
            <StudyList kind="match" />
            <section aria-label="Known answers" className="card p-4">
              <h2 className="mb-1 text-[16px]">
                Known answers <Meaning of="checks" />
              </h2>
              <ChecksPanel />
            </section>
          </div>
          {found && plan && (
            <ChartFrame
              className="min-w-0 flex-[6]"
              title="What agrees with the observations"
              means={found.posterior.left === undefined ? 'posteriors' : 'what-is-not-ruled-out'}
              note={`bars: ${found.posterior.left === undefined ? 'posterior' : 'what is not ruled out'}; dashed: prior; dots: draws; numbers: median and middle nine tenths`}
              table={() => [
                [...found.posterior.parameters.map((name, i) => heading(name, units[i]!)), 'weight'],
                ...found.posterior.draws.map((draw, i) => [...draw, found.posterior.weights[i]!]),
              ]}
            >
              <PosteriorPairs
                found={found}
                units={units}
                words={found.posterior.parameters.map((parameter) => categoriesOf(plan, parameter))}
                colour={colour}
              />
            </ChartFrame>
          )}
          {plan && answer && series ? (
            <div className="flex min-h-0 min-w-0 flex-[7] gap-4">
              <div className="flex min-w-0 flex-1 flex-col gap-4 overflow-auto">
                <SeriesFrame plan={plan} compared={compared} answer={answer} series={series} colour={colour} />
                {found && <ScoreCard plan={plan} series={series} runs={answer.runs} />}
              </div>
              {!found && (
                <div className="flex w-[320px] shrink-0 flex-col gap-4 overflow-auto">
                  <ScoreCard plan={plan} series={series} runs={answer.runs} />
                  {(varyRuns > 0 || (repeat.runs > 0 && hasOthers)) && good?.match && (
                    <Ranking
                      plan={(varyPlan ?? repeat.plan)!}
                      shown={[...(varyRuns > 0 ? [vary!] : []), ...(repeat.runs > 0 ? [repeatStudy!] : [])]}
                      series={Math.min(place, good.match.series.length - 1)}
                      of={good.of}
                      hasHeldOut={series.heldOut !== undefined}
                    />
                  )}
                </div>
              )}
            </div>
          ) : (
            !found && <NothingCompared hasTables={matchDraft.trim() !== ''} compared={compared} />
          )}
        </main>
        {shownPlan && (
          <FanRibbon
            plan={shownPlan}
            bands={series && plan ? bandsOfFan(series, plan, answer.runs) : undefined}
            measure={Math.max(
              0,
              shownPlan.measures.findIndex(({ name }) => name === series?.expression),
            )}
            observed={series?.observations}
            title={
              <b className="font-title">
                {answer
                  ? `${answer.runs} ${found ? 'draws' : 'runs'} and ${series?.observations.length ?? 0} observations`
                  : 'nothing compared yet'}
              </b>
            }
            note={series?.name ?? ''}
          />
        )}
        {preview && textPlan && (
          <TablePreview
            key={preview.name}
            table={preview}
            plan={textPlan}
            model={model}
            match={matchDraft}
            tables={read?.tables ?? {}}
            onTake={(next) => {
              void takeObserved(preview.name, preview.csv, next);
              setPreview(undefined);
            }}
            onClose={() => setPreview(undefined)}
          />
        )}
      </div>
    </TakenOf>
  );
}

function NothingCompared({ hasTables, compared }: { readonly hasTables: boolean; readonly compared: ComparedRuns }) {
  return (
    <div className="card flex flex-1 flex-col items-center justify-center gap-3 p-6 text-center text-faint">
      {!hasTables ? (
        <p>Import, drop or paste what was observed: a table with a column of times or dates, and columns of values.</p>
      ) : compared.isEmpty ? (
        <>
          <p>The observations are laid over the fan of many runs. Run some seeds, or find what agrees at the left.</p>
          <Link to="../repeat" relative="path" className="btn-strong">
            Run some seeds in Repeat
          </Link>
        </>
      ) : (
        <p>
          {compared.source === 'search'
            ? 'What agrees shows here after the first round; of a best point once it is found.'
            : 'Comparing ...'}
        </p>
      )}
    </div>
  );
}

function useSeriesColour(plan: Plan | undefined, expression: string | undefined): string {
  const theme = useAppSelector((state) => state.interface.theme);
  const at = plan?.measures.findIndex(({ name }) => name === expression) ?? -1;
  return (plan && at >= 0 ? measureColours(plan, theme)[at] : undefined) ?? 'var(--accent)';
}

function unitsOf(plan: Plan | undefined, parameters: readonly string[]): string[] {
  return parameters.map((name) => (plan ? unitOfParameter(plan, name) : ''));
}

/** The fan of a series as the ribbon draws one. */
function bandsOfFan({ fan }: SeriesAgreement, { clock: { stepLength } }: Plan, runs: number): Bands {
  return {
    steps: Int32Array.from(fan.times, (time) => Math.round(time / stepLength)),
    low90: Float64Array.from(fan.low90),
    low50: Float64Array.from(fan.low50),
    median: Float64Array.from(fan.median),
    high50: Float64Array.from(fan.high50),
    high90: Float64Array.from(fan.high90),
    runs,
    endedEarly: 0,
  };
}
