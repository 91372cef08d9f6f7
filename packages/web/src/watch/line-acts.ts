import type { Plan } from '@vole/core';
import { lineThrough, vehicleKinds, withNewLine, withStops } from '@vole/core/stop-edits';
import { shownSpace } from '../drawing/shown-space.ts';
import type { Place } from '../drawing/scene.ts';
import { addWhileRunning } from '../session/session.ts';
import { live } from '../simulation/live-handle.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { store } from '../store/store.ts';
import type { LineTool, Tool } from './HandCard.tsx';
import { OPENING } from './HandCard.tsx';

/** A click nearer to a named place than this share of the map means that place. */
const NEAR = 0.015;

/** Changes a line in the text by a click on the map; the run goes on with it. @returns what the next click does */
export function clickLine(tool: LineTool, place: Place): Tool {
  const { plan, courses } = live.current;
  const space = plan?.spaces[shownSpace(plan, store.getState().watch.space)];
  if (!plan || !space) return tool;
  const { text } = store.getState().project;
  const words = placeWords(space, place);
  if (tool.does === 'begins') {
    if (tool.first === undefined) return { ...tool, first: words };
    const kind = vehicleKinds(text).find((name) =>
      plan.kinds.some((other) => other.name === name && plan.spaces[other.space] === space),
    );
    addWhileRunning(withNewLine(text, space.name, kind, lineThrough([tool.first, words])));
    return OPENING;
  }
  const course = courses.find(({ line }) => plan.lines[line]?.name === tool.line);
  const nearest = course ? nearestStop(course.stops, place) : 0;
  const changed = withStops(
    text,
    tool.line,
    tool.does === 'adds a stop to'
      ? { is: 'add', place: words }
      : tool.does === 'moves a stop of'
        ? { is: 'move', stop: nearest, place: words }
        : { is: 'remove', stop: nearest },
  );
  if (changed !== text) addWhileRunning(changed);
  else if (tool.does === 'takes a stop out of')
    store.dispatch(interfaceActions.noticed({ text: `${tool.line} needs two stops or more.`, tone: 'problem' }));
  return tool;
}

/** @param stops x and y by turns */
export function nearestStop(stops: Float32Array, { x, y }: Place): number {
  let [found, least] = [0, Infinity];
  for (let i = 0; i < stops.length; i += 2) {
    const [ex, ey] = [stops[i]! - x, stops[i + 1]! - y];
    if (ex * ex + ey * ey < least) [found, least] = [i / 2, ex * ex + ey * ey];
  }
  return found;
}

/** A place as the text writes it: by its name, if it lies near one that has one. */
export function placeWords(
  { lanes, unitLabel }: Pick<Plan['spaces'][number], 'lanes' | 'unitLabel'>,
  { x, y }: Place,
): string {
  const { width = 0, height = 0, places = [] } = lanes ?? {};
  const near = NEAR * Math.max(width, height);
  const named = places
    .filter(({ name }) => !name.includes('"'))
    .map((place) => ({ name: place.name, far: Math.hypot(place.x - x, place.y - y) }))
    .filter(({ far }) => far <= near)
    .sort((a, b) => a.far - b.far)[0];
  if (named) return `place named "${named.name}"`;
  const digits = Math.max(0, 4 - Math.ceil(Math.log10(Math.max(width, height, 1))));
  const unit = unitLabel ? ` ${unitLabel}` : '';
  return `(${[x, y].map((value) => `${value.toFixed(digits)}${unit}`).join(', ')})`;
}
