import { ENGINE_VERSION, plainCourse } from '@vole/core';
import type { Bands, Plan } from '@vole/core';
import { FanRibbon } from '../ribbon/FanRibbon.tsx';
import { useAnswer } from '../studies/use-answer.ts';
import { useShownStudy } from '../studies/use-study-plan.ts';
import { useAppSelector } from '../store/store.ts';
import { Freezing } from './Freezing.tsx';
import { PutIn } from './PutIn.tsx';
import { ReportOutline } from './ReportOutline.tsx';
import { ReportSheet } from './ReportSheet.tsx';
import { Reruns } from './Reruns.tsx';
import { TakeAlong } from './TakeAlong.tsx';
import { useReport } from './use-report.ts';

/** The project as a report on a sheet of paper, and ways to hand it over. */
export function TellView() {
  const { report: told, quotable, isReading } = useReport();
  const frozen = useAppSelector((state) => state.project.report.frozen);
  const report = frozen?.report ?? told;
  const { plan, runs } = useShownStudy('repeat');
  const bands = useFirstCourse(plan, runs);
  return (
    <div className="flex h-full flex-col">
      <main className="flex min-h-0 flex-1 gap-4 p-4">
        <div className="flex w-[262px] shrink-0 flex-col gap-4 overflow-auto">
          <ReportOutline report={report} isReading={isReading && !frozen} />
          <Freezing report={told} isReading={isReading} />
          <TakeAlong report={report} isReading={isReading && !frozen} />
          <Reruns />
        </div>
        <div className="min-w-0 flex-1 overflow-auto">
          <ReportSheet report={report} quotable={quotable} isFrozen={frozen !== undefined} />
        </div>
        <div className="flex w-[236px] shrink-0 flex-col gap-4 overflow-auto">
          <PutIn />
        </div>
      </main>
      {plan && (
        <FanRibbon
          plan={plan}
          bands={bands}
          measure={0}
          title={
            <b className="font-title">
              {runs} runs of {plan.title}
            </b>
          }
          note={`engine version ${ENGINE_VERSION} of Vole Parade`}
        />
      )}
    </div>
  );
}

/** The course of the first measure over the runs of Repeat. */
function useFirstCourse(plan: Plan | undefined, runs: number): Bands | undefined {
  const isAsked = plan !== undefined && plan.measures.length > 0 && runs > 0;
  return useAnswer('repeat', isAsked ? { is: 'fan', course: plainCourse(0), lines: 0 } : undefined)?.answer?.bands;
}
