import { download, fileName } from '../files/download.ts';
import { pngOfCanvas } from '../files/figure.ts';
import { looksOf, stepWords } from '@vole/core';
import { live } from '../simulation/live-handle.ts';
import { store } from '../store/store.ts';

/** Forms of a film, and what it is packed and coded in. */
export const FILM_FORMS = ['WebM', 'MP4'] as const;
export type FilmForm = (typeof FILM_FORMS)[number];

const FOOT = 46;
/** Bits a second: enough for single agents to stay sharp. */
const BITRATE = 6_000_000;
/** Seconds that a picture stays at most, so that a pause of the run is no long still. */
const LONGEST = 1;
const SHORTEST = 1 / 60;

/** Draws the space as it is on the page, with the model's name, the date and the key under it. */
function compose(space: HTMLCanvasElement, into: HTMLCanvasElement): void {
  const { plan, frame, seed } = live.current;
  const { theme } = store.getState().interface;
  const style = getComputedStyle(space);
  const context = into.getContext('2d', { willReadFrequently: true })!;
  context.fillStyle = style.getPropertyValue('--sheet');
  context.fillRect(0, 0, into.width, into.height);
  const height = into.height - FOOT;
  context.drawImage(space, 0, 0, into.width, height);
  if (!plan || !frame) return;
  const ink = style.getPropertyValue('--ink');
  const body = style.getPropertyValue('--font-body');
  context.fillStyle = ink;
  context.font = `600 15px ${style.getPropertyValue('--font-title')}`;
  context.fillText(`${store.getState().project.name}, ${stepWords(plan, frame.step)}`, 12, height + 19);
  context.font = `13px ${body}`;
  let x = 12;
  const y = height + 37;
  const entry = (colour: string, words: string): void => {
    context.fillStyle = colour;
    context.beginPath();
    context.arc(x + 5, y - 4, 5, 0, 2 * Math.PI);
    context.fill();
    context.fillStyle = ink;
    context.fillText(words, x + 15, y);
    x += context.measureText(words).width + 34;
  };
  looksOf(plan, theme).forEach((look, k) => {
    const kind = frame.kinds[k];
    if (!kind || !look.shown) return;
    if (!look.classes) return entry(look.colours[0]!, `${plan.kinds[k]!.name} ${kind.count}`);
    look.classes.forEach((name, i) =>
      entry(look.colours[i]!, `${name} ${kind.colours.reduce((sum, c) => sum + (c === i ? 1 : 0), 0)}`),
    );
  });
  const words = `seed ${seed}, step ${frame.step}`;
  context.fillText(words, Math.max(x, into.width - 12 - context.measureText(words).width), y);
}

function spaceOnPage(): HTMLCanvasElement {
  const canvas = document.querySelector<HTMLCanvasElement>('main canvas');
  if (!canvas) throw new Error('There is no space on the page.');
  return canvas;
}

/** A canvas for the space with its foot; codes of films want even numbers of dots. */
function sheetFor(space: HTMLCanvasElement): HTMLCanvasElement {
  const sheet = document.createElement('canvas');
  const even = (dots: number): number => dots - (dots % 2);
  Object.assign(sheet, { width: even(space.width), height: even(space.height + FOOT) });
  return sheet;
}

/** Saves the space as it is on show. @param about what it is of, kept inside */
export async function savePicture(about: readonly string[]): Promise<void> {
  const space = spaceOnPage();
  const picture = sheetFor(space);
  compose(space, picture);
  const { step } = live.current.frame ?? { step: 0 };
  const { name } = store.getState().project;
  const png = await pngOfCanvas(picture, [`${name}, step ${step}`, ...about], DENSITY * devicePixelRatio);
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
  const size = { width: sheet.width, height: sheet.height };
  const codec =
    typeof VideoEncoder === 'undefined'
      ? null
      : await getFirstEncodableVideoCodec(form === 'MP4' ? ['avc', 'av1', 'vp9'] : ['vp8', 'vp9', 'av1'], size);
  if (!codec) throw new Error(`This browser cannot make films as ${form}. Single pictures can be saved instead.`);
  const target = new BufferTarget();
  const output = new Output({ format: form === 'MP4' ? new Mp4OutputFormat() : new WebMOutputFormat(), target });
  const source = new CanvasSource(sheet, { codec, bitrate: BITRATE, latencyMode: 'realtime' });
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
