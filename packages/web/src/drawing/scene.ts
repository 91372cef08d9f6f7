import type { LineCourse, Plan, Theme } from '@vole/core';
import { colourOf, coloursOfField, FORMS, looksOf, rgbOf, scaleColours } from '@vole/core';
import type { LiveState } from '../simulation/live-state.ts';
import type { Frame, ZoneFrame } from '../simulation/protocol.ts';
import type { Camera, Ground } from './camera.ts';
import { hexEnds, hexGround, hexKind, hexRound, hexSpot } from './hexagons.ts';
import type { Picture } from './raster.ts';
import { drawAgents, drawField, drawTies, drawZone, pickAgent, unitLength } from './raster.ts';
import type { MapDrawing } from './map-drawing.ts';
import type { SharedView } from './shared-view.ts';
import { liesOn, shownSpace } from './shown-space.ts';

export interface PickedAgent {
  readonly kind: number;
  readonly number: number;
}

export interface Place {
  readonly x: number;
  readonly y: number;
}

/** What there is to see of a run on one of its spaces. */
export interface Scene {
  readonly plan: Plan;
  readonly frame: Frame;
  readonly zones: readonly ZoneFrame[];
  readonly courses: readonly LineCourse[];
  /** Which of the spaces of the plan. */
  readonly space: number;
  readonly ground: Ground;
  readonly isGrid: boolean;
  readonly isHexagonal: boolean;
}

/** How a scene is drawn. */
export interface Lighting {
  readonly theme: Theme;
  /** Layers that are switched off, by name. */
  readonly hidden: ReadonlySet<string>;
  /** The pictures with which it shares its scales. */
  readonly view: SharedView;
  /** What draws maps, once it is there. */
  readonly maps: MapDrawing | undefined;
}

/** Agents drawn between two looks at the clock. */
const DRAWN_AT_ONCE = 20_000;
/** The least size of agents on grids, in cells. */
const LEAST_ON_GRIDS = 0.55;
const TIE_COLOURS = ['stone', 'slate', 'plum', 'teal'] as const;

/** The scene of a run; nothing while there is no frame, or no space. */
export function sceneOf({ plan, frame, zones, courses }: LiveState, wanted: number): Scene | undefined {
  const space = shownSpace(plan, wanted);
  const extent = frame?.spaces[space];
  if (!plan || !extent) return undefined;
  const form = plan.spaces[space]?.form;
  const isHexagonal = form === 'hexagons';
  return {
    plan,
    frame,
    zones,
    courses,
    space,
    ground: isHexagonal ? hexGround(extent) : { ...extent, low: form ? -FORMS[form].margin : 0 },
    isGrid: form !== undefined && FORMS[form].isOfCells,
    isHexagonal,
  };
}

/** Where a place of the run is drawn. */
export function spotOf(scene: Scene, { x, y }: Place): Place {
  return scene.isHexagonal ? hexSpot(x, y) : { x, y };
}

/** The agent drawn at a pixel, or within reach of it. */
export function pickOn(
  { plan, frame, space, isHexagonal }: Scene,
  camera: Camera,
  picture: Picture,
  at: Place,
  reach: number,
): PickedAgent | undefined {
  const kinds = frame.kinds.map((kind, k) =>
    liesOn(plan, plan.kinds[k]!, space) ? (isHexagonal ? hexKind(kind) : kind) : undefined,
  );
  return pickAgent(kinds, camera, picture, at.x, at.y, reach);
}

/**
 * Draws a scene layer by layer: a field, lanes, zones, ties, agents. Yields now and then, so that others can have their turn.
 * @param whole the camera that shows the whole space: agents are drawn larger as one comes closer
 */
export function* drawScene(
  picture: Picture,
  scene: Scene,
  lighting: Lighting,
  camera: Camera,
  whole: Camera,
): Generator<void, void> {
  const isBare = !drawFieldOf(picture, scene, lighting, camera);
  const lanes = scene.plan.spaces[scene.space]?.lanes;
  if (lanes && lighting.maps) {
    const { drawBackdrop, drawLanes } = lighting.maps;
    yield* (isBare ? drawBackdrop : drawLanes)(picture, camera, lanes, lighting.theme);
  }
  drawZonesOf(picture, scene, lighting, camera);
  drawTiesOf(picture, scene, lighting, camera);
  yield* drawAgentsOf(picture, scene, lighting, camera, whole);
}

