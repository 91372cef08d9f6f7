import { colourOf, rgbOf } from '@vole/core';
import { describe, expect, it } from 'vitest';
import type { LiveHandle } from '../simulation/live-handle.ts';
import { LiveRun } from '../simulation/live-run.ts';
import type { LiveState } from '../simulation/live-state.ts';
import { EMPTY } from '../simulation/live-state.ts';
import type { WatchReply } from '../simulation/protocol.ts';
import { fitCamera, toPicture } from './camera.ts';
import type { Picture } from './raster.ts';
import { clear } from './raster.ts';
import type { Place, Scene } from './scene.ts';
import { drawScene, pickOn, sceneOf } from './scene.ts';
import { SharedView } from './shared-view.ts';
import { Trails } from './trails.ts';

/** Two ponds, of different forms, with one animal each; between the two a tie. */
const PONDS = `model Ponds
clock
  end after 9 steps
space Upper: grid 20 by 10, walled
space Lower: grid 12 by 12, 6 neighbours, wrapping
field depth on Upper
  start 1 + 2 * x
agent Newt on Upper
  start 1 at (4, 7)
  has age = 0
  behaviour rest
    age += 1
agent Snail on Lower
  start 1 at (3, 3)
network N ties Newt to Snail: random, mean degree 1
order
  rest in turn
measure n = count Newt
show Newt: plum
show Snail: russet
show depth: straw to moss
`;

/** What the page has of a text's run at its start. */
function stateOf(text: string): LiveState {
  const replies: WatchReply[] = [];
  const run = new LiveRun(
    (reply) => replies.push(structuredClone(reply)),
    () => 0,
  );
  run.receive({ is: 'load', text, version: 1, seed: 1, parameters: {}, goesOn: false });
  for (let i = 0; i < 50 && run.work() !== undefined; i++) run.receive({ is: 'frame drawn' });
  const checked = replies.find((reply) => reply.is === 'checked')!;
  expect(checked.diagnostics.filter(({ severity }) => severity === 'error')).toEqual([]);
  const { frame } = replies.find((reply) => reply.is === 'frame')!;
  return { ...EMPTY, ...checked.shown, frame, zones: frame.zones ?? [] };
}

const SIDE = 240;

function drawn(scene: Scene, hidden: ReadonlySet<string> = new Set()) {
  const picture: Picture = { width: SIDE, height: SIDE, pixels: new Uint8ClampedArray(SIDE * SIDE * 4) };
  clear(picture, [0, 0, 0]);
  const camera = fitCamera(scene.ground, picture);
  Array.from(
    drawScene(picture, scene, { theme: 'paper', hidden, view: new SharedView(), maps: undefined }, camera, camera),
  );
  const coloursIn = new Set<string>();
  for (let i = 0; i < picture.pixels.length; i += 4) coloursIn.add(picture.pixels.slice(i, i + 3).join(' '));
  const has = (colour: Parameters<typeof colourOf>[0]): boolean =>
    coloursIn.has(rgbOf(colourOf(colour, 'paper')).join(' '));
  return { picture, camera, has, count: coloursIn.size };
}

describe('the scene of a run', () => {
  const state = stateOf(PONDS);

  it('is there once there is a frame, of the space that is wanted or the last', () => {
    expect(sceneOf(EMPTY, 0)).toBeUndefined();
    expect(sceneOf({ ...state, frame: undefined }, 0)).toBeUndefined();
    expect(sceneOf(state, 0)).toMatchObject({
      space: 0,
      isGrid: true,
      isHexagonal: false,
      ground: { width: 20, low: -0.5 },
    });
    expect(sceneOf(state, 7)).toMatchObject({ space: 1, isHexagonal: true });
  });

  it('has what lies on its space, but for layers that are switched off', () => {
    const upper = drawn(sceneOf(state, 0)!);
    expect([upper.has('plum'), upper.has('russet')]).toEqual([true, false]);
    expect(upper.count).toBeGreaterThan(15);
    const lower = drawn(sceneOf(state, 1)!);
    expect([lower.has('plum'), lower.has('russet')]).toEqual([false, true]);
    const bare = drawn(sceneOf(state, 0)!, new Set(['Newt']));
    expect(bare.has('plum')).toBe(false);
    expect(drawn(sceneOf(state, 0)!, new Set(['Newt', 'depth'])).count).toBe(1);
  });

  it('gives the agent under the pointer, where it is drawn', () => {
    for (const [space, kind] of [0, 1].entries()) {
      const scene = sceneOf(state, space)!;
      const { picture, camera } = drawn(scene);
      const { x, y } = scene.frame.kinds[kind]!.x.length
        ? { x: scene.frame.kinds[kind]!.x[0]!, y: scene.frame.kinds[kind]!.y[0]! }
        : { x: NaN, y: NaN };
      // Row 3 of hexagons lies half a cell to the right, and lower than on a square grid.
      const at = toPicture(
        camera,
        picture,
        scene.isHexagonal ? x + 0.5 : x,
        scene.isHexagonal ? y * Math.sqrt(0.75) : y,
      );
      expect(pickOn(scene, camera, picture, at, 12)).toEqual({ kind, number: 1 });
      expect(pickOn(scene, camera, picture, { x: at.x, y: at.y + 60 }, 12)).toBeUndefined();
    }
  });
});

