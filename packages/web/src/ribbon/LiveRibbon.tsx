import type { Plan } from '@vole/core';
import { drawnRows, stepsName, stepWords, timeTicks } from '@vole/core';
import { Suspense, useMemo, useState } from 'react';
import { askedPart } from '../session/asked-part.tsx';
import { actWords } from '../simulation/act-words.ts';
import { live, useLive } from '../simulation/live-handle.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { PACES, watchActions } from '../store/watch-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { layerColours } from '../simulation/layers.ts';
import { Ribbon } from './Ribbon.tsx';

const RibbonFiles = askedPart('What makes files', () => import('./RibbonFiles.tsx').then((m) => m.RibbonFiles));

const STRETCHES = 250;

/** The ribbon of the run on show: its composition, the controls of time, the reading line. */
export function LiveRibbon() {
  const plan = useLive((state) => state.plan);
  const frame = useLive((state) => state.frame);
  const layers = useLive((state) => state.layers);
  const marks = useLive((state) => state.marks);
  const acts = useLive((state) => state.acts);
  const stepLimit = useLive((state) => state.stepLimit);
  const seed = useLive((state) => state.seed);
  const target = useLive((state) => state.target);
  const failed = useAppSelector((state) => state.model.failure !== undefined);
  const { playing: isWished, stepsPerSecond, ended, values } = useAppSelector((state) => state.watch);
  // On its way to a condition it can be paused too; on its way to a step it soon is there.
  const playing = (isWished || (frame?.playing === true && target === undefined)) && !failed;
  const theme = useAppSelector((state) => state.interface.theme);
  const dispatch = useAppDispatch();
  const [isTaking, setTaking] = useState(false);
  const step = frame?.step ?? 0;
  const furthest = frame?.furthest ?? 0;
  // A run without a near end draws its course over what it has reached so far.
  const lastStep = Math.max(1, stepLimit > 50 * Math.max(200, furthest) ? Math.max(200, furthest * 1.25) : stepLimit);
  const ticks = useMemo(() => (plan ? timeTicks(plan, lastStep, 13) : []), [plan, lastStep]);
  const allMarks = useMemo(() => {
    const hand = acts.map((note) => ({ step: note.step, label: `by hand: ${plan ? actWords(plan, note) : ''}` }));
    return [...marks, ...hand].filter((mark) => mark.step <= furthest).sort((a, b) => a.step - b.step);
  }, [plan, marks, acts, furthest]);
  if (!plan) return <div className="h-[126px] shrink-0 border-t border-line bg-sheet" />;

  const names = stepsName(plan);
  return (
    <Ribbon
      left={
        <>
          <button
            type="button"
            className="btn-strong w-[70px]"
            onClick={() => live.play(!playing)}
            disabled={failed || (ended && step >= furthest)}
          >
            {playing ? 'Pause' : 'Play'}
          </button>
          <button type="button" className="btn" onClick={() => live.oneStep()} disabled={ended && step >= furthest}>
            One step
          </button>
          <span role="radiogroup" aria-label="Pace" className="flex items-center gap-2 whitespace-nowrap text-faint">
            <span className="max-[1150px]:hidden">{names} a second</span>
            {PACES.map((pace) => (
              <button
                key={pace ?? 'all'}
                type="button"
                role="radio"
                aria-checked={pace === stepsPerSecond}
                className={`border-b-2 px-0.5 ${pace === stepsPerSecond ? 'border-accent font-bold text-ink' : 'border-transparent hover:text-ink'}`}
                onClick={() => {
                  dispatch(watchActions.paced(pace));
                  live.pace(pace);
                }}
              >
                {pace === 0.5 ? '½' : (pace ?? 'all it can')}
              </button>
            ))}
          </span>
        </>
      }
      middle={
        <span data-testid="now">
          {plan.clock.unitSeconds > 0 ? (
            <>
              <b className="font-title">{stepWords(plan, step)}</b> step {step}
            </>
          ) : (
            <b className="font-title">step {step}</b>
          )}{' '}
          of {stepLimit}, seed {seed}
          {ended && step >= furthest ? ', ended' : ''}
        </span>
      }
      right={
        <>
          {frame && frame.refused > 0 && (
            <span
              className="text-sm whitespace-nowrap text-doubt"
              title="Moves and births onto taken cells and obstacles, which did not happen"
            >
              {frame.refused} refused
            </span>
          )}
          <RunTo plan={plan} stepLimit={stepLimit} />
          <button type="button" className="btn" onClick={() => live.restart(seed, values)}>
            Start again
          </button>
          <button type="button" className="link text-sm" aria-expanded={isTaking} onClick={() => setTaking(!isTaking)}>
            files
          </button>
        </>
      }
      below={
        isTaking && (
          <p className="flex h-6 justify-end text-sm">
            <Suspense fallback={null}>
              <RibbonFiles />
            </Suspense>
          </p>
        )
      }
      lastStep={lastStep}
      ticks={ticks}
      marks={allMarks}
      reading={target ?? step}
      readingWords={stepWords(plan, target ?? step)}
      onRead={(wanted) => live.goTo(wanted)}
      draw={(_, height, x) => (
        <Stream layers={layers} colours={layerColours(plan, theme)} furthest={furthest} height={height} x={x} />
      )}
    />
  );
}

