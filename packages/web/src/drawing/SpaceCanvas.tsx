import { useEffect, useRef } from 'react';
import { live } from '../simulation/live-handle.ts';
import type { LiveState } from '../simulation/live-handle.ts';
import { useAppSelector } from '../store/store.ts';
import type { Theme } from '../store/interface-slice.ts';
import type { Camera } from './camera.ts';
import { fitCamera, panBy, toPicture, zoomAt } from './camera.ts';
import { colourOf, looksOf, rgbOf, scaleColours } from './palette.ts';
import type { Picture } from './raster.ts';
import { clear, drawAgents, drawField, pickAgent, unitLength } from './raster.ts';

interface Props {
  /** Fill the whole picture instead of showing the whole space. */
  readonly cover?: boolean;
  readonly onPick?: (agent: { kind: number; number: number } | undefined) => void;
  /** Given the control of the view once it is there. */
  readonly onReady?: (view: SpaceView) => void;
  readonly label: string;
}

export interface SpaceView {
  readonly zoom: (factor: number) => void;
  readonly fit: () => void;
}

const CLICK_REACH = 16;
const CLICK_MOVE = 4;
const WHEEL = 0.0016;
const PAPER = { paper: '#EFE8D8', dusk: '#1E1C22' } as const;

/** The space of the live run, drawn at every frame outside React; wheel zooms to the pointer, dragging pans, double click fits. */
export function SpaceCanvas({ cover = false, onPick, onReady, label }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useAppSelector((state) => state.interface.theme);
  const pick = useRef(onPick);
  const ready = useRef(onReady);
  useEffect(() => {
    pick.current = onPick;
    ready.current = onReady;
  });

  useEffect(() => {
    const element = canvas.current;
    if (!element) return undefined;
    const stage = new Stage(element, theme, cover, (agent) => pick.current?.(agent));
    ready.current?.(stage);
    return () => stage.close();
  }, [theme, cover]);

  return (
    <canvas
      ref={canvas}
      tabIndex={0}
      role="img"
      aria-label={label}
      className="block h-full w-full cursor-grab touch-none outline-offset-[-3px] active:cursor-grabbing"
    />
  );
}

