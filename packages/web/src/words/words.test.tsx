// @vitest-environment happy-dom
import { fireEvent, screen } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { shown } from '../../test/shown.tsx';
import { ChoiceWord } from './ChoiceWord.tsx';
import { EditableWord } from './EditableWord.tsx';

const word = () => screen.getByRole<HTMLInputElement>('textbox', { name: 'Number of seeds' });

it('a word is taken with Enter, or when one goes elsewhere; Escape leaves it as it was', () => {
  const taken = vi.fn();
  shown(<EditableWord label="Number of seeds" value="40 seeds" onChange={taken} />);
  fireEvent.change(word(), { target: { value: '7' } });
  expect([word().value, taken.mock.calls]).toEqual(['7', []]);
  fireEvent.keyDown(word(), { key: 'Escape' });
  fireEvent.blur(word());
  expect([word().value, taken.mock.calls]).toEqual(['40 seeds', []]);
  fireEvent.change(word(), { target: { value: '9' } });
  fireEvent.blur(word());
  word().focus();
  fireEvent.change(word(), { target: { value: '12' } });
  fireEvent.keyDown(word(), { key: 'Enter' });
  expect(taken.mock.calls).toEqual([['9'], ['12']]);
});

it('a word that is looked at but not changed is not taken anew', () => {
  const taken = vi.fn();
  shown(<EditableWord label="Number of seeds" value="40 seeds" onChange={taken} />);
  fireEvent.focus(word());
  fireEvent.blur(word());
  fireEvent.change(word(), { target: { value: '40 seeds' } });
  fireEvent.blur(word());
  expect(taken).not.toHaveBeenCalled();
});

it('a choice offers its words, and names the one that is taken', () => {
  const taken = vi.fn();
  shown(<ChoiceWord label="Measure" value="voles" options={['voles', 'cover']} onChange={taken} />);
  const choice = screen.getByRole<HTMLSelectElement>('combobox', { name: 'Measure' });
  expect([choice.value, ...[...choice.options].map(({ text }) => text)]).toEqual(['voles', 'voles', 'cover']);
  fireEvent.change(choice, { target: { value: 'cover' } });
  expect(taken).toHaveBeenCalledWith('cover');
});
