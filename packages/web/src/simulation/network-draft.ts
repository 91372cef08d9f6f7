import type { GeneratedRun } from '@vole/core';
import { componentSizes, meanClustering, meanPathLength } from '@vole/core';
import { NetworkLayout } from './network-layout.ts';
import type { NetworkDraft } from './protocol.ts';

/** Agents from which ways are followed, at most: enough for a mean. */
const PATHS_FROM = 200;
/** More agents than this are measured but not drawn. */
const MOST_DRAWN = 3000;
/** Milliseconds for bringing the picture to rest. */
const LAYOUT_TIME = 400;

/** A network as it is made at the start of a run: who is tied to how many, what hangs together, and where to draw them. */
export function draftOf(executable: GeneratedRun, network: number, seed: number, now: () => number): NetworkDraft {
  const lists = executable.state.tiedTo(network);
  const sizes = componentSizes(lists);
  const every = Math.max(1, Math.ceil(lists.length / PATHS_FROM));
  const facts = {
    network,
    seed,
    ties: executable.state.ties(network).count,
    degrees: Int32Array.from(lists, (list) => list.length),
    components: sizes.length,
    largest: sizes.reduce((most, size) => Math.max(most, size), 0),
    clustering: meanClustering(lists),
    pathLength: meanPathLength(
      lists,
      lists.flatMap((_, i) => (i % every === 0 ? [i] : [])),
    ),
  };
  if (lists.length > MOST_DRAWN)
    return { ...facts, x: new Float32Array(0), y: new Float32Array(0), ends: new Int32Array(0) };
  const { from, to } = executable.state.ties(network);
  const layout = new NetworkLayout(network);
  const end = now() + LAYOUT_TIME;
  do layout.settle(executable, now);
  while (!layout.isAtRest && now() < end);
  const places = [...new Set([from, to])].flatMap((kind) =>
    Array.from(executable.state.agents(kind).numbers(), (number) => layout.placeOf(kind, number)!),
  );
  const ends = lists.flatMap((list, a) => list.flatMap((b) => (a < b ? [a, b] : [])));
  return {
    ...facts,
    x: Float32Array.from(places, ({ x }) => x / layout.side),
    y: Float32Array.from(places, ({ y }) => y / layout.side),
    ends: Int32Array.from(ends),
  };
}
