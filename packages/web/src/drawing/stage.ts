import type { Theme } from '@vole/core';
import { colourOf, rgbOf } from '@vole/core';
import type { LiveHandle } from '../simulation/live-handle.ts';
import type { LiveState } from '../simulation/live-state.ts';
import type { Camera, Insets } from './camera.ts';
import { fitCamera, NO_INSETS, panBy, toPicture, toWorld, zoomAt } from './camera.ts';
import { hexAt } from './hexagons.ts';
import type { MapDrawing } from './map-drawing.ts';
import { loadMapDrawing } from './map-drawing.ts';
import type { Picture } from './raster.ts';
import { clear } from './raster.ts';
import type { PickedAgent, Place, Scene } from './scene.ts';
import { drawScene, pickOn, sceneOf, spotOf } from './scene.ts';
import type { SharedView } from './shared-view.ts';
import { liesOn } from './shown-space.ts';
import { Trails } from './trails.ts';

/** What the page wants of a picture. */
export interface StageWishes {
  /** What lies over the picture: the whole space is shown in the part that is left. */
  readonly insets: Insets;
  /** A click: the place in the space, and the agent there if there is one. */
  readonly onPick?: (agent: PickedAgent | undefined, place: Place) => void;
  /** With it, pressing and dragging paints instead of moving the picture. */
  readonly onPaint?: (place: Place) => void;
  /** Layers that are switched off, by name. */
  readonly hidden: ReadonlySet<string>;
  /** Keeps the opened agent in the middle. */
  readonly follows: boolean;
  /** Which of the model's spaces is drawn. */
  readonly space: number;
}

/** What buttons beside a picture can do with it. */
export interface SpaceView {
  readonly zoom: (factor: number) => void;
  readonly fit: () => void;
}

export const NOTHING_HIDDEN: ReadonlySet<string> = new Set();
const CLICK_REACH = 16;
const CLICK_MOVE = 4;
const WHEEL = 0.0016;
/** Pixels by which an arrow key moves the picture, and factors of the keys + and -. */
const KEY_MOVE = 40;
const KEY_CLOSER = 1.25;
/** How much closer one is to an agent that is followed, if one saw the whole before. */
const FOLLOW_CLOSER = 3;
/** Milliseconds of drawing before the page has a turn. */
const DRAW_SHARE = 8;
/** The ground of the page, on which the space lies. */
const PAPER = { paper: '#F1E9D9', dusk: '#1E1C22' } as const;

