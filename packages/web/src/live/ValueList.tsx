import type { ParameterPlan } from '@vole/core';
import { startOnlyParameters } from '@vole/core';
import type { CSSProperties } from 'react';
import { useMemo, useState } from 'react';
import { shownNumber } from '../words/numbers.ts';
import { live, useLive } from '../simulation/live-handle.ts';
import { ownValue } from '../store/own-value.ts';
import { sliderRange } from '../simulation/slider-range.ts';
import { store, useAppDispatch, useAppSelector } from '../store/store.ts';
import { watchActions } from '../store/watch-slice.ts';

/** Sliders and switches for the parameters of the run on show. A change acts from the step on show and is noted on the ribbon. */
export function ValueList() {
  const plan = useLive((state) => state.plan);
  const frame = useLive((state) => state.frame);
  const dispatch = useAppDispatch();
  const overrides = useAppSelector((state) => state.watch.values);
  const [wish, setWish] = useState<Readonly<Record<string, number>>>({});
  const early = useMemo(() => (plan ? startOnlyParameters(plan) : new Set<number>()), [plan]);
  if (!plan || !frame || plan.parameters.length === 0) return null;
  const set = (parameter: ParameterPlan, value: number): void => {
    setWish({ ...wish, [parameter.name]: value });
    live.setParameter(parameter.name, value);
    dispatch(watchActions.valueSet({ name: parameter.name, value }));
  };
  const again = (): void => {
    const { seed, values } = store.getState().watch;
    setWish({});
    live.restart(seed, values);
    live.play(true);
  };
  const asInText = (): void => {
    dispatch(watchActions.valuesSet({}));
    setWish({});
    live.restart(store.getState().watch.seed, {});
  };
  const changed = plan.parameters.filter((p) => (ownValue(overrides, p.name) ?? p.value) !== p.value);
  const idle = plan.parameters.filter((p, i) => early.has(i) && changed.includes(p));
  // A wish that something else has overruled since, as a scenario, is none any more.
  const wishFor = (name: string): number | undefined =>
    ownValue(wish, name) === ownValue(overrides, name) ? ownValue(wish, name) : undefined;
  const line = (parameter: ParameterPlan, i: number) => (
    <ValueLine
      key={parameter.name}
      parameter={parameter}
      value={wishFor(parameter.name) ?? frame.parameters[i]!}
      inForce={frame.parameters[i]!}
      onSet={(value) => set(parameter, value)}
      onSettled={() => setWish({})}
    />
  );
  return (
    <div>
      <div className="grid grid-cols-[auto_1fr_auto] items-center gap-x-3 gap-y-1.5">
        {plan.parameters.map((parameter, i) => !early.has(i) && line(parameter, i))}
        {early.size > 0 && <p className="col-span-3 text-sm text-faint">read only at the start of a run:</p>}
        {plan.parameters.map((parameter, i) => early.has(i) && line(parameter, i))}
      </div>
      {changed.length > 0 && (
        <p className="mt-2 text-sm text-faint">
          {changed.map((p) => p.name).join(', ')} changed by hand.{' '}
          {idle.length > 0 && (
            <>
              {idle.map((p) => p.name).join(', ')} {idle.length > 1 ? 'are' : 'is'} read only at the start, so nothing
              changes before you{' '}
            </>
          )}
          <button type="button" className="link" onClick={again}>
            start again with these values
          </button>
          {' or '}
          <button type="button" className="link" onClick={asInText}>
            as in the text
          </button>
        </p>
      )}
    </div>
  );
}

interface LineProps {
  readonly parameter: ParameterPlan;
  readonly value: number;
  readonly inForce: number;
  readonly onSet: (value: number) => void;
  readonly onSettled: () => void;
}

function ValueLine({ parameter, value, inForce, onSet, onSettled }: LineProps) {
  const { name, about, type, options, unitLabel, unitFactor } = parameter;
  const label = <span title={about ?? name}>{name}</span>;
  if (type === 'yes or no') {
    return (
      <>
        {label}
        <input
          type="checkbox"
          role="switch"
          aria-label={name}
          className="switch"
          checked={inForce !== 0}
          onChange={(event) => onSet(event.target.checked ? 1 : 0)}
        />
        <span className="text-right font-semibold">{inForce ? 'yes' : 'no'}</span>
      </>
    );
  }
  if (options) {
    return (
      <>
        {label}
        <select
          aria-label={name}
          value={inForce}
          className="rounded-sm border border-line bg-sheet"
          onChange={(event) => onSet(Number(event.target.value))}
        >
          {options.map((option, i) => (
            <option key={option} value={i}>
              {option}
            </option>
          ))}
        </select>
        <span />
      </>
    );
  }
  const { min, max, step } = sliderRange(parameter);
  const shown = value / unitFactor;
  return (
    <>
      {label}
      <input
        type="range"
        aria-label={name}
        className="range"
        style={{ '--filled': `${(100 * (shown - min)) / (max - min)}%` } as CSSProperties}
        min={min}
        max={max}
        step={step}
        value={shown}
        onChange={(event) => onSet(Number(event.target.value) * unitFactor)}
        onPointerUp={onSettled}
        onBlur={onSettled}
      />
      <span className="text-right whitespace-nowrap">
        <b className="font-semibold">{shownNumber(shown)}</b> <span className="text-sm text-faint">{unitLabel}</span>
      </span>
    </>
  );
}
