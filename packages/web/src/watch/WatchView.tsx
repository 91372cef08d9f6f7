import type { ReactNode } from 'react';
import { useRef, useState } from 'react';
import { MeasureChart } from '../charts/MeasureChart.tsx';
import type { SpaceView } from '../drawing/SpaceCanvas.tsx';
import { SpaceCanvas } from '../drawing/SpaceCanvas.tsx';
import { LiveRibbon } from '../ribbon/LiveRibbon.tsx';
import { stepWords } from '../ribbon/time-axis.ts';
import { live, useLive } from '../simulation/live-handle.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { watchActions } from '../store/watch-slice.ts';
import { AgentCard } from './AgentCard.tsx';
import { KeyTable } from './KeyTable.tsx';
import { ValueList } from './ValueList.tsx';

/** The space edge to edge, with cards over it. */
export function WatchView() {
  const view = useRef<SpaceView>(undefined);
  const { plan, frame } = useLive();
  const { runs, failure } = useAppSelector((state) => state.model);
  const step = frame?.step ?? 0;
  return (
    <div className="flex h-full flex-col">
      <main className="relative min-h-0 flex-1">
        <SpaceCanvas
          cover
          label="The space of the run, live. Wheel or plus and minus zoom, dragging or arrows move, a click opens an agent."
          onReady={(control) => (view.current = control)}
          onPick={(agent) => (agent ? live.openAgent(agent.kind, agent.number) : live.closeAgent())}
        />
        <div className="pointer-events-none absolute inset-4 flex items-start justify-between gap-4">
          <div className="flex max-h-full w-[276px] flex-col gap-4 overflow-auto">
            <Card title="Key" note={plan && stepWords(plan, step)}><KeyTable /></Card>
            <Card title="Values"><ValueList /></Card>
            <Card title="Luck"><SeedChoice /></Card>
          </div>
          <div className="flex max-h-full w-[330px] flex-col gap-4 overflow-auto">
            {plan?.charts.map((chart) => (
              <Card key={chart.title} title={chart.title} note={chart.measures.map((m) => plan.measures[m]!.name).join(', ')}>
                <MeasureChart measures={chart.measures} title={chart.title} />
              </Card>
            ))}
            <AgentCard />
          </div>
        </div>
        <div className="absolute bottom-4 left-1/2 flex -translate-x-1/2 gap-2">
          <button type="button" className="btn" aria-label="Closer" onClick={() => view.current?.zoom(1.3)}>+</button>
          <button type="button" className="btn" aria-label="Further" onClick={() => view.current?.zoom(1 / 1.3)}>&minus;</button>
          <button type="button" className="btn" onClick={() => view.current?.fit()}>Fit</button>
        </div>
        {(failure || !runs) && (
          <p role="alert" className="card absolute top-4 left-1/2 max-w-lg -translate-x-1/2 px-4 py-2">
            {failure ? `The run stopped in step ${failure.step}. ${failure.message} ${failure.hint ?? ''}` : 'The text has errors; this is the last one that was right.'}
          </p>
        )}
      </main>
      <LiveRibbon />
    </div>
  );
}

export function Card({ title, note, children }: { readonly title: string; readonly note?: ReactNode; readonly children: ReactNode }) {
  const [folded, setFolded] = useState(false);
  return (
    <section aria-label={title} className="card pointer-events-auto px-3.5 py-2.5">
      <h2 className="flex items-baseline justify-between gap-3">
        <button type="button" className="font-title text-[15.5px] font-semibold" aria-expanded={!folded} onClick={() => setFolded(!folded)}>{title}</button>
        <span className="truncate font-body text-sm font-normal text-faint">{folded ? 'folded' : note}</span>
      </h2>
      {!folded && <div className="mt-1.5">{children}</div>}
    </section>
  );
}

function SeedChoice() {
  const { seed } = useLive();
  const dispatch = useAppDispatch();
  const values = useAppSelector((state) => state.watch.values);
  const change = (next: number): void => {
    dispatch(watchActions.seeded(next));
    live.restart(next, values);
  };
  return (
    <p className="flex items-center justify-between">
      <label>
        seed{' '}
        <input type="number" min={0} className="word w-20" value={seed} onChange={(event) => {
          const next = Number(event.target.value);
          if (Number.isSafeInteger(next) && next >= 0) change(next);
        }} />
      </label>
      <button type="button" className="link" onClick={() => change(seed + 1)}>another seed</button>
    </p>
  );
}