/** Runs to a step or date, or until a condition of the model language holds. */
function RunTo({ plan, stepLimit }: { readonly plan: Plan; readonly stepLimit: number }) {
  const [text, setText] = useState('');
  const dispatch = useAppDispatch();
  // What reads it is loaded with the first wish.
  const go = async (): Promise<void> => {
    const { readRunTo } = await import('./run-to.ts');
    const wish = readRunTo(text, plan, stepLimit);
    if (!wish) return;
    if ('step' in wish) live.goTo(wish.step);
    else if ('condition' in wish) live.runUntil(wish.condition);
    else dispatch(interfaceActions.noticed({ text: wish.problem, tone: 'problem' }));
  };
  return (
    <form
      className="flex items-baseline gap-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        go().catch(() =>
          dispatch(
            interfaceActions.noticed({
              text: 'What reads this could not be loaded. Is the server running? Reload the page to try again.',
              tone: 'problem',
            }),
          ),
        );
      }}
    >
      <label className="whitespace-nowrap text-faint">
        run to{' '}
        <input
          className="word ml-1 w-36 font-mono text-sm max-[1150px]:w-28"
          aria-label="Step, date or condition to run to"
          placeholder={plan.clock.start ? 'step, date ...' : 'step, condition'}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
    </form>
  );
}

interface StreamProps {
  readonly layers: Float32Array;
  readonly colours: readonly string[];
  readonly furthest: number;
  readonly height: number;
  readonly x: (step: number) => number;
}

/** Counts stacked on one another, the first layer at the foot. */
function Stream({ layers, colours, furthest, height, x }: StreamProps) {
  const count = colours.length;
  const totalAt = (step: number): number => {
    let total = 0;
    for (let i = 0; i < count; i++) total += layers[step * count + i] ?? 0;
    return total;
  };
  const of = (i: number) => (step: number) => layers[step * count + i] ?? 0;
  const steps = drawnRows(0, furthest, STRETCHES, [totalAt, ...Array.from({ length: count }, (_, i) => of(i))]);
  const totals = steps.map(totalAt);
  const most = Math.max(1, ...totals) * 1.18;
  const y = (value: number): number => height - (value / most) * height;
  const below = new Float64Array(steps.length);
  return colours.map((colour, i) => {
    const bottom = steps.map((step, s) => `${x(step).toFixed(1)},${y(below[s]!).toFixed(1)}`);
    const top = steps.map((step, s) => {
      below[s] = below[s]! + (layers[step * count + i] ?? 0);
      return `${x(step).toFixed(1)},${y(below[s]).toFixed(1)}`;
    });
    return <path key={i} d={`M${top.join('L')}L${bottom.reverse().join('L')}Z`} fill={colour} opacity={0.85} />;
  });
}
