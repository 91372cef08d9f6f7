import { TRIES } from '../plan/values.ts';
import type { Statement } from './kernel.ts';
import { whole } from './kernel.ts';
import type { Sheet } from './sheet.ts';

/** Draws until one fits, or it was tried often enough. @param draw writes one draw, given what ends them where it fits */
export function writeTries(sheet: Sheet, draw: (end: () => void) => void): void {
  const tries = sheet.i32();
  const name = `tries${tries.name}`;
  const { list } = sheet.apart(() => draw(() => sheet.add({ is: 'leave', block: name })));
  const loop: Statement = { is: 'loop', index: tries, from: whole(0), to: whole(TRIES), body: list };
  sheet.add({ is: 'block', name, body: [loop] });
}
