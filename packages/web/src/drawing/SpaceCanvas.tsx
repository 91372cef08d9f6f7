import type { Rgb, Theme } from '@vole/core';
import { classColour, colourOf, FORMS, looksOf, rgbOf, scaleColours, scaleOfField } from '@vole/core';
import { useEffect, useRef } from 'react';
import type { FieldFrame, Frame } from '../simulation/protocol.ts';
import { live } from '../simulation/live-handle.ts';
import type { LiveHandle } from '../simulation/live-handle.ts';
import type { LiveState } from '../simulation/live-state.ts';
import { useAppSelector } from '../store/store.ts';
import type { Camera, Ground, Insets } from './camera.ts';
import { fitCamera, NO_INSETS, panBy, toPicture, toWorld, zoomAt } from './camera.ts';
import { hexAt, hexEnds, hexGround, hexKind, hexRound, hexSpot } from './hexagons.ts';
import { robustRange } from '../simulation/robust-range.ts';
import { liesOn, shownSpace } from './shown-space.ts';
import type { Picture } from './raster.ts';
import { clear, drawAgents, drawField, drawTies, drawZone, pickAgent, unitLength } from './raster.ts';

export interface PickedAgent {
  readonly kind: number;
  readonly number: number;
}

export interface Place {
  readonly x: number;
  readonly y: number;
}

interface Props {
  /** What lies over the picture: the whole space is shown in the part that is left. */
  readonly insets?: Insets;
  /** A click: the place in the space, and the agent there if there is one. */
  readonly onPick?: (agent: PickedAgent | undefined, place: Place) => void;
  /** With it, pressing and dragging paints instead of moving the picture. */
  readonly onPaint?: (place: Place) => void;
  /** Layers that are switched off, by name. */
  readonly hidden?: ReadonlySet<string>;
  /** Keeps the opened agent in the middle. */
  readonly follows?: boolean;
  /** Given the control of the view once it is there. */
  readonly onReady?: (view: SpaceView) => void;
  readonly label: string;
  /** The run that is drawn; the one on show if absent. */
  readonly source?: LiveHandle;
  /** Shared by two runs side by side: they are seen alike. */
  readonly view?: SharedView;
}

export interface SpaceView {
  readonly zoom: (factor: number) => void;
  readonly fit: () => void;
}

/** What two pictures side by side have in common: the part of the space, and the scales of fields. */
export class SharedView {
  camera: Camera | undefined;
  readonly stages = new Map<LiveHandle, () => void>();

  changed(): void {
    for (const schedule of this.stages.values()) schedule();
  }
}

const CLICK_REACH = 16;
const CLICK_MOVE = 4;
const WHEEL = 0.0016;
/** Milliseconds of drawing before the page has a turn, and agents drawn between two looks at the clock. */
const DRAW_SHARE = 8;
const DRAWN_AT_ONCE = 20_000;
/** The ground of the page, on which the space lies. */
const PAPER = { paper: '#F1E9D9', dusk: '#1E1C22' } as const;

const TIE_COLOURS = ['stone', 'slate', 'plum', 'teal'] as const;
const NOTHING_HIDDEN: ReadonlySet<string> = new Set();
/** Steps of an opened agent's trail. */
const TRAIL = 200;

/** The space of the live run, drawn at every frame outside React; wheel zooms to the pointer, dragging pans, double click shows the whole. */
export function SpaceCanvas({
  insets = NO_INSETS,
  onPick,
  onPaint,
  onReady,
  hidden = NOTHING_HIDDEN,
  follows = false,
  label,
  source = live,
  view,
}: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useAppSelector((state) => state.interface.theme);
  const shown = useAppSelector((state) => state.watch.space);
  const stageRef = useRef<Stage>(undefined);
  const ready = useRef(onReady);
  useEffect(() => {
    ready.current = onReady;
  });

  useEffect(() => {
    const element = canvas.current;
    if (!element) return undefined;
    const stage = new Stage(element, theme, source, view ?? new SharedView());
    stageRef.current = stage;
    ready.current?.(stage);
    return () => stage.close();
  }, [theme, source, view]);
  useEffect(
    () => stageRef.current?.use({ onPick, onPaint, hidden, follows, shown, insets }),
    [theme, source, view, onPick, onPaint, hidden, follows, shown, insets],
  );

  return (
    <canvas
      ref={canvas}
      tabIndex={0}
      role="img"
      aria-label={label}
      className={`block h-full w-full touch-none outline-offset-[-3px] ${onPaint ? 'cursor-crosshair' : 'cursor-grab active:cursor-grabbing'}`}
    />
  );
}

