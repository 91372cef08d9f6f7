// @vitest-environment happy-dom
import { fireEvent, screen } from '@testing-library/react';
import type { Equation, Formula, MeanFieldLine } from '@vole/core';
import { describe, expect, it, vi } from 'vitest';
import { shown } from '../../test/shown.tsx';
import { MathEquation } from './MathFormula.tsx';
import { MeanFieldWish } from './MeanFieldWish.tsx';

const name = (text: string, stage?: string): Formula => ({ is: 'name', text, ...(stage ? { stage } : {}) });
const number = (text: string): Formula => ({ is: 'number', text });
const rest: Formula = {
  is: 'sum',
  terms: [
    { isLess: false, of: number('1') },
    { isLess: true, of: name('share') },
  ],
};
const EQUATION: Equation = {
  of: name('Humming', 'i'),
  terms: [
    {
      isLess: false,
      of: {
        is: 'product',
        factors: [rest, { is: 'fraction', top: number('3'), bottom: number('2 days') }, name('Singing')],
      },
    },
    { isLess: true, of: rest },
    { isLess: true, of: { is: 'function', name: 'min', args: [number('1'), { is: 'mean', text: 'zeal' }] } },
    { isLess: false, of: { is: 'condition', words: ['not ', name('quiet')] } },
  ],
  stages: { from: 2, to: number('4') },
};
const LINE: MeanFieldLine = {
  equations: [EQUATION],
  legend: ['N is the number of agents of Vole.'],
  times: [0, 1],
  values: [3, 4],
  reasons: ['There are 60 agents at first.'],
};

describe('an equation in type', () => {
  it('has fractions, stages and conditions, and brackets only where a sum would be misread', () => {
    const { container } = shown(<MathEquation equation={EQUATION} />);
    expect(container.textContent?.replace(/\u00a0/g, ' ')).toBe(
      'dHummingidt=(1−share)·32 days·Singing−(1−share)−min(1,mean zeal)+[not quiet], i=2 to 4',
    );
    expect(container.querySelectorAll('mfrac')).toHaveLength(2);
    expect(container.querySelector('msub')?.textContent).toBe('Hummingi');
  });
});

describe('the mean-field reference', () => {
  it('is shown on wish, with its equations and the reasons why runs may differ', () => {
    const onShow = vi.fn();
    shown(<MeanFieldWish answer={LINE} isShown={false} onShow={onShow} />);
    fireEvent.click(screen.getByLabelText('mean-field reference'));
    expect(onShow).toHaveBeenCalledWith(true);
    fireEvent.click(screen.getByRole('button', { name: 'its equations' }));
    expect(screen.getByTestId('equations').querySelectorAll('math')).toHaveLength(1);
    expect(screen.getByTestId('reasons').textContent).toBe('There are 60 agents at first.');
  });

  it('cannot be drawn where it has no values, and says why', () => {
    const answer = { ...LINE, values: [NaN, NaN], problem: 'The equations leave the numbers.' };
    shown(<MeanFieldWish answer={answer} isShown onShow={() => undefined} />);
    expect(screen.getByLabelText<HTMLInputElement>('mean-field reference').disabled).toBe(true);
    fireEvent.click(screen.getByRole('button', { name: 'its equations' }));
    expect(screen.getByRole('alert').textContent).toContain('The equations leave the numbers.');
  });

  it('is replaced by the lines that stand in its way, or by nothing while it is derived', () => {
    const { container } = shown(<MeanFieldWish answer={undefined} isShown onShow={() => undefined} />);
    expect(container.textContent).toBe('');
    shown(
      <MeanFieldWish
        answer={{ obstacles: [{ line: 7, message: 'It looks back.' }] }}
        isShown
        onShow={() => undefined}
      />,
    );
    fireEvent.click(screen.getByRole('button', { name: 'why no mean-field reference?' }));
    expect(screen.getByTestId('obstacles').textContent).toBe('line 7: It looks back.');
  });
});
