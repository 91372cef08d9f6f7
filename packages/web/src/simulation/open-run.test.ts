import { loadModel } from '@vole/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { StudyRow } from '../storage/schema.ts';
import { projectActions } from '../store/project-slice.ts';
import { store } from '../store/store.ts';
import { openRun } from './open-run.ts';

const live = vi.hoisted(() => ({ text: '', load: vi.fn(), restart: vi.fn() }));
vi.mock('./live-handle.ts', () => ({ live }));

const TEXT = 'model M\nclock\n  end after 9 steps\nparameter bite = 0.2\nagent A\n  start 4\nmeasure m = count A\n';
const LINES = '  at 3 steps: bite = 0.5\n';
const { plan } = loadModel(TEXT).loaded!;
const study = { text: TEXT, parameters: { bite: 0.2 } } as unknown as StudyRow;
const run = { seed: 7, steps: 9 };

beforeEach(() => {
  live.load.mockReset();
  live.restart.mockReset();
  live.text = TEXT;
  store.dispatch(projectActions.textReplaced(TEXT));
});

describe('a run of a study, opened in Watch', () => {
  it('starts anew in the text on show, with its seed, its values and its step', () => {
    openRun(study, plan, run, 5, { bite: 0.4 });
    expect(live.restart).toHaveBeenCalledWith(7, { bite: 0.4 }, 5);
    expect(live.load).not.toHaveBeenCalled();
    expect(store.getState().watch).toMatchObject({ seed: 7, values: { bite: 0.4 }, playing: false });
  });

  it('is loaded with the timeline of its scenario, and the next one without it', () => {
    openRun(study, plan, run, 5, { bite: 0.2 }, LINES);
    const [loaded] = live.load.mock.calls[0] as [string];
    expect(loaded).not.toBe(TEXT);
    expect(loaded).toContain(LINES.trim());
    live.text = loaded;
    openRun(study, plan, run, 5);
    expect(live.load).toHaveBeenLastCalledWith(TEXT, 7, { bite: 0.2 }, 5);
    expect(live.restart).not.toHaveBeenCalled();
    expect(store.getState().watch.values).toEqual({});
  });

  it('of an earlier text is shown with that text, and this is said', () => {
    store.dispatch(projectActions.textReplaced(`${TEXT}# changed\n`));
    live.text = `${TEXT}# changed\n`;
    openRun(study, plan, run, 2);
    expect(live.load).toHaveBeenCalledWith(TEXT, 7, { bite: 0.2 }, 2);
    expect(store.getState().interface.notices.at(-1)?.text).toContain('of an earlier text');
  });

  it('that ran with another file beside the model is said to be another run', () => {
    const said = () => store.getState().interface.notices.at(-1)?.text;
    store.dispatch(projectActions.filesPut({ 'a.osm': '12' }));
    openRun({ ...study, files: { 'a.osm': '12' } }, plan, run, 2);
    expect(said() ?? '').not.toContain('a.osm');
    openRun({ ...study, files: { 'a.osm': '34' } }, plan, run, 2);
    expect(said()).toMatch(/^“a\.osm” beside the model has changed since: .* not the one of the study\.$/);
  });
});
