// @vitest-environment happy-dom
import 'fake-indexeddb/auto';
import { act, screen } from '@testing-library/react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { eventually } from '../../test/patience.ts';
import { dispatched, shown } from '../../test/shown.tsx';
import { TextWorkerInPlay } from '../../test/text-worker-in-play.ts';
import { store } from '../store/store.ts';
import { projectActions } from '../store/project-slice.ts';
import { putBeside } from './beside.ts';
import { readText, useReadText } from './read-texts.ts';

vi.stubGlobal('Worker', TextWorkerInPlay);
const { texts } = TextWorkerInPlay;
const text = (i: number): string => `model M${i}\nagent A\n  start 1\nmeasure n = count A\nsummary top = max of n\n`;

const COULD_NOT = 'The text could not be read (out of memory). It is safe; change it or reload the page to try again.';

beforeEach(() => {
  texts.length = 0;
});

describe('a text', () => {
  it('that is in use is read once, also by two who ask together; of many the latest are kept', async () => {
    const [first, same] = await Promise.all([readText(text(0)), readText(text(0))]);
    expect(same).toBe(first);
    expect(first.loaded!.plan.title).toBe('M0');
    for (let i = 1; i < 8; i++) await readText(text(i));
    expect(await readText(text(0))).toBe(first);
    expect(texts.length).toBe(8);
    for (let i = 10; i < 18; i++) await readText(text(i));
    const again = await readText(text(0));
    expect(again).not.toBe(first);
    expect(again.loaded!.plan).toEqual(first.loaded!.plan);
  });

  it('with errors gives what is wrong, the same each time', async () => {
    const wrong = await readText('model Broken\nagent\n');
    expect([wrong.loaded, wrong.diagnostics.length > 0]).toEqual([undefined, true]);
    expect(await readText('model Broken\nagent\n')).toBe(wrong);
  });

  it('tells what is wrong in the studies that stand in it, and takes what a study asks beyond it', async () => {
    const studied = `${text(1)}study S\n  vary bit 0.1, 0.3\n  4 seeds each\n`;
    const { studyFindings } = await readText(studied);
    expect(studyFindings.map(({ message }) => message)).toEqual([expect.stringContaining('no parameter “bit”')]);
    expect((await readText(text(1))).studyFindings).toEqual([]);
    const asked = await readText(text(1), [{ name: 'full', condition: 'top > 3' }]);
    expect(asked.loaded!.plan.summaries.map(({ name }) => name)).toEqual(['top', 'full']);
    expect((await readText(text(1))).loaded!.plan.summaries.map(({ name }) => name)).toEqual(['top']);
  });

  it('is read anew with other files beside it, also when they come while it is read', async () => {
    const wet = `${text(4)}variable rain from "rain.csv"\n`;
    const early = readText(wet);
    putBeside(new Map([['rain.csv', 'step,rain\n0,1\n1,2\n']]));
    const read = await early;
    expect(read.loaded).toBeDefined();
    expect(await readText(wet)).toBe(read);
    putBeside(new Map());
    const { loaded, diagnostics } = await readText(wet);
    expect(loaded).toBeUndefined();
    expect(diagnostics.find(({ severity }) => severity === 'error')!.message).toContain('rain.csv');
  });

  it('that breaks the worker is told to be so and not kept; the next text is read', async () => {
    const broken = `${text(3)}# ${TextWorkerInPlay.BREAK}\n`;
    await expect(readText(broken)).rejects.toThrow(COULD_NOT);
    await expect(readText(broken)).rejects.toThrow('out of memory');
    expect((await readText(text(3))).loaded!.plan.title).toBe('M3');
  });
});

describe('who looks at a text', () => {
  function Title({ of }: { readonly of: string | undefined }) {
    const read = useReadText(of);
    return <p>{read ? (read.loaded?.plan.title ?? 'wrong') : 'not read'}</p>;
  }

  it('sees nothing of it until it is read, and never what another text means', async () => {
    const { rerender, container } = shown(<Title of={text(20)} />);
    expect(container.textContent).toBe('not read');
    expect(await screen.findByText('M20')).toBeDefined();
    rerender(<Title of={text(21)} />);
    expect(container.textContent).toBe('not read');
    expect(await screen.findByText('M21')).toBeDefined();
    rerender(<Title of={text(20)} />);
    expect(container.textContent).toBe('M20');
    rerender(<Title of={undefined} />);
    expect(container.textContent).toBe('not read');
  });

  it('sees each of very many, and reads none over and over', async () => {
    const all = Array.from({ length: 20 }, (_, i) => text(100 + i));
    shown(
      <>
        {all.map((each) => (
          <Title key={each} of={each} />
        ))}
      </>,
    );
    for (let i = 0; i < 20; i++) expect(await screen.findByText(`M${100 + i}`)).toBeDefined();
    // Texts are read in turn: what had been asked for besides would have been read by now.
    await act(() => readText(text(200)));
    expect(texts.length).toBe(21);
  });

  it('keeps it while others read very many', async () => {
    await readText(text(40));
    const { rerender, container } = shown(<Title of={text(40)} />);
    for (let i = 50; i < 60; i++) await readText(text(i));
    texts.length = 0;
    rerender(<Title of={text(40)} />);
    expect([container.textContent, texts]).toEqual(['M40', []]);
  });

  it('reads it anew where other files lie beside it, and is told where it cannot be read', async () => {
    shown(<Title of={text(30)} />);
    expect(await screen.findByText('M30')).toBeDefined();
    putBeside(new Map([['a.csv', 'n\n1\n']]));
    dispatched(projectActions.filesPut({ 'a.csv': '1' }));
    expect(await screen.findByText('M30')).toBeDefined();
    expect(texts.filter((each) => each === text(30)).length).toBe(2);
    shown(<Title of={`${text(31)}# ${TextWorkerInPlay.BREAK}\n`} />);
    await eventually(() => expect(store.getState().interface.notices.at(-1)?.text).toBe(COULD_NOT));
  });
});
