import { Suspense, useCallback, useRef, useState } from 'react';
import { MeasureChart } from '../charts/MeasureChart.tsx';
import { askedPart } from '../session/asked-part.tsx';
import type { PickedAgent, Place } from '../drawing/scene.ts';
import type { SpaceView } from '../drawing/stage.ts';
import { TakenOf } from '../files/taken-of.ts';
import { useLiveProvenance } from '../files/use-live-provenance.ts';
import { SharedView } from '../drawing/shared-view.ts';
import { SpaceCanvas } from '../drawing/SpaceCanvas.tsx';
import { SpaceChoice } from '../drawing/SpaceChoice.tsx';
import { useShownSpace } from '../drawing/shown-space.ts';
import { LiveRibbon } from '../ribbon/LiveRibbon.tsx';
import type { Plan } from '@vole/core';
import { stepWords } from '@vole/core';
import { EditableWord } from '../words/EditableWord.tsx';
import { readCount } from '../words/read-count.ts';
import { keepBeside, kept, live, useLive } from '../simulation/live-handle.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { RunNotice } from '../live/RunNotice.tsx';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { watchActions } from '../store/watch-slice.ts';
import { AgentCard } from './AgentCard.tsx';
import { AgentTableCard } from './AgentTableCard.tsx';
import { BESIDE_CARDS, LEFT, MARGIN, RIGHT, UNDER_CARDS } from './card-room.ts';
import { Card } from './Card.tsx';
import type { Tool } from './HandCard.tsx';
import { actOf, HandCard, OPENING, RuleSwitches } from './HandCard.tsx';
import { FilmButton, PictureButton } from './FilmButtons.tsx';
import { LanesCard } from './LanesCard.tsx';
import { LogCard } from './LogCard.tsx';
import { LayerSwitches } from './LayerSwitches.tsx';
import { KeyTable } from '../live/KeyTable.tsx';
import { ScenarioChoice } from './ScenarioChoice.tsx';
import { ValueList } from '../live/ValueList.tsx';

const DistributionChart = askedPart('The chart', () =>
  import('../charts/DistributionChart.tsx').then((part) => part.DistributionChart),
);
const PhaseChart = askedPart('The chart', () => import('../charts/PhaseChart.tsx').then((part) => part.PhaseChart));

/** The whole space, with cards at its sides or over it. */
export function WatchView() {
  const view = useRef<SpaceView>(undefined);
  const [tool, setTool] = useState<Tool>(OPENING);
  const [brush, setBrush] = useState<number>();
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
  const [follows, setFollows] = useState(false);
  const [listed, setListed] = useState<number>();
  const [together] = useState(() => new SharedView());
  const plan = useLive((state) => state.plan);
  const frame = useLive((state) => state.frame);
  const seed = useLive((state) => state.seed);
  const beside = useLive((state) => state, kept);
  const shown = useShownSpace();
  const size = frame?.spaces[shown] ?? { width: 0, height: 0 };
  const radius = brush ?? Math.max(size.width, size.height) / 40;
  const paint = useCallback(
    (place: Place) => {
      if (tool.is === 'paint')
        live.act({ is: 'paint', zone: tool.zone, inside: tool.inside, radius, places: [[place.x, place.y]] });
    },
    [tool, radius],
  );
  const pick = useCallback(
    (agent: PickedAgent | undefined, place: Place) => {
      if (tool.is === 'line')
        return void import('./line-acts.ts').then(({ clickLine }) => setTool(clickLine(tool, place)));
      if (tool.is === 'open') return agent ? live.openAgent(agent.kind, agent.number) : live.closeAgent();
      const act = actOf(tool, agent, place, shown);
      if (act) live.act(act);
    },
    [tool, shown],
  );
  const step = frame?.step ?? 0;
  const of = useLiveProvenance();
  const dispatch = useAppDispatch();
  const isOver = useAppSelector((state) => state.interface.cardsOver);
  const insets = isOver && !beside.plan ? UNDER_CARDS : BESIDE_CARDS;
  return (
    <TakenOf value={of}>
      <div className="flex h-full flex-col">
        <main className="relative min-h-0 flex-1 bg-wash">
          <div
            className="absolute inset-y-0 flex"
            style={isOver ? { left: 0, right: 0 } : { left: LEFT + MARGIN, right: RIGHT + MARGIN }}
          >
            <div className="relative min-w-0 flex-1">
              <SpaceCanvas
                insets={insets}
                view={together}
                label="The space of the run, live. Wheel or plus and minus zoom, dragging or arrows move, a click opens an agent."
                onReady={(control) => (view.current = control)}
                onPick={pick}
                onPaint={tool.is === 'paint' ? paint : undefined}
                hidden={hidden}
                follows={follows}
              />
              {beside.plan && <p className="card absolute top-4 right-3 px-3 py-0.5">this run, seed {seed}</p>}
            </div>
            {beside.plan && (
              <div className="relative min-w-0 flex-1 border-l-2 border-line">
                <SpaceCanvas
                  source={kept}
                  view={together}
                  hidden={hidden}
                  insets={insets}
                  label="The space of the run it is compared with"
                />
                <p className="card absolute top-4 left-3 px-3 py-0.5">
                  compared with, seed {beside.seed}
                  {beside.frame && plan ? `, ${stepWords(plan, beside.frame.step)}` : ''}
                </p>
              </div>
            )}
            <div className="absolute bottom-3 left-1/2 flex -translate-x-1/2 gap-2">
              <SpaceChoice />
              <button type="button" className="btn" aria-label="Closer" onClick={() => view.current?.zoom(1.3)}>
                +
              </button>
              <button type="button" className="btn" aria-label="Further" onClick={() => view.current?.zoom(1 / 1.3)}>
                &minus;
              </button>
              <button type="button" className="btn" onClick={() => view.current?.fit()}>
                whole
              </button>
              <PictureButton />
              <FilmButton />
              <button
                type="button"
                className="btn"
                aria-pressed={listed !== undefined}
                onClick={() => setListed(listed === undefined ? 0 : undefined)}
              >
                table
              </button>
            </div>
          </div>
          <div className="pointer-events-none absolute inset-4 flex items-start justify-between gap-4">
            <div className="flex max-h-full flex-col gap-2.5 overflow-auto" style={{ width: LEFT }}>
              <Card title="Key" width={LEFT} note={plan && stepWords(plan, step)}>
                <KeyTable />
              </Card>
              <Card title="Values" width={LEFT}>
                <ValueList />
                <ScenarioChoice />
                <SeedChoice />
                <BesideChoice />
              </Card>
              <LanesCard width={LEFT} tool={tool} onTool={setTool} />
              <Card title="Click" width={LEFT}>
                <HandCard tool={tool} onTool={setTool} brush={radius} onBrush={setBrush} />
              </Card>
              <Card title="Rules" width={LEFT} begins="folded">
                <RuleSwitches />
              </Card>
              <Card title="Layers" width={LEFT} begins="folded">
                <LayerSwitches hidden={hidden} onChange={setHidden} />
              </Card>
            </div>
            <div className="flex max-h-full flex-col gap-4 overflow-auto" style={{ width: RIGHT }}>
              <AgentCard width={RIGHT} follows={follows} onFollow={setFollows} />
              {plan?.charts.map((chart, i) => (
                <Card key={chart.title} title={chart.title} width={RIGHT} note={chartNote(plan, i)}>
                  <Suspense fallback={null}>
                    {chart.distribution ? (
                      <DistributionChart chart={i} />
                    ) : chart.against === undefined ? (
                      <MeasureChart measures={chart.measures} levels={chart.levels} title={chart.title} />
                    ) : (
                      <PhaseChart measures={chart.measures} against={chart.against} title={chart.title} />
                    )}
                  </Suspense>
                </Card>
              ))}
              <LogCard width={RIGHT} />
              <button
                type="button"
                className="card link pointer-events-auto self-end px-2 text-sm"
                onClick={() => dispatch(interfaceActions.cardsOver(!isOver))}
              >
                {isOver ? 'cards at the sides' : 'cards over the space'}
              </button>
            </div>
          </div>
          {listed !== undefined && <AgentTableCard kind={listed} onKind={setListed} />}
          <RunNotice className="card absolute top-4 left-1/2 z-10 max-w-lg -translate-x-1/2 px-4 py-2" />
        </main>
        <LiveRibbon />
      </div>
    </TakenOf>
  );
}