function isShown(
  { plan, space }: Scene,
  { hidden }: Lighting,
  part: { readonly space: number; readonly name: string },
): boolean {
  return liesOn(plan, part, space) && !hidden.has(part.name);
}

/** One field is seen at a time: the first that the text gives colours, or the first. @returns whether there is one */
function drawFieldOf(picture: Picture, scene: Scene, lighting: Lighting, camera: Camera): boolean {
  const { plan, frame, ground, space, isGrid, isHexagonal } = scene;
  const fields = plan.fields.filter((field) => isShown(scene, lighting, field));
  const shown = fields.find(({ scale, optionColours }) => scale ?? optionColours) ?? fields[0];
  const number = shown ? plan.fields.indexOf(shown) : -1;
  const field = frame.fields[number];
  if (!shown || !field) return false;
  const colours = coloursOfField(plan, number, lighting.theme);
  drawField(picture, camera, ground, field, lighting.view.coloursOf(shown.name, field, colours), {
    isGrid,
    isHexagonal,
    asCells: shown.asCells,
    wraps: plan.spaces[space]?.edge === 'wrapping',
  });
  return true;
}

function drawZonesOf(picture: Picture, scene: Scene, lighting: Lighting, camera: Camera): void {
  const { isGrid, isHexagonal } = scene;
  scene.zones.forEach((zone, z) => {
    const part = scene.plan.zones[z];
    if (!part || !isShown(scene, lighting, part)) return;
    const colour = rgbOf(colourOf(part.obstacle ? 'stone' : 'slate', lighting.theme));
    drawZone(picture, camera, zone, colour, part.obstacle, { isGrid, isHexagonal });
  });
}

function drawTiesOf(picture: Picture, scene: Scene, { theme, hidden }: Lighting, camera: Camera): void {
  const { plan, frame, space, ground, isHexagonal } = scene;
  const wraps = plan.spaces[space]?.edge === 'wrapping';
  const round = wraps ? (isHexagonal ? hexRound(frame.spaces[space]!) : ground) : undefined;
  frame.ties.forEach((ends, n) => {
    const network = plan.networks[n];
    // Who rides stands where its vehicle stands: such ties have no length.
    if (!network || network.riding || hidden.has(network.name)) return;
    // Ties from one space to another have no picture.
    if (![network.from, network.to].every((kind) => liesOn(plan, plan.kinds[kind]!, space))) return;
    const colour = rgbOf(colourOf(TIE_COLOURS[n % TIE_COLOURS.length]!, theme));
    drawTies(picture, camera, isHexagonal ? hexEnds(ends) : ends, round, colour);
  });
}

function* drawAgentsOf(
  picture: Picture,
  scene: Scene,
  lighting: Lighting,
  camera: Camera,
  whole: Camera,
): Generator<void, void> {
  const { plan, frame, isHexagonal } = scene;
  const unit = unitOf(picture, scene, camera, whole);
  for (const [k, look] of looksOf(plan, lighting.theme).entries()) {
    const placed = frame.kinds[k];
    if (!placed || !look.shown || !isShown(scene, lighting, plan.kinds[k]!)) continue;
    const kind = isHexagonal ? hexKind(placed) : placed;
    const colours = look.colours.map(rgbOf);
    const scale =
      look.scale && kind.colours.length
        ? {
            colours: scaleColours(look.scale, lighting.theme, false),
            ...lighting.view.rangeOf(plan.kinds[k]!.name, kind.colours),
          }
        : undefined;
    for (let from = 0; from < kind.count; from += DRAWN_AT_ONCE) {
      const to = Math.min(kind.count, from + DRAWN_AT_ONCE);
      drawAgents(picture, camera, kind, { look, colours, scale }, unit, from, to);
      yield;
    }
  }
}

/** Pixels of an agent of size 1. */
function unitOf(
  picture: Picture,
  { plan, frame, space, ground, isGrid }: Scene,
  camera: Camera,
  whole: Camera,
): number {
  if (isGrid) return Math.max(unitLength(camera, whole.scale, picture), camera.scale * LEAST_ON_GRIDS);
  const count = frame.kinds.reduce((sum, kind, k) => sum + (liesOn(plan, plan.kinds[k]!, space) ? kind.count : 0), 0);
  return unitLength(camera, whole.scale, picture, Math.sqrt((ground.width * ground.height) / Math.max(1, count)));
}