class Stage implements SpaceView {
  private picture: Picture = { width: 0, height: 0, pixels: new Uint8ClampedArray(0) };
  private image: ImageData | undefined;
  private camera: Camera | undefined;
  private spaceKey = '';
  private scheduled = 0;
  private readonly context: CanvasRenderingContext2D;
  private readonly observer: ResizeObserver;
  private readonly unsubscribe: () => void;
  private drag: { x: number; y: number; moved: number } | undefined;
  private readonly listeners = new AbortController();

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly theme: Theme,
    private readonly cover: boolean,
    private readonly onPick: (agent: { kind: number; number: number } | undefined) => void,
  ) {
    this.context = canvas.getContext('2d', { alpha: false })!;
    this.observer = new ResizeObserver(() => this.resize());
    this.observer.observe(canvas);
    this.unsubscribe = live.onFrame(() => this.schedule());
    const { signal } = this.listeners;
    canvas.addEventListener('wheel', (event) => this.wheel(event), { signal, passive: false });
    canvas.addEventListener('pointerdown', (event) => this.press(event), { signal });
    canvas.addEventListener('pointermove', (event) => this.pull(event), { signal });
    canvas.addEventListener('pointerup', (event) => this.release(event), { signal });
    canvas.addEventListener('dblclick', () => this.fit(), { signal });
    canvas.addEventListener('keydown', (event) => this.key(event), { signal });
    this.resize();
  }

  close(): void {
    cancelAnimationFrame(this.scheduled);
    this.observer.disconnect();
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
    this.camera = undefined;
    this.draw();
  }

  private schedule(): void {
    if (this.scheduled) return;
    this.scheduled = requestAnimationFrame(() => {
      this.scheduled = 0;
      this.draw();
    });
  }

  private get fitted(): Camera {
    const { frame } = live.current;
    return fitCamera({ width: frame?.width || 1, height: frame?.height || 1 }, this.picture, this.cover);
  }

  readonly fit = (): void => {
    this.camera = undefined;
    this.schedule();
  };

  readonly zoom = (factor: number): void => {
    this.camera = zoomAt(this.camera ?? this.fitted, this.picture, this.picture.width / 2, this.picture.height / 2, factor, this.fitted.scale);
    this.schedule();
  };

  private wheel(event: WheelEvent): void {
    event.preventDefault();
    this.camera = zoomAt(this.camera ?? this.fitted, this.picture, event.offsetX, event.offsetY, Math.exp(-event.deltaY * WHEEL), this.fitted.scale);
    this.schedule();
  }

  private press(event: PointerEvent): void {
    this.drag = { x: event.offsetX, y: event.offsetY, moved: 0 };
    this.canvas.setPointerCapture(event.pointerId);
  }

  private pull(event: PointerEvent): void {
    if (!this.drag) return;
    const dx = event.offsetX - this.drag.x;
    const dy = event.offsetY - this.drag.y;
    this.drag = { x: event.offsetX, y: event.offsetY, moved: this.drag.moved + Math.abs(dx) + Math.abs(dy) };
    if (this.drag.moved < CLICK_MOVE) return;
    this.camera = panBy(this.camera ?? this.fitted, dx, dy);
    this.schedule();
  }

  private release(event: PointerEvent): void {
    const isClick = this.drag !== undefined && this.drag.moved < CLICK_MOVE;
    this.drag = undefined;
    const { frame } = live.current;
    if (isClick && frame) this.onPick(pickAgent(frame.kinds, this.camera ?? this.fitted, this.picture, event.offsetX, event.offsetY, CLICK_REACH));
  }

  private key(event: KeyboardEvent): void {
    const moves: Record<string, readonly [number, number]> = { ArrowLeft: [40, 0], ArrowRight: [-40, 0], ArrowUp: [0, 40], ArrowDown: [0, -40] };
    const move = moves[event.key];
    if (move) this.camera = panBy(this.camera ?? this.fitted, move[0], move[1]);
    else if (event.key === '+' || event.key === '=') this.zoom(1.25);
    else if (event.key === '-') this.zoom(0.8);
    else if (event.key === '0') this.fit();
    else return;
    event.preventDefault();
    this.schedule();
  }

  private draw(): void {
    const { picture, image, theme } = this;
    const state = live.current;
    if (!image) return;
    clear(picture, rgbOf(PAPER[theme]));
    if (state.plan && state.frame) this.drawState(state);
    this.context.putImageData(image, 0, 0);
    if (state.frame) this.drawOverlay(state);
  }

  private drawState({ plan, frame }: LiveState): void {
    const space = { width: frame!.width, height: frame!.height };
    const key = `${space.width} ${space.height}`;
    if (key !== this.spaceKey) {
      this.spaceKey = key;
      this.camera = undefined;
    }
    const fitted = this.fitted;
    const camera = this.camera ?? fitted;
    const isGrid = plan!.space?.form === 'grid';
    const shown = plan!.fields.findIndex((field) => field.scale);
    const fieldIndex = shown >= 0 ? shown : 0;
    const field = frame!.fields[fieldIndex];
    if (field) drawField(this.picture, camera, space, field, scaleColours(plan!.fields[fieldIndex]!.scale ?? ['paper', 'slate'], this.theme, true), isGrid);
    const unit = isGrid ? Math.max(unitLength(camera, fitted.scale, this.picture), camera.scale * 0.55) : unitLength(camera, fitted.scale, this.picture);
    looksOf(plan!, this.theme).forEach((look, k) => {
      const kind = frame!.kinds[k];
      if (!kind || !look.shown) return;
      const colours = look.colours.map(rgbOf);
      const scale = look.scale && kind.colours.length ? { colours: scaleColours(look.scale, this.theme, false), ...rangeOf(kind.colours) } : undefined;
      drawAgents(this.picture, camera, kind, { look, colours, scale }, unit);
    });
  }

  /** The edge of the space and a ring round the opened agent. */
  private drawOverlay({ frame }: LiveState): void {
    const camera = this.camera ?? this.fitted;
    const { context } = this;
    const corner = toPicture(camera, this.picture, 0, frame!.height);
    if (frame!.width > 0) {
      context.strokeStyle = colourOf('stone', this.theme);
      context.globalAlpha = 0.5;
      context.lineWidth = 1;
      context.strokeRect(corner.x, corner.y, frame!.width * camera.scale, frame!.height * camera.scale);
      context.globalAlpha = 1;
    }
    const { agent } = frame!;
    if (!agent || agent.gone) return;
    const at = toPicture(camera, this.picture, agent.x, agent.y);
    context.strokeStyle = colourOf('ink', this.theme);
    context.lineWidth = 1.5;
    context.beginPath();
    context.arc(at.x, at.y, 14, 0, 2 * Math.PI);
    context.stroke();
  }
}

function rangeOf(values: Float32Array): { low: number; high: number } {
  let low = Infinity;
  let high = -Infinity;
  for (const value of values) {
    if (value < low) low = value;
    if (value > high) high = value;
  }
  return { low, high };
}