class Stage implements SpaceView {
  private picture: Picture = { width: 0, height: 0, pixels: new Uint8ClampedArray(0) };
  private image: ImageData | undefined;
  private spaceKey = '';
  private scheduled = 0;
  private job: Generator<void, void> | undefined;
  private isStale = false;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly context: CanvasRenderingContext2D;
  private readonly observer: ResizeObserver;
  private readonly unsubscribe: () => void;
  private drag: { x: number; y: number; moved: number } | undefined;
  private readonly listeners = new AbortController();

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly theme: Theme,
    private readonly source: LiveHandle,
    private readonly view: SharedView,
  ) {
    view.stages.set(source, () => this.schedule());
    this.context = canvas.getContext('2d', { alpha: false })!;
    this.observer = new ResizeObserver(() => this.resize());
    this.observer.observe(canvas);
    this.unsubscribe = this.source.onFrame(() => this.schedule());
    const { signal } = this.listeners;
    canvas.addEventListener('wheel', (event) => this.wheel(event), { signal, passive: false });
    canvas.addEventListener('pointerdown', (event) => this.press(event), { signal });
    canvas.addEventListener('pointermove', (event) => this.pull(event), { signal });
    canvas.addEventListener('pointerup', (event) => this.release(event), { signal });
    canvas.addEventListener('dblclick', () => this.fit(), { signal });
    canvas.addEventListener('keydown', (event) => this.key(event), { signal });
    this.resize();
  }

  private wishes: Pick<Props, 'onPick' | 'onPaint'> & {
    readonly hidden: ReadonlySet<string>;
    readonly follows: boolean;
    readonly shown: number;
    readonly insets: Insets;
  } = { hidden: NOTHING_HIDDEN, follows: false, shown: 0, insets: NO_INSETS };
  /** Where the opened agent and those with trails have been, by step. */
  private readonly trails = new Map<string, (Place & { readonly step: number })[]>();

  use(wishes: Stage['wishes']): void {
    this.wishes = wishes;
    this.schedule();
  }

  close(): void {
    this.dropJob();
    cancelAnimationFrame(this.scheduled);
    this.observer.disconnect();
    this.view.stages.delete(this.source);
    this.unsubscribe();
    this.listeners.abort();
  }

  private resize(): void {
    const width = Math.max(1, Math.round(this.canvas.clientWidth));
    const height = Math.max(1, Math.round(this.canvas.clientHeight));
    if (width === this.picture.width && height === this.picture.height) return;
    this.canvas.width = width;
    this.canvas.height = height;
    this.image = this.context.createImageData(width, height);
    this.picture = { width, height, pixels: this.image.data };
    this.dropJob();
    this.camera = undefined;
    this.draw();
  }

  private get camera(): Camera | undefined {
    return this.view.camera;
  }

  private set camera(camera: Camera | undefined) {
    this.view.camera = camera;
    if (this.view.stages.size > 1) this.view.changed();
  }

  private schedule(): void {
    if (this.scheduled) return;
    this.scheduled = requestAnimationFrame(() => {
      this.scheduled = 0;
      this.draw();
    });
  }

  private get fitted(): Camera {
    return fitCamera(this.size ?? { width: 1, height: 1 }, this.picture, this.wishes.insets);
  }

  private get shown(): number {
    return shownSpace(this.source.current.plan, this.wishes.shown);
  }

  private get size(): Ground | undefined {
    const { frame, plan } = this.source.current;
    const space = frame?.spaces[this.shown];
    if (space && this.isHexagonal) return hexGround(space);
    const form = plan?.spaces[this.shown]?.form;
    return space && { ...space, low: form ? -FORMS[form].margin : 0 };
  }

  private get isHexagonal(): boolean {
    return this.source.current.plan?.spaces[this.shown]?.form === 'hexagons';
  }

  /** Where a place of the run is drawn. */
  private spotOf({ x, y }: Place): Place {
    return this.isHexagonal ? hexSpot(x, y) : { x, y };
  }

  readonly fit = (): void => {
    this.camera = undefined;
    this.schedule();
  };

  readonly zoom = (factor: number): void => {
    this.camera = zoomAt(
      this.camera ?? this.fitted,
      this.picture,
      this.picture.width / 2,
      this.picture.height / 2,
      factor,
      this.fitted.scale,
    );
    this.schedule();
  };

  private wheel(event: WheelEvent): void {
    event.preventDefault();
    this.camera = zoomAt(
      this.camera ?? this.fitted,
      this.picture,
      event.offsetX,
      event.offsetY,
      Math.exp(-event.deltaY * WHEEL),
      this.fitted.scale,
    );
    this.schedule();
  }

  private press(event: PointerEvent): void {
    this.drag = { x: event.offsetX, y: event.offsetY, moved: 0 };
    this.canvas.setPointerCapture(event.pointerId);
    this.wishes.onPaint?.(this.placeAt(event));
  }

  private placeAt(event: PointerEvent): Place {
    const { x, y } = toWorld(this.camera ?? this.fitted, this.picture, event.offsetX, event.offsetY);
    return this.isHexagonal ? hexAt(x, y) : { x, y };
  }

  private pull(event: PointerEvent): void {
    if (!this.drag) return;
    const dx = event.offsetX - this.drag.x;
    const dy = event.offsetY - this.drag.y;
    this.drag = { x: event.offsetX, y: event.offsetY, moved: this.drag.moved + Math.abs(dx) + Math.abs(dy) };
    if (this.drag.moved < CLICK_MOVE) return;
    if (this.wishes.onPaint) {
      this.wishes.onPaint(this.placeAt(event));
      return;
    }
    this.camera = panBy(this.camera ?? this.fitted, dx, dy);
    this.schedule();
  }

  private release(event: PointerEvent): void {
    const isClick = this.drag !== undefined && this.drag.moved < CLICK_MOVE;
    this.drag = undefined;
    const { frame, plan } = this.source.current;
    if (!isClick || !frame || !plan || this.wishes.onPaint) return;
    const kinds = frame.kinds.map((kind, k) =>
      liesOn(plan, plan.kinds[k]!, this.shown) ? (this.isHexagonal ? hexKind(kind) : kind) : undefined,
    );
    this.wishes.onPick?.(
      pickAgent(kinds, this.camera ?? this.fitted, this.picture, event.offsetX, event.offsetY, CLICK_REACH),
      this.placeAt(event),
    );
  }

  private key(event: KeyboardEvent): void {
    const moves: Record<string, readonly [number, number]> = {
      ArrowLeft: [40, 0],
      ArrowRight: [-40, 0],
      ArrowUp: [0, 40],
      ArrowDown: [0, -40],
    };
    const move = moves[event.key];
    if (move) this.camera = panBy(this.camera ?? this.fitted, move[0], move[1]);
    else if (event.key === '+' || event.key === '=') this.zoom(1.25);
    else if (event.key === '-') this.zoom(0.8);
    else if (event.key === '0') this.fit();
    else return;
    event.preventDefault();
    this.schedule();
  }

  /** Draws what is on show now. With very many agents this goes on over several tasks, so that the page stays awake; meanwhile the last picture stands. */
  private draw(): void {
    if (this.job) this.isStale = true;
    else if (this.image) {
      this.job = this.drawing(this.source.current, this.image);
      this.goOn();
    }
  }

  private goOn(): void {
    const until = performance.now() + DRAW_SHARE;
    while (this.job) {
      if (this.job.next().done) {
        this.job = undefined;
        if (this.isStale) this.schedule();
        this.isStale = false;
      } else if (performance.now() > until) {
        this.timer = setTimeout(() => this.goOn());
        return;
      }
    }
  }

  private dropJob(): void {
    clearTimeout(this.timer);
    this.job = undefined;
    this.isStale = false;
  }

  /** One picture, piece by piece. */
  private *drawing(state: LiveState, image: ImageData): Generator<void, void> {
    clear(this.picture, rgbOf(PAPER[this.theme]));
    const camera = state.plan && state.frame ? yield* this.drawState(state) : undefined;
    this.context.putImageData(image, 0, 0);
    if (camera) this.drawOverlay(state, camera);
  }

  private *drawState({ plan, frame, zones }: LiveState): Generator<void, Camera | undefined> {
    const space = this.size;
    if (!space) return undefined;
    const on = this.shown;
    const isShown = (part: { readonly space: number; readonly name: string }): boolean =>
      liesOn(plan!, part, on) && !this.wishes.hidden.has(part.name);
    const key = `${on} ${space.width} ${space.height}`;
    if (key !== this.spaceKey) {
      this.spaceKey = key;
      this.camera = undefined;
    }
    const fitted = this.fitted;
    const { agent } = frame!;
    if (this.wishes.follows && agent && !agent.gone && plan!.kinds[agent.kind]!.space === on) {
      const { x, y } = this.spotOf(agent);
      this.camera = { ...(this.camera ?? { ...fitted, scale: fitted.scale * 3 }), centreX: x, centreY: y };
    }
    const camera = this.camera ?? fitted;
    const { hidden } = this.wishes;
    const form = plan!.spaces[on]?.form;
    const isGrid = form !== undefined && FORMS[form].isOfCells;
    const { isHexagonal } = this;
    const fields = plan!.fields.filter(isShown);
    const drawn = fields.find((field) => field.scale) ?? fields[0];
    const field = drawn && frame!.fields[plan!.fields.indexOf(drawn)];
    if (field)
      drawField(
        this.picture,
        camera,
        space,
        field,
        this.colouredAlike(
          scaleColours(scaleOfField(plan!, plan!.fields.indexOf(drawn)), this.theme, true),
          drawn.name,
          field,
        ),
        { isGrid, isHexagonal, asCells: drawn.asCells, wraps: plan!.spaces[on]?.edge === 'wrapping' },
      );
    zones.forEach((zone, z) => {
      const part = plan!.zones[z];
      if (part && isShown(part))
        drawZone(
          this.picture,
          camera,
          zone,
          rgbOf(colourOf(part.obstacle ? 'stone' : 'slate', this.theme)),
          part.obstacle,
          { isGrid, isHexagonal },
        );
    });
    const round =
      plan!.spaces[on]?.edge === 'wrapping' ? (isHexagonal ? hexRound(frame!.spaces[on]!) : space) : undefined;
    frame!.ties.forEach((ends, n) => {
      const network = plan!.networks[n];
      // Ties from one space to another have no picture.
      if (
        !network ||
        hidden.has(network.name) ||
        ![network.from, network.to].every((kind) => liesOn(plan!, plan!.kinds[kind]!, on))
      )
        return;
      drawTies(
        this.picture,
        camera,
        isHexagonal ? hexEnds(ends) : ends,
        round,
        rgbOf(colourOf(TIE_COLOURS[n % TIE_COLOURS.length]!, this.theme)),
      );
    });
    const count = frame!.kinds.reduce((sum, kind, k) => sum + (liesOn(plan!, plan!.kinds[k]!, on) ? kind.count : 0), 0);
    const apart = Math.sqrt((space.width * space.height) / Math.max(1, count));
    const unit = isGrid
      ? Math.max(unitLength(camera, fitted.scale, this.picture), camera.scale * 0.55)
      : unitLength(camera, fitted.scale, this.picture, apart);
    for (const [k, look] of looksOf(plan!, this.theme).entries()) {
      const placed = frame!.kinds[k];
      if (!placed || !look.shown || !isShown(plan!.kinds[k]!)) continue;
      const kind = isHexagonal ? hexKind(placed) : placed;
      const colours = look.colours.map(rgbOf);
      const scale =
        look.scale && kind.colours.length
          ? {
              colours: scaleColours(look.scale, this.theme, false),
              ...this.rangeAlike(plan!.kinds[k]!.name, kind.colours),
            }
          : undefined;
      for (let from = 0; from < kind.count; from += DRAWN_AT_ONCE) {
        drawAgents(
          this.picture,
          camera,
          kind,
          { look, colours, scale },
          unit,
          from,
          Math.min(kind.count, from + DRAWN_AT_ONCE),
        );
        yield;
      }
    }
    return camera;
  }

  /** The range of what colours a kind, over all runs side by side. */
  private rangeAlike(name: string, own: Float32Array): { low: number; high: number } {
    const ranges = [...this.view.stages.keys()].flatMap(({ current: { plan, frame } }) => {
      const colours = frame?.kinds[plan?.kinds.findIndex((kind) => kind.name === name) ?? -1]?.colours;
      return colours && colours.length > 0 ? [robustRange(colours)] : [];
    });
    return ranges.length < 2
      ? robustRange(own)
      : { low: Math.min(...ranges.map(({ low }) => low)), high: Math.max(...ranges.map(({ high }) => high)) };
  }

  /** Colours by level, on the scale that is common to the runs side by side. */
  private colouredAlike(colours: readonly Rgb[], name: string, { low, high }: FieldFrame): readonly Rgb[] {
    const all = [...this.view.stages.keys()].flatMap(
      ({ current: { plan, frame } }) =>
        frame?.fields[plan?.fields.findIndex((field) => field.name === name) ?? -1] ?? [],
    );
    const from = Math.min(low, ...all.map((field) => field.low));
    const to = Math.max(high, ...all.map((field) => field.high));
    if (from === low && to === high) return colours;
    return colours.map(
      (_, level) =>
        colours[Math.round(((low + (level / 255) * (high - low) - from) / (to - from)) * 255)] ?? colours[0]!,
    );
  }

  /** The edge of the space, and a ring round the opened agent with its trail. */
  private drawOverlay({ plan, frame }: LiveState, camera: Camera): void {
    const { context, size } = this;
    if (!size) return;
    const { low = 0 } = size;
    const corner = toPicture(camera, this.picture, low, low + size.height);
    context.strokeStyle = colourOf('stone', this.theme);
    context.globalAlpha = 0.5;
    context.lineWidth = 1;
    // Hexagons have no straight edge.
    if (!this.isHexagonal)
      context.strokeRect(corner.x, corner.y, size.width * camera.scale, size.height * camera.scale);
    context.globalAlpha = 1;
    const { agent, trailed } = frame!;
    const isHere = ({ kind }: { readonly kind: number }): boolean => liesOn(plan!, plan!.kinds[kind]!, this.shown);
    const opened = agent && !agent.gone && isHere(agent) ? agent : undefined;
    const others = trailed.filter(
      (other) => isHere(other) && (other.kind !== opened?.kind || other.number !== opened.number),
    );
    const drawn = new Set([...(opened ? [opened] : []), ...others].map(nameOf));
    for (const who of this.trails.keys()) if (!drawn.has(who)) this.trails.delete(who);
    others.forEach((other, i) => this.drawTrail(frame!, other, camera, size, classColour(i, this.theme)));
    if (!opened) return;
    this.drawTrail(frame!, opened, camera, size, colourOf('ink', this.theme));
    const spot = this.spotOf(opened);
    const at = toPicture(camera, this.picture, spot.x, spot.y);
    context.strokeStyle = colourOf('ink', this.theme);
    context.lineWidth = 1.5;
    context.beginPath();
    context.arc(at.x, at.y, 14, 0, 2 * Math.PI);
    context.stroke();
  }

  private drawTrail(frame: Frame, agent: Frame['trailed'][number], camera: Camera, size: Ground, colour: string): void {
    const places = this.trails.get(nameOf(agent)) ?? [];
    this.trails.set(nameOf(agent), places);
    while (places.length > 0 && places[places.length - 1]!.step >= frame.step) places.pop();
    places.push({ ...this.spotOf(agent), step: frame.step });
    if (places.length > TRAIL) places.shift();
    const { context } = this;
    context.strokeStyle = colour;
    context.globalAlpha = 0.55;
    context.lineWidth = 1.4;
    context.beginPath();
    places.forEach((place, i) => {
      const at = toPicture(camera, this.picture, place.x, place.y);
      const before = places[i - 1];
      // A way round the edge is not drawn across the space.
      const isFar =
        before !== undefined &&
        (Math.abs(place.x - before.x) > size.width / 2 || Math.abs(place.y - before.y) > size.height / 2);
      if (i === 0 || isFar) context.moveTo(at.x, at.y);
      else context.lineTo(at.x, at.y);
    });
    context.stroke();
    context.globalAlpha = 1;
  }
}

function nameOf({ kind, number }: PickedAgent): string {
  return `${kind} ${number}`;
}
