import { download, fileName } from '../charts/export-chart.ts';
import { looksOf } from '../drawing/palette.ts';
import { stepWords } from '../charts/time-axis.ts';
import { live } from '../simulation/live-handle.ts';
import { store } from '../store/store.ts';

const FOOT = 46;

/** Draws the space as it is on the page, with the model's name, the date and the key under it. */
function compose(space: HTMLCanvasElement, into: HTMLCanvasElement): void {
  const { plan, frame, seed } = live.current;
  const { theme } = store.getState().interface;
  const style = getComputedStyle(space);
  into.width = space.width;
  into.height = space.height + FOOT;
  const context = into.getContext('2d')!;
  context.fillStyle = style.getPropertyValue('--sheet');
  context.fillRect(0, 0, into.width, into.height);
  context.drawImage(space, 0, 0);
  if (!plan || !frame) return;
  const ink = style.getPropertyValue('--ink');
  context.fillStyle = ink;
  context.font = '600 15px sans-serif';
  context.fillText(`${store.getState().project.name}, ${stepWords(plan, frame.step)}`, 12, space.height + 19);
  context.font = '12px sans-serif';
  let x = 12;
  const y = space.height + 37;
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
  context.fillText(`seed ${seed}, step ${frame.step}`, Math.max(x, into.width - 130), y);
}

function spaceOnPage(): HTMLCanvasElement {
  const canvas = document.querySelector<HTMLCanvasElement>('main canvas');
  if (!canvas) throw new Error('There is no space on the page.');
  return canvas;
}

export function savePicture(): void {
  const picture = document.createElement('canvas');
  compose(spaceOnPage(), picture);
  const { frame } = live.current;
  picture.toBlob(
    (blob) => blob && download(fileName(`${store.getState().project.name} step ${frame?.step ?? 0}`, 'png'), blob),
    'image/png',
  );
}

const FORMATS = ['video/webm;codecs=vp9', 'video/webm;codecs=vp8', 'video/webm', 'video/mp4'];

/** Films the run from now on, frame by frame as it is drawn; stopping saves the film. */
export function startFilm(): () => void {
  const space = spaceOnPage();
  const picture = document.createElement('canvas');
  compose(space, picture);
  const type = FORMATS.find((format) => MediaRecorder.isTypeSupported(format));
  if (!type) throw new Error('This browser cannot record films. Single pictures can be saved instead.');
  const recorder = new MediaRecorder(picture.captureStream(30), { mimeType: type, videoBitsPerSecond: 6_000_000 });
  const pieces: Blob[] = [];
  let isWished = false;
  recorder.ondataavailable = ({ data }) => {
    if (data.size > 0) pieces.push(data);
    if (isWished) end();
  };
  recorder.onstop = () =>
    download(
      fileName(store.getState().project.name, type.includes('mp4') ? 'mp4' : 'webm'),
      new Blob(pieces, { type }),
    );
  const forget = live.onFrame(() =>
    requestAnimationFrame(() => recorder.state === 'recording' && compose(space, picture)),
  );
  /** Ends the film once there is something in it: a busy machine may not have come to write any of it yet. */
  const end = (): void => {
    if (recorder.state !== 'recording') return;
    if (pieces.length === 0) return compose(space, picture);
    forget();
    recorder.stop();
  };
  recorder.start(500);
  return () => {
    isWished = true;
    end();
  };
}
