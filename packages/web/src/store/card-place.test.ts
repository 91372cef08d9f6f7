import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { interfaceActions, interfaceSlice } from './interface-slice.ts';
import { keptInRoom, movedByKey, readCards } from './card-place.ts';

const ROOM = { width: 1248, height: 590 };

describe('a card over the space', () => {
  it('keeps its place where there is room, and never leaves the room', () => {
    expect(keptInRoom({ x: 300.4, y: 20.6 }, ROOM)).toEqual({ x: 300, y: 21 });
    fc.assert(
      fc.property(
        fc.double({ min: -1e4, max: 1e4, noNaN: true }),
        fc.double({ min: -1e4, max: 1e4, noNaN: true }),
        (x, y) => {
          const place = keptInRoom({ x, y }, ROOM);
          expect(place.x >= 0 && place.x <= ROOM.width - 100 && place.y >= 0 && place.y <= ROOM.height - 30).toBe(true);
          expect(keptInRoom(place, ROOM)).toEqual(place);
        },
      ),
      { seed: 3 },
    );
  });

  it('is moved by arrows, there and back, and by no other key', () => {
    const there = movedByKey('ArrowRight', { x: 100, y: 100 }, ROOM)!;
    expect(there.x).toBeGreaterThan(100);
    expect(movedByKey('ArrowLeft', there, ROOM)).toEqual({ x: 100, y: 100 });
    expect(movedByKey('ArrowUp', { x: 100, y: 3 }, ROOM)).toEqual({ x: 100, y: 0 });
    expect(movedByKey('ArrowDown', { x: 100, y: 100 }, ROOM)!.y).toBeGreaterThan(100);
    expect(movedByKey('a', { x: 100, y: 100 }, ROOM)).toBeUndefined();
  });

  it('is remembered folded and moved, and put back', () => {
    let state = interfaceSlice.reducer(undefined, { type: 'begin' });
    for (const action of [
      interfaceActions.cardMoved({ name: 'Key', place: { x: 5, y: 6 } }),
      interfaceActions.cardFolded({ name: 'Key', folded: true }),
      interfaceActions.cardFolded({ name: 'Hand', folded: false }),
    ]) {
      state = interfaceSlice.reducer(state, action);
    }
    expect(state.cards).toEqual({ Key: { place: { x: 5, y: 6 }, folded: true }, Hand: { folded: false } });
    expect(readCards(JSON.stringify(state.cards))).toEqual(state.cards);
    expect(
      interfaceSlice.reducer(state, interfaceActions.cardMoved({ name: 'Key', place: undefined })).cards['Key'],
    ).toEqual({ folded: true });
    expect(interfaceSlice.reducer(state, interfaceActions.cardsPutBack()).cards).toEqual({
      Key: { folded: true },
      Hand: { folded: false },
    });
  });

  it.each([
    null,
    '',
    'nonsense',
    '[]',
    '7',
    'null',
    '{"Key":null}',
    '{"Key":{"place":{"x":"left","y":1}}}',
    '{"Key":{"folded":"yes","place":{"x":1}}}',
  ])('takes nothing from a store that holds %s', (stored) => {
    for (const card of Object.values(readCards(stored))) expect(card).toEqual({});
  });
});
