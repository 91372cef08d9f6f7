import { scaleLinear } from 'd3-scale';
import { area, line } from 'd3-shape';
import type { Bands } from '../studies/statistics/bands.ts';
import type { Block, Line } from './document.ts';
import { shownNumber } from './numbers.ts';
import { drawnRows, pathThrough } from './thinning.ts';
import { escapedXml } from '../xml.ts';

/** A mark of an axis over steps. */
export interface ResultTime {
  readonly step: number;
  readonly label: string;
}

/** Bands over the runs of one point, with the name and colour of the point. */
export interface NamedBands {
  readonly name: string;
  readonly bands: Bands;
  readonly colour: string;
}

const SIZE = { width: 640, height: 280 };
const ROOM = { left: 58, right: 12, top: 14, bottom: 26 };
const TICKS = 5;
const STRETCHES = 100;
/** About as wide as a letter is. */
const LETTER = 6.2;

/** Something that was observed, with the bar of its error. */
interface ObservedMark {
  readonly step: number;
  readonly value: number;
  readonly low: number;
  readonly high: number;
  readonly isHeldOut: boolean;
}

/** What a picture of fans shows. */
interface FanWish {
  readonly fans: readonly NamedBands[];
  readonly times: readonly ResultTime[];
  /** A course to hold the runs against, drawn dashed: a value at each step of the first fan. */
  readonly reference?: readonly number[] | undefined;
  readonly observed?: readonly ObservedMark[] | undefined;
  /** What it shows, in words. */
  readonly told: string;
  readonly caption: Line;
}

/** Median and bands over runs as a picture, one fan a point, with what was observed as dots (hollow where it is held out) and a dashed reference. */
export function fanPicture({ fans, times, reference = [], observed = [], told, caption }: FanWish): Block {
  const last = Math.max(1, ...fans.map(({ bands }) => bands.steps.at(-1) ?? 0), ...observed.map(({ step }) => step));
  const values = [
    ...fans.flatMap(({ bands }) => [...bands.low90, ...bands.high90]),
    ...reference,
    ...observed.flatMap(({ low, high }) => [low, high]),
  ].filter(Number.isFinite);
  const y = scaleLinear()
    .domain([Math.min(0, ...extent(values)), Math.max(0, ...extent(values)) || 1])
    .nice(TICKS)
    .range([SIZE.height - ROOM.bottom, ROOM.top]);
  const x = scaleLinear()
    .domain([0, last])
    .range([ROOM.left, SIZE.width - ROOM.right]);
  const rules = y.ticks(TICKS).map((value) => {
    const at = y(value).toFixed(1);
    return `<path d="M${ROOM.left} ${at}H${SIZE.width - ROOM.right}" stroke="#d9cfbd"/><text x="${ROOM.left - 8}" y="${at}" dy="4" text-anchor="end">${escapedXml(shownNumber(value))}</text>`;
  });
  let taken = -Infinity;
  const marks = times.map(({ step, label }) => {
    const at = x(step);
    const wide = label.length * LETTER;
    const anchor = at > SIZE.width - wide / 2 ? 'end' : at - wide / 2 < ROOM.left ? 'start' : 'middle';
    const from = anchor === 'end' ? at - wide : anchor === 'start' ? at : at - wide / 2;
    if (from < taken) return '';
    taken = from + wide + LETTER;
    return `<text x="${at.toFixed(1)}" y="${SIZE.height - 7}" text-anchor="${anchor}">${escapedXml(label)}</text>`;
  });
  const bodies = fans.map(({ bands, colour }) => {
    const rows = bandRows(bands, STRETCHES);
    const band = (low: Float64Array, high: Float64Array, opacity: number): string =>
      `<path d="${path(
        area<number>()
          .defined((i) => Number.isFinite(low[i]) && Number.isFinite(high[i]))
          .x((i) => x(bands.steps[i]!))
          .y0((i) => y(low[i]!))
          .y1((i) => y(high[i]!))(rows),
      )}" fill="${colour}" fill-opacity="${opacity}"/>`;
    const median = line<number>()
      .defined((i) => Number.isFinite(bands.median[i]))
      .x((i) => x(bands.steps[i]!))
      .y((i) => y(bands.median[i]!))(rows);
    return `${band(bands.low90, bands.high90, 0.15)}${band(bands.low50, bands.high50, 0.25)}<path d="${path(median)}" fill="none" stroke="${colour}" stroke-width="2"/>`;
  });
  const steps = fans[0]?.bands.steps ?? [];
  const dashed = pathThrough(
    drawnRows(0, Math.min(steps.length, reference.length) - 1, STRETCHES, [(i) => reference[i]!]),
    (i) => x(steps[i]!),
    (i) => y(reference[i]!),
  );
  const limits =
    dashed === '' ? '' : `<path d="${dashed}" fill="none" stroke="#2a2522" stroke-width="1.4" stroke-dasharray="6 4"/>`;
  const dots = observed.map(({ step, value, low, high, isHeldOut }) => {
    const at = x(step).toFixed(1);
    const bar = high > low ? `<path d="M${at} ${y(low).toFixed(1)}V${y(high).toFixed(1)}" stroke="#2a2522"/>` : '';
    return `${bar}<circle cx="${at}" cy="${y(value).toFixed(1)}" r="3.5" fill="${isHeldOut ? '#fffdf7' : '#2a2522'}" stroke="#2a2522" stroke-width="1.4"/>`;
  });
  const key = fans.length < 2 ? [] : fans.map(({ name, colour }, i) => keyEntry(name, colour, i));
  const height = SIZE.height + (key.length > 0 ? 20 * Math.ceil(key.length / A_ROW) : 0);
  return {
    is: 'picture',
    width: SIZE.width,
    height,
    told,
    caption,
    svg: `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${SIZE.width} ${height}" width="${SIZE.width}" height="${height}" role="img" aria-label="${escapedXml(told)}" font-family="Source Sans 3 Variable, Source Sans 3, sans-serif" font-size="12" fill="#5d564e">${[...rules, ...marks, ...bodies, limits, ...dots, ...key].join('')}</svg>`,
  };
}

/** Points in a row of the key. */
const A_ROW = 4;
const FITTING = 22;

function keyEntry(name: string, colour: string, place: number): string {
  const x = ROOM.left + (place % A_ROW) * ((SIZE.width - ROOM.left) / A_ROW);
  const y = SIZE.height + 14 + 20 * Math.floor(place / A_ROW);
  const short = name.length > FITTING ? `${name.slice(0, FITTING - 1)}…` : name;
  return `<path d="M${x} ${y - 4}h16" stroke="${colour}" stroke-width="3"/><text x="${x + 21}" y="${y}">${escapedXml(short)}</text>`;
}

/** Coordinates to a tenth of a pixel. */
function path(d: string | null): string {
  return (d ?? '').replace(/-?\d+\.\d+/g, (number) => String(Number(Number(number).toFixed(1))));
}

/** Rows of bands that are drawn, with the extremes of each of their lines. */
export function bandRows(bands: Bands, stretches: number): number[] {
  const lines = [bands.low90, bands.low50, bands.median, bands.high50, bands.high90];
  return drawnRows(
    0,
    bands.steps.length - 1,
    stretches,
    lines.map((line) => (row: number) => line[row]!),
  );
}

function extent(values: readonly number[]): number[] {
  let [low, high] = [Infinity, -Infinity];
  for (const value of values) [low, high] = [Math.min(low, value), Math.max(high, value)];
  return values.length > 0 ? [low, high] : [];
}
