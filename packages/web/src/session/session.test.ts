import 'fake-indexeddb/auto';
import { fileMark } from '@vole/core';
import { afterAll, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { eventually } from '../../test/patience.ts';
import type { WatchRequest } from '../simulation/protocol.ts';
import { filesBeside } from '../simulation/beside.ts';
import { repository } from '../storage/repository.ts';
import { storedText } from '../storage/stored-files.ts';
import { projectActions } from '../store/project-slice.ts';
import {
  addWhileRunning,
  changeText,
  keepMineAsCopy,
  openProject,
  renameProject,
  saveNow,
  visitView,
  watchOtherTabs,
} from './session.ts';
import { takeFile } from './taken-files.ts';
import { store } from '../store/store.ts';
import { watchActions } from '../store/watch-slice.ts';

/** What the page has asked the watch workers for. */
const asked: WatchRequest[] = [];
class SilentWorker {
  postMessage(request: WatchRequest): void {
    asked.push(request);
  }
  terminate(): void {
    asked.push({ is: 'close agent' });
  }
}
const listeners = new Map<string, (event: { preventDefault: () => void }) => void>();

beforeAll(() => {
  vi.stubGlobal('Worker', SilentWorker);
  vi.stubGlobal('document', {
    addEventListener: (name: string, listener: () => void) => listeners.set(name, listener),
    visibilityState: 'hidden',
  });
  vi.stubGlobal('window', { addEventListener: (name: string, listener: () => void) => listeners.set(name, listener) });
  watchOtherTabs();
});
afterAll(() => vi.unstubAllGlobals());

const project = () => store.getState().project;
const loads = () => asked.filter((request) => request.is === 'load');

let id: string;
beforeEach(async () => {
  asked.length = 0;
  const row = await repository.addProject('First', 'model First\n');
  id = row.id;
  await openProject(row);
});

describe('the project on the page', () => {
  it('is checked as soon as it is opened', () =>
    expect(loads().at(-1)).toMatchObject({ text: 'model First\n', goesOn: false }));

  it('is checked and saved a little after a change, once for many', async () => {
    for (const text of ['model First\n# a\n', 'model First\n# ab\n', 'model First\n# abc\n']) changeText(text);
    expect(project().dirty).toBe(true);
    await eventually(() => expect(project()).toMatchObject({ dirty: false, revision: 2 }));
    expect(loads().map(({ text }) => text)).toEqual(['model First\n', 'model First\n# abc\n']);
    expect((await repository.project(id))!.text).toBe('model First\n# abc\n');
  });

  it('leaves a text alone that is put in its own place', () => {
    const origin = project().textOrigin;
    changeText('model First\n');
    expect(project()).toMatchObject({ textOrigin: origin, dirty: false });
  });

  it('goes on with who is there where a part is added while running, and where that is chosen', () => {
    addWhileRunning('model First\n# wall\n');
    expect(loads().at(-1)).toMatchObject({ goesOn: true });
    store.dispatch(watchActions.goesOn(true));
    changeText('model First\n# more\n');
    return eventually(() => expect(loads().at(-1)).toMatchObject({ text: 'model First\n# more\n', goesOn: true }));
  });

  it('is saved before another one is opened, and when the page is hidden or closed', async () => {
    changeText('model First\n# kept\n');
    const other = await repository.addProject('Second', 'model Second\n');
    await openProject(other);
    expect((await repository.project(id))!.text).toBe('model First\n# kept\n');
    changeText('model Second\n# hidden\n');
    listeners.get('visibilitychange')!({ preventDefault: () => undefined });
    await eventually(async () => expect((await repository.project(other.id))!.text).toBe('model Second\n# hidden\n'));
    changeText('model Second\n# closed\n');
    let asks = 0;
    listeners.get('beforeunload')!({ preventDefault: () => asks++ });
    await eventually(async () => expect((await repository.project(other.id))!.text).toBe('model Second\n# closed\n'));
    expect(asks).toBe(1);
    listeners.get('beforeunload')!({ preventDefault: () => asks++ });
    expect(asks).toBe(1);
  });

  it('is not written over what another tab has saved: both texts stay until the modeler chooses', async () => {
    await repository.saveProject(id, 1, { text: 'model Theirs\n' });
    changeText('model Mine\n');
    await saveNow();
    expect(project()).toMatchObject({ text: 'model Mine\n', conflict: { text: 'model Theirs\n' } });
    expect((await repository.project(id))!.text).toBe('model Theirs\n');
    const copy = await keepMineAsCopy();
    expect(await repository.project(copy.id)).toMatchObject({ text: 'model Mine\n', name: 'Mine (this tab)' });
    expect(project()).toMatchObject({ text: 'model Theirs\n', conflict: undefined });
    expect(loads().at(-1)).toMatchObject({ text: 'model Theirs\n' });
  });

  it('says when it cannot be stored, keeps the text, and stores it when there is room again', async () => {
    const full = vi
      .spyOn(repository, 'saveProject')
      .mockRejectedValueOnce(new DOMException('no room', 'QuotaExceededError'));
    changeText('model First\n# long\n');
    await saveNow();
    expect(project()).toMatchObject({
      dirty: true,
      text: 'model First\n# long\n',
      problem: expect.stringMatching(/room|full|space/i) as string,
    });
    full.mockRestore();
    await saveNow();
    expect(project()).toMatchObject({ dirty: false, problem: undefined });
  });

  it('takes over what another tab saved while nothing of its own is unsaved', async () => {
    const other = new BroadcastChannel('vole-parade');
    await repository.saveProject(id, 1, { text: 'model Elsewhere\n' });
    other.postMessage({ id, revision: 2 });
    await eventually(() =>
      expect(project()).toMatchObject({ text: 'model Elsewhere\n', conflict: undefined, revision: 2 }),
    );
    other.postMessage({ id: 'another', revision: 9 });
    store.dispatch(projectActions.textTyped('model Mine now\n'));
    await repository.saveProject(id, 2, { text: 'model Elsewhere again\n' });
    other.postMessage({ id, revision: 3 });
    await eventually(() => expect(project().conflict).toMatchObject({ text: 'model Elsewhere again\n' }));
    expect(project().text).toBe('model Mine now\n');
    other.close();
  });

  it('is renamed in the list without its text, which another tab may have written since', async () => {
    await repository.saveProject(id, 1, { text: 'model Elsewhere\n' });
    await renameProject(id, 'Another name');
    expect(project()).toMatchObject({
      name: 'Another name',
      text: 'model Elsewhere\n',
      conflict: undefined,
      dirty: false,
    });
    changeText('model Elsewhere\n# and here\n');
    await saveNow();
    expect(await repository.project(id)).toMatchObject({ name: 'Another name', text: 'model Elsewhere\n# and here\n' });
  });

  it('takes a new name that the list of another tab gave it, and loses nothing that is not saved yet', async () => {
    store.dispatch(projectActions.textTyped('model First\n# unsaved\n'));
    const other = new BroadcastChannel('vole-parade');
    other.postMessage({ id, revision: await repository.renameProject(id, 'Named there'), name: 'Named there' });
    await eventually(() =>
      expect(project()).toMatchObject({
        name: 'Named there',
        text: 'model First\n# unsaved\n',
        dirty: true,
        conflict: undefined,
      }),
    );
    await saveNow();
    expect(await repository.project(id)).toMatchObject({ name: 'Named there', text: 'model First\n# unsaved\n' });
    other.close();
  });

  it('keeps a file that there is no room for on the page, asks before it is closed, and stores it when there is room', async () => {
    const full = vi.spyOn(repository, 'keepFile').mockRejectedValue(new DOMException('no room', 'QuotaExceededError'));
    store.dispatch(projectActions.textTyped('model First\nvariable rain from "rain.csv"\n'));
    await saveNow();
    await takeFile(new File(['day,rain\n1,2\n'], 'rain.csv'));
    expect(project()).toMatchObject({
      files: { 'rain.csv': fileMark('day,rain\n1,2\n') },
      problem: expect.stringMatching(/no room left/) as string,
    });
    let asks = 0;
    listeners.get('beforeunload')!({ preventDefault: () => asks++ });
    await eventually(() => expect(asks).toBe(1));
    // Another project has it not; opened again, this one has it still.
    const row = (await repository.project(id))!;
    await openProject(await repository.addProject('Second', 'model Second\n'));
    expect([project().files, filesBeside().size]).toEqual([{}, 0]);
    await openProject(row);
    expect(filesBeside().get('rain.csv')).toBe('day,rain\n1,2\n');
    expect(await repository.files(id)).toEqual([]);
    full.mockRestore();
    await saveNow();
    expect((await repository.files(id)).map(({ name }) => name)).toEqual(['rain.csv']);
    expect(project().problem).toBeUndefined();
    listeners.get('beforeunload')!({ preventDefault: () => asks++ });
    expect(asks).toBe(1);
  });

  it('takes a file that another tab put beside the model, and lets others hear of its own', async () => {
    const other = new BroadcastChannel('vole-parade');
    const heard: unknown[] = [];
    other.onmessage = ({ data }) => heard.push(data);
    await repository.keepFile(id, storedText('rain.csv', 'day,rain\n1,2\n'));
    const before = loads().length;
    other.postMessage({ id: 'another', file: 'rain.csv' });
    other.postMessage({ id, file: 'rain.csv' });
    await eventually(() => expect(loads()).toHaveLength(before + 1));
    expect(filesBeside().get('rain.csv')).toBe('day,rain\n1,2\n');
    expect(project().files).toEqual({ 'rain.csv': fileMark('day,rain\n1,2\n') });
    store.dispatch(projectActions.textTyped('model First\nvariable rain from "rain.csv"\n'));
    await takeFile(new File(['day,rain\n1,5\n'], 'rain.csv'));
    await eventually(() => expect(heard).toContainEqual({ id, file: 'rain.csv' }));
    other.close();
  });

  it('opens with its text also when its studies cannot be read', async () => {
    const broken = vi
      .spyOn(repository, 'studies')
      .mockRejectedValueOnce(new DOMException('gone', 'DatabaseClosedError'));
    const row = await repository.addProject('Third', 'model Third\n');
    await openProject(row);
    // Looked at again, they are not read again: what has been begun meanwhile would be taken off.
    broken.mockClear();
    await visitView('repeat');
    await visitView('vary');
    expect(broken).not.toHaveBeenCalled();
    broken.mockRestore();
    expect(project()).toMatchObject({
      id: row.id,
      text: 'model Third\n',
      problem: expect.stringContaining('take the project along') as string,
    });
    store.dispatch(projectActions.storageFailed(undefined));
  });
});
