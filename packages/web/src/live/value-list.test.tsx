// @vitest-environment happy-dom
import 'fake-indexeddb/auto';
import { fireEvent, screen } from '@testing-library/react';
import type { Plan } from '@vole/core';
import { loadModel } from '@vole/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { shown } from '../../test/shown.tsx';
import { ownValue } from '../store/own-value.ts';
import { store } from '../store/store.ts';
import { watchActions } from '../store/watch-slice.ts';
import { ValueList } from './ValueList.tsx';

interface Held {
  state: { readonly plan?: unknown; readonly frame?: { readonly parameters: readonly number[] } };
  readonly live: Record<'setParameter' | 'restart' | 'play', ReturnType<typeof vi.fn>>;
}

const held: Held = vi.hoisted(() => ({
  state: {},
  live: { setParameter: vi.fn(), restart: vi.fn(), play: vi.fn() },
}));
vi.mock('../simulation/live-handle.ts', () => ({
  live: held.live,
  useLive: <T,>(select: (state: unknown) => T) => select(held.state),
}));

const plan: Plan = loadModel(`model M
clock
  step 1 day
  end after 9 days
parameter bite = 2 h, from 0 h to 5 h
parameter valueOf = 3, from 0 to 9
parameter wet = no
parameter kind = mild of mild, hard
agent A
  start round(valueOf)
  has age = 0
  behaviour live
    age += bite / 1 h
    if wet and kind is hard
      age += 2
order
  live in turn
`).loaded!.plan;
const at = (name: string) => plan.parameters.findIndex((parameter) => parameter.name === name);
const list = (values: Readonly<Record<string, number>> = {}) => {
  held.state = {
    plan,
    frame: { parameters: plan.parameters.map(({ name, value }) => ownValue(values, name) ?? value) },
  };
  return shown(<ValueList />);
};

beforeEach(() => {
  store.dispatch(watchActions.valuesSet({}));
  for (const called of Object.values(held.live)) called.mockReset();
});

describe('the values of the run on show', () => {
  it('stand in the units of the text, those that are read only at the start apart', () => {
    const { container } = list();
    const bite = screen.getByRole<HTMLInputElement>('slider', { name: 'bite' });
    expect([bite.min, bite.max, bite.value]).toEqual(['0', '5', '2']);
    const texts = container.textContent;
    expect(texts).toMatch(/^bite2 h/);
    expect(texts.indexOf('valueOf')).toBeGreaterThan(texts.indexOf('read only at the start of a run:'));
    expect(screen.queryByRole('button')).toBeNull();
  });

  it('that are moved act on the run in base units, and are kept beside the text', () => {
    list();
    fireEvent.change(screen.getByRole('slider', { name: 'bite' }), { target: { value: '3' } });
    fireEvent.click(screen.getByRole('switch', { name: 'wet' }));
    fireEvent.change(screen.getByRole('combobox', { name: 'kind' }), { target: { value: '1' } });
    const unit = plan.parameters[at('bite')]!.unitFactor;
    expect(held.live.setParameter.mock.calls).toEqual([
      ['bite', 3 * unit],
      ['wet', 1],
      ['kind', 1],
    ]);
    expect(store.getState().watch.values).toEqual({ bite: 3 * unit, wet: 1, kind: 1 });
    expect(screen.getByText(/^bite, wet, kind changed by hand/)).toBeDefined();
  });

  it('that act only at the start say so, and the run begins again with them', () => {
    list();
    fireEvent.change(screen.getByRole('slider', { name: 'valueOf' }), { target: { value: '7' } });
    expect(screen.getByText(/valueOf is read only at the start, so nothing changes before you/)).toBeDefined();
    fireEvent.click(screen.getByRole('button', { name: 'start again with these values' }));
    expect(held.live.restart).toHaveBeenCalledWith(store.getState().watch.seed, { valueOf: 7 });
    expect(held.live.play).toHaveBeenCalledWith(true);
  });

  it('are those of the text again by a click', () => {
    store.dispatch(watchActions.valuesSet({ wet: 1 }));
    list({ wet: 1 });
    expect(screen.getByRole<HTMLInputElement>('switch', { name: 'wet' }).checked).toBe(true);
    fireEvent.click(screen.getByRole('button', { name: 'as in the text' }));
    expect(store.getState().watch.values).toEqual({});
    expect(held.live.restart).toHaveBeenCalledWith(store.getState().watch.seed, {});
  });

  it('are not there without parameters, or before there is a run', () => {
    held.state = { plan };
    expect(shown(<ValueList />).container.textContent).toBe('');
    held.state = { plan: { ...plan, parameters: [] }, frame: { parameters: [] } };
    expect(shown(<ValueList />).container.textContent).toBe('');
  });
});
