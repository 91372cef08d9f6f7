// @vitest-environment happy-dom
import 'fake-indexeddb/auto';
import { fireEvent, screen } from '@testing-library/react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { dispatched, shown } from '../../test/shown.tsx';
import { projectActions } from '../store/project-slice.ts';
import { store } from '../store/store.ts';
import { RenameBar } from './RenameBar.tsx';

const TEXT = `model M
parameter bite = 0.2
agent Vole
  start 4
  has age = 0
  behaviour live
    if chance(bite)
      age += 1
measure old = mean of it.age over Vole
`;
const onDone = vi.fn();
const bar = (word: string) => {
  dispatched(projectActions.textReplaced(TEXT));
  shown(<RenameBar at={TEXT.search(new RegExp(`\\b${word}\\b`))} onDone={onDone} />);
};
const name = () => screen.getByRole<HTMLInputElement>('textbox', { name: 'New name' });
const type = (text: string) => fireEvent.change(name(), { target: { value: text } });
const rename = () => screen.getByRole<HTMLButtonElement>('button', { name: 'rename' });

beforeEach(() => onDone.mockReset());

describe('a name that is changed everywhere', () => {
  it('begins with what it is called, and in how many places', () => {
    bar('age');
    expect(name().value).toBe('age');
    expect(screen.getByText('in 3 places').title).toBe('In line 5, 8, 9');
    expect(rename().disabled).toBe(true);
  });

  it('is another one at each of them', () => {
    bar('bite');
    type('nibble');
    fireEvent.click(rename());
    expect(store.getState().project.text).toBe(TEXT.replaceAll('bite', 'nibble'));
    expect(onDone).toHaveBeenCalledOnce();
  });

  it.each(['2 words', 'if', '', 'mean'])('stays as it is where it would be “%s”', (other) => {
    bar('bite');
    type(other);
    expect(rename().disabled).toBe(true);
    if (other !== '') expect(screen.getByRole('alert').textContent).not.toBe('');
    fireEvent.submit(screen.getByRole('form', { name: 'Rename everywhere' }));
    expect(store.getState().project.text).toBe(TEXT);
    expect(onDone).not.toHaveBeenCalled();
  });

  it('is left by a key', () => {
    bar('bite');
    fireEvent.keyDown(name(), { key: 'Escape' });
    expect(onDone).toHaveBeenCalledOnce();
    expect(store.getState().project.text).toBe(TEXT);
  });
});