describe('two pictures with one view', () => {
  /** As much of a run on show as a view looks at. */
  const handle = (low: number, high: number): LiveHandle =>
    ({
      current: {
        plan: { kinds: [{ name: 'Newt' }], fields: [{ name: 'depth' }] },
        frame: { kinds: [{ colours: Float32Array.of(low, high) }], fields: [{ low, high }] },
      },
    }) as never;
  const [left, right] = [handle(0, 10), handle(5, 20)];
  const field = { columns: 1, rows: 1, levels: Uint8Array.of(0), low: 5, high: 20, isCut: false, mean: 9 };
  const greys = Array.from({ length: 256 }, (_, i) => [i, i, i] as const);

  it('are coloured on one scale', () => {
    const view = new SharedView();
    view.join(right, () => undefined);
    expect(view.coloursOf('depth', field, greys)).toBe(greys);
    expect(view.rangeOf('Newt', Float32Array.of(5, 20))).toMatchObject({ low: 5, high: 20 });
    view.join(left, () => undefined);
    const shared = view.coloursOf('depth', field, greys);
    // The least of the right one is a quarter of the way from 0 to 20, its most is the end.
    expect([shared[0], shared[255]]).toEqual([greys[64], greys[255]]);
    expect(view.rangeOf('Newt', Float32Array.of(5, 20))).toEqual({ low: 0, high: 20 });
    expect(view.coloursOf('height', { ...field, low: 1, high: 2 }, greys)).toBe(greys);
  });

  it('show the same part, and are drawn anew once it changes', () => {
    const view = new SharedView();
    let redrawn = 0;
    view.join(left, () => redrawn++);
    view.choose({ centreX: 1, centreY: 2, scale: 3 });
    expect(redrawn).toBe(0);
    view.join(right, () => redrawn++);
    view.choose({ centreX: 1, centreY: 2, scale: 4 });
    expect(redrawn).toBe(2);
    // What is followed chooses its place at every picture, also while it stands still.
    view.choose({ centreX: 1, centreY: 2, scale: 4 });
    expect(redrawn).toBe(2);
    view.leave(left);
    view.choose(undefined);
    expect([redrawn, view.chosen]).toEqual([2, undefined]);
  });
});

describe('trails', () => {
  const start = sceneOf(stateOf(PONDS), 0)!;
  /** The scene with the newt at a place, opened or trailed. */
  const at = (step: number, { x, y }: Place, isOpened = false): Scene => {
    const newt = { kind: 0, number: 1, x, y };
    const agent = { ...newt, gone: false, direction: 0, attributes: [], states: [], ties: [] };
    return { ...start, frame: { ...start.frame, step, agent: isOpened ? agent : undefined, trailed: [newt] } };
  };
  const size = { width: 200, height: 100 };
  /** What is done with a pen: where it is put down, and how often it goes on from there. */
  function paper() {
    const done: string[] = [];
    const context = new Proxy({} as CanvasRenderingContext2D, {
      get: (_, name) => () => void done.push(String(name)),
      set: () => true,
    });
    const lines = (): number => done.filter((name) => name === 'lineTo').length;
    return { done, lines, sheet: { context, size, theme: 'paper' as const } };
  }
  const camera = { centreX: 10, centreY: 5, scale: 10 };
  const after = (scenes: readonly Scene[]) => {
    const trails = new Trails();
    let last = paper();
    for (const scene of scenes) {
      last = paper();
      trails.draw(last.sheet, scene, camera);
    }
    return last;
  };

  it('lead to where an agent is, over its last steps, and never across a space whose edge it crossed', () => {
    const steps = Array.from({ length: 4 }, (_, i) => at(i, { x: i, y: 2 }));
    expect(after(steps).lines()).toBe(3);
    expect(after([...steps, at(4, { x: 19, y: 2 })]).lines()).toBe(3);
    expect(after(Array.from({ length: 300 }, (_, i) => at(i, { x: i % 5, y: 2 }))).lines()).toBe(199);
  });

  it('are taken back with the run, and are forgotten with what they are of', () => {
    const steps = Array.from({ length: 6 }, (_, i) => at(i, { x: i, y: 2 }));
    expect(after([...steps, at(2, { x: 2, y: 2 })]).lines()).toBe(2);
    const nobody = { ...start, frame: { ...start.frame, step: 6, agent: undefined, trailed: [] } };
    expect(after([...steps, nobody]).done).toEqual([]);
    expect(after([...steps, nobody, at(7, { x: 7, y: 2 })]).lines()).toBe(0);
  });

  it('of the opened agent end in a ring, once, also where its trail is asked for', () => {
    const { done, lines } = after([at(0, { x: 1, y: 1 }, true), at(1, { x: 2, y: 1 }, true)]);
    expect([done.filter((name) => name === 'arc').length, lines()]).toEqual([1, 1]);
    const elsewhere = { ...at(0, { x: 1, y: 1 }, true), space: 1 };
    expect(after([elsewhere]).done).toEqual([]);
  });
});
