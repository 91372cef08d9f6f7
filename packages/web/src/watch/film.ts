import { download, fileName } from '../files/download.ts';
import { pngOfCanvas } from '../files/figure.ts';
import { stepWords } from '@vole/core';
import { live } from '../simulation/live-handle.ts';
import { store } from '../store/store.ts';
import type { KeyPlace } from './picture-key.ts';
import { keyOf, keyPlaces } from './picture-key.ts';

/** Forms of a film, and what it is packed and coded in. */
export const FILM_FORMS = ['WebM', 'MP4'] as const;
export type FilmForm = (typeof FILM_FORMS)[number];

/** Under the space: the title, then so much for each row of the key. */
const TITLE = 28;
const KEY_ROW = 18;
const MARGIN = 12;
/** Bits a second: enough for single agents to stay sharp. */
const BITRATE = 6_000_000;
/** Seconds that a picture stays at most, so that a pause of the run is no long still. */
const LONGEST = 1;
const SHORTEST = 1 / 60;

/** A canvas for the space with its foot, and where each entry of the key stands in it: there it stays through a film. */
interface Sheet {
  readonly canvas: HTMLCanvasElement;
  readonly height: number;
  readonly places: readonly KeyPlace[];
}

/** Draws the space as it is on the page, with the model's name, the date and the key under it. */
function compose(space: HTMLCanvasElement, { canvas, height, places }: Sheet): void {
  const { plan, frame, seed } = live.current;
  const { style, context } = brushFor(space, canvas);
  context.fillStyle = style.getPropertyValue('--sheet');
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.drawImage(space, 0, 0, canvas.width, height);
  if (!plan || !frame) return;
  const ink = style.getPropertyValue('--ink');
  context.fillStyle = ink;
  const run = `seed ${seed}, step ${frame.step}`;
  const runWidth = context.measureText(run).width;
  context.fillText(run, canvas.width - MARGIN - runWidth, height + 19);
  context.font = `600 15px ${style.getPropertyValue('--font-title')}`;
  const title = `${store.getState().project.name}, ${stepWords(plan, frame.step)}`;
  context.fillText(title, MARGIN, height + 19, canvas.width - 3 * MARGIN - runWidth);
  context.font = bodyFont(style);
  for (const [i, { colour, name, count }] of keyOf(plan, frame, store.getState().interface.theme).entries()) {
    const place = places[i];
    if (!place) continue;
    const [x, y] = [place.x, height + TITLE + 9 + place.row * KEY_ROW];
    context.fillStyle = colour;
    context.beginPath();
    context.arc(x + 5, y - 4, 5, 0, 2 * Math.PI);
    context.fill();
    context.fillStyle = ink;
    context.fillText(`${name} ${count}`, x + 15, y);
  }
}

function brushFor(
  space: HTMLCanvasElement,
  canvas: HTMLCanvasElement,
): { readonly style: CSSStyleDeclaration; readonly context: CanvasRenderingContext2D } {
  const style = getComputedStyle(space);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.font = bodyFont(style);
  return { style, context };
}

function bodyFont(style: CSSStyleDeclaration): string {
  return `13px ${style.getPropertyValue('--font-body')}`;
}

function spaceOnPage(): HTMLCanvasElement {
  const canvas = document.querySelector<HTMLCanvasElement>('main canvas');
  if (!canvas) throw new Error('There is no space on the page.');
  return canvas;
}

/** A sheet on which the key has room, also when there are ten times as many; codes of films want even numbers of dots. */
function sheetFor(space: HTMLCanvasElement): Sheet {
  const canvas = document.createElement('canvas');
  const even = (dots: number): number => dots - (dots % 2);
  const { plan, frame } = live.current;
  const key = plan && frame ? keyOf(plan, frame, store.getState().interface.theme) : [];
  const { context } = brushFor(space, canvas);
  const widths = key.map(({ name, ofAll }) => 15 + context.measureText(`${name} 0${ofAll}`).width);
  const width = even(space.width);
  const places = keyPlaces(widths, MARGIN, width - MARGIN);
  const rows = (places.at(-1)?.row ?? -1) + 1;
  Object.assign(canvas, { width, height: even(space.height + TITLE + rows * KEY_ROW + 1) });
  return { canvas, height: canvas.height - TITLE - rows * KEY_ROW, places };
}

/** Saves the space as it is on show. @param about what it is of, kept inside */
export async function savePicture(about: readonly string[]): Promise<void> {
  const space = spaceOnPage();
  const sheet = sheetFor(space);
  compose(space, sheet);
  const { step } = live.current.frame ?? { step: 0 };
  const { name } = store.getState().project;
  const png = await pngOfCanvas(sheet.canvas, [`${name}, step ${step}`, ...about], DENSITY * devicePixelRatio);
  download(fileName(`${name} step ${step}`, 'png'), png);
}

/** Dots per inch of a screen. */
const DENSITY = 96;

/** A film that is being made. */
export interface Film {
  /** Ends it and saves it. @throws Error if nothing could be coded */
  readonly save: () => Promise<void>;
}

/**
 * Films the run from now on, picture by picture as it is drawn.
 * @param about what it is of, kept inside
 * @throws Error if this browser codes no films
 */
export async function startFilm(form: FilmForm, about: readonly string[]): Promise<Film> {
  const space = spaceOnPage();
  const { BufferTarget, CanvasSource, getFirstEncodableVideoCodec, Mp4OutputFormat, Output, WebMOutputFormat } =
    await import('mediabunny');
  const sheet = sheetFor(space);
  const size = { width: sheet.canvas.width, height: sheet.canvas.height };
  const codec =
    typeof VideoEncoder === 'undefined'
      ? null
      : await getFirstEncodableVideoCodec(form === 'MP4' ? ['avc', 'av1', 'vp9'] : ['vp8', 'vp9', 'av1'], size);
  if (!codec) throw new Error(`This browser cannot make films as ${form}. Single pictures can be saved instead.`);
  const target = new BufferTarget();
  const output = new Output({ format: form === 'MP4' ? new Mp4OutputFormat() : new WebMOutputFormat(), target });
  const source = new CanvasSource(sheet.canvas, { codec, bitrate: BITRATE, latencyMode: 'realtime' });
  output.addVideoTrack(source);
  const { name } = store.getState().project;
  output.setMetadataTags({ title: name, comment: about.join('\n') });
  await output.start();

  let shown = performance.now();
  let at = 0;
  let coding = Promise.resolve();
  /** Codes what is on show, as a picture that stays until the next one. */
  const take = (): Promise<void> => {
    const now = performance.now();
    const lasted = Math.min(LONGEST, Math.max(SHORTEST, (now - shown) / 1000));
    shown = now;
    compose(space, sheet);
    coding = source.add(at, lasted);
    at += lasted;
    // A picture that cannot be coded is told when the film is saved.
    return coding.catch(() => undefined);
  };
  await take();
  live.film(take);
  return {
    save: async () => {
      live.film(undefined);
      await coding;
      void take();
      await coding;
      await output.finalize();
      if (!target.buffer) throw new Error('The film could not be made.');
      download(fileName(name, form.toLowerCase()), new Blob([target.buffer], { type: `video/${form.toLowerCase()}` }));
    },
  };
}
