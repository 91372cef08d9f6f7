// @vitest-environment happy-dom
import { fireEvent, screen } from '@testing-library/react';
import { expect, it } from 'vitest';
import { shown } from '../../test/shown.tsx';
import { store } from '../store/store.ts';
import { Divider } from './Divider.tsx';

it('a column of Build is made wider by keys, within its bounds, and put back', () => {
  const divider = () => screen.getByRole('separator');
  shown(<Divider column="outline" width={200} side="left" />);
  fireEvent.keyDown(divider(), { key: 'ArrowRight' });
  expect(store.getState().interface.buildWidths.outline).toBe(224);
  fireEvent.keyDown(divider(), { key: 'ArrowLeft' });
  expect(store.getState().interface.buildWidths.outline).toBe(176);
  fireEvent.keyDown(divider(), { key: 'Tab' });
  expect(store.getState().interface.buildWidths.outline).toBe(176);
  fireEvent.keyDown(divider(), { key: 'Home' });
  expect(store.getState().interface.buildWidths.outline).toBeUndefined();
});