/** What a chart of the text shows. */
function chartNote({ charts, measures }: Plan, chart: number): string {
  const { measures: shown, against, distribution } = charts[chart]!;
  const names = shown.map((m) => measures[m]!.name).join(', ');
  return distribution?.name ?? (against === undefined ? names : `${names} against ${measures[against]!.name}`);
}

/** Keeps this run at the side, so that one can branch from any step with other values or another seed and see both. */
function BesideChoice() {
  const beside = useLive((state) => state, kept);
  if (!beside.plan)
    return (
      <button type="button" className="link mt-1" onClick={() => void keepBeside()}>
        compare with this run
      </button>
    );
  return (
    <p className="mt-1 flex flex-wrap items-baseline justify-between gap-x-3 whitespace-nowrap">
      <span>
        compared with{' '}
        <SeedWord label="Seed of the other run" seed={beside.seed} onChange={(next) => void keepBeside(next)} />
      </span>
      <button type="button" className="link" onClick={() => kept.forget()}>
        end the comparison
      </button>
    </p>
  );
}

/** The seed of a run; another is written over it. */
function SeedWord({
  label,
  seed,
  onChange,
}: {
  readonly label: string;
  readonly seed: number;
  readonly onChange: (seed: number) => void;
}) {
  const dispatch = useAppDispatch();
  const read = (text: string): void => {
    const next = readCount(text.replace(/^\s*seed/i, ''), Number.MAX_SAFE_INTEGER, 'A seed', 0);
    if (typeof next === 'number') onChange(next);
    else dispatch(interfaceActions.noticed({ text: next.problem, tone: 'problem' }));
  };
  return <EditableWord label={label} value={`seed ${seed}`} onChange={read} />;
}

function SeedChoice() {
  const seed = useLive((state) => state.seed);
  const dispatch = useAppDispatch();
  const values = useAppSelector((state) => state.watch.values);
  const change = (next: number): void => {
    dispatch(watchActions.seeded(next));
    live.restart(next, values);
  };
  return (
    <p className="mt-1.5 flex items-center justify-between border-t border-line pt-1.5">
      <SeedWord label="Seed" seed={seed} onChange={change} />
      <button type="button" className="link" onClick={() => change(seed + 1)}>
        another seed
      </button>
    </p>
  );
}