/** Draws a run onto a canvas at every frame, and takes wheel, pointer and keys there. */
export class Stage implements SpaceView {
  private picture: Picture = { width: 0, height: 0, pixels: new Uint8ClampedArray(0) };
  private image: ImageData | undefined;
  /** The space that was drawn last: the part that was chosen is of it. */
  private spaceKey = '';
  private scheduled = 0;
  private maps: MapDrawing | undefined;
  private job: Generator<void, void> | undefined;
  private isStale = false;
  /** Has the next piece drawn after the page had a turn: timers come no sooner than 4 ms apart. */
  private readonly turns = new MessageChannel();
  private readonly context: CanvasRenderingContext2D;
  private readonly observer: ResizeObserver;
  private readonly unsubscribe: () => void;
  private drag: { x: number; y: number; moved: number } | undefined;
  private readonly listeners = new AbortController();
  private readonly trails = new Trails();
  private wishes: StageWishes = { hidden: NOTHING_HIDDEN, follows: false, space: 0, insets: NO_INSETS };

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly theme: Theme,
    private readonly source: LiveHandle,
    private readonly view: SharedView,
  ) {
    view.join(source, () => this.schedule());
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
    this.turns.port1.onmessage = () => this.goOn();
    this.resize();
  }

  use(wishes: StageWishes): void {
    this.wishes = wishes;
    this.schedule();
  }

  close(): void {
    this.dropJob();
    cancelAnimationFrame(this.scheduled);
    this.observer.disconnect();
    this.turns.port1.close();
    this.view.leave(this.source);
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
    this.view.choose(undefined);
    this.draw();
  }

  // The part of the space on show

  private get scene(): Scene | undefined {
    return sceneOf(this.source.current, this.wishes.space);
  }

  private get whole(): Camera {
    return fitCamera(this.scene?.ground ?? { width: 1, height: 1 }, this.picture, this.wishes.insets);
  }

  private get camera(): Camera {
    return this.view.chosen ?? this.whole;
  }

  private look(camera: Camera | undefined): void {
    this.view.choose(camera);
    this.schedule();
  }

  readonly fit = (): void => this.look(undefined);

  readonly zoom = (factor: number): void =>
    this.zoomAt({ x: this.picture.width / 2, y: this.picture.height / 2 }, factor);

  private zoomAt({ x, y }: Place, factor: number): void {
    this.look(zoomAt(this.camera, this.picture, x, y, factor, this.whole.scale));
  }

  // Wheel, pointer, keys

  private wheel(event: WheelEvent): void {
    event.preventDefault();
    this.zoomAt({ x: event.offsetX, y: event.offsetY }, Math.exp(-event.deltaY * WHEEL));
  }

  private press(event: PointerEvent): void {
    this.drag = { x: event.offsetX, y: event.offsetY, moved: 0 };
    this.canvas.setPointerCapture(event.pointerId);
    this.wishes.onPaint?.(this.placeAt(event));
  }

  private placeAt(event: PointerEvent): Place {
    const { x, y } = toWorld(this.camera, this.picture, event.offsetX, event.offsetY);
    return this.scene?.isHexagonal ? hexAt(x, y) : { x, y };
  }

  private pull(event: PointerEvent): void {
    if (!this.drag) return;
    const dx = event.offsetX - this.drag.x;
    const dy = event.offsetY - this.drag.y;
    this.drag = { x: event.offsetX, y: event.offsetY, moved: this.drag.moved + Math.abs(dx) + Math.abs(dy) };
    if (this.drag.moved < CLICK_MOVE) return;
    if (this.wishes.onPaint) this.wishes.onPaint(this.placeAt(event));
    else this.look(panBy(this.camera, dx, dy));
  }

  private release(event: PointerEvent): void {
    const isClick = this.drag !== undefined && this.drag.moved < CLICK_MOVE;
    this.drag = undefined;
    const { scene } = this;
    if (!isClick || !scene || this.wishes.onPaint) return;
    const at = { x: event.offsetX, y: event.offsetY };
    this.wishes.onPick?.(pickOn(scene, this.camera, this.picture, at, CLICK_REACH), this.placeAt(event));
  }

  private key(event: KeyboardEvent): void {
    const moves: Record<string, readonly [number, number]> = {
      ArrowLeft: [KEY_MOVE, 0],
      ArrowRight: [-KEY_MOVE, 0],
      ArrowUp: [0, KEY_MOVE],
      ArrowDown: [0, -KEY_MOVE],
    };
    const move = moves[event.key];
    if (move) this.look(panBy(this.camera, move[0], move[1]));
    else if (event.key === '+' || event.key === '=') this.zoom(KEY_CLOSER);
    else if (event.key === '-') this.zoom(1 / KEY_CLOSER);
    else if (event.key === '0') this.fit();
    else return;
    event.preventDefault();
  }

  // Drawing

  private schedule(): void {
    delete this.canvas.dataset.step;
    if (this.scheduled) return;
    this.scheduled = requestAnimationFrame(() => {
      this.scheduled = 0;
      this.draw();
    });
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
        else if (!this.scheduled) this.canvas.dataset.step = `${this.source.current.frame?.step ?? ''}`;
        this.isStale = false;
      } else if (performance.now() > until) {
        this.turns.port2.postMessage(undefined);
        return;
      }
    }
  }

  private dropJob(): void {
    this.job = undefined;
    this.isStale = false;
  }

  /** One picture, piece by piece. */
  private *drawing(state: LiveState, image: ImageData): Generator<void, void> {
    clear(this.picture, rgbOf(PAPER[this.theme]));
    const scene = sceneOf(state, this.wishes.space);
    const camera = scene && this.cameraFor(scene);
    if (scene && camera)
      yield* drawScene(
        this.picture,
        scene,
        { theme: this.theme, hidden: this.wishes.hidden, view: this.view, maps: this.maps },
        camera,
        this.whole,
      );
    this.context.putImageData(image, 0, 0);
    if (!scene || !camera) return;
    this.drawEdge(scene, camera);
    const board = { context: this.context, size: this.picture, theme: this.theme };
    const lanes = scene.plan.spaces[scene.space]?.lanes;
    const isRidden = scene.plan.networks.some(({ riding }) => riding);
    if ((lanes || isRidden) && !this.maps) this.askForMaps();
    this.maps?.drawCourses(board, scene, this.wishes.hidden, camera);
    if (lanes) this.maps?.drawSigns(board, lanes, scene.ground, camera);
    this.trails.draw(board, scene, camera);
    if (isRidden) this.maps?.drawRiders(board, scene, this.wishes.hidden, camera);
  }

  private askForMaps(): void {
    loadMapDrawing().then(
      (maps) => {
        this.maps = maps;
        this.schedule();
      },
      () => undefined,
    );
  }

  /** The part that is drawn: another space is seen as a whole first, and the agent that is followed stays in the middle. */
  private cameraFor(scene: Scene): Camera {
    const { width, height } = scene.ground;
    const key = `${scene.space} ${width} ${height}`;
    if (key !== this.spaceKey) {
      this.spaceKey = key;
      this.view.choose(undefined);
    }
    const { agent } = scene.frame;
    if (this.wishes.follows && agent && !agent.gone && liesOn(scene.plan, scene.plan.kinds[agent.kind]!, scene.space)) {
      const { x, y } = spotOf(scene, agent);
      const { whole } = this;
      this.view.choose({
        ...(this.view.chosen ?? { ...whole, scale: whole.scale * FOLLOW_CLOSER }),
        centreX: x,
        centreY: y,
      });
    }
    return this.camera;
  }

  private drawEdge({ ground, isHexagonal }: Scene, camera: Camera): void {
    // Hexagons have no straight edge.
    if (isHexagonal) return;
    const { context } = this;
    const { low = 0 } = ground;
    const corner = toPicture(camera, this.picture, low, low + ground.height);
    context.strokeStyle = colourOf('stone', this.theme);
    context.globalAlpha = 0.5;
    context.lineWidth = 1;
    context.strokeRect(corner.x, corner.y, ground.width * camera.scale, ground.height * camera.scale);
    context.globalAlpha = 1;
  }
}
