import { scaleLinear } from 'd3-scale';
import type { Sensitivity } from '../studies/answers/sensitivity.ts';
import { escapedXml } from '../xml.ts';
import type { Block } from './document.ts';
import { shownNumber } from './numbers.ts';
import { pairOf, ranked } from './sensitivity-words.ts';

const WIDTH = 640;
const LEFT = 150;
const RIGHT = 16;
const ROW = 34;
const FOOT = 24;
const [DARK, LIGHT] = ['#5f7040', '#c7932c'];
/** Letters of a name that fit beside its bars. */
const FITTING = 20;

/** Indices of the factors for a summary as bars with their 90 % intervals, those that matter most first; nothing where there are none. @param of which study, for the caption */
export function indexPicture(sensitivity: Sensitivity, summary: string, of: string): Block | undefined {
  const pair = pairOf(sensitivity);
  if (!pair) return undefined;
  const dark = ranked(sensitivity, pair.dark).filter(({ value }) => Number.isFinite(value));
  const light = new Map(pair.light ? ranked(sensitivity, pair.light).map((each) => [each.factor, each]) : []);
  if (dark.length === 0) return undefined;
  const shown = [...dark, ...light.values()];
  const ends = shown.flatMap(({ value, low, high }) => [value, low, high]).filter(Number.isFinite);
  const x = scaleLinear()
    .domain([Math.min(0, ...ends), Math.max(0, ...ends) || 1])
    .nice(5)
    .range([LEFT, WIDTH - RIGHT]);
  const bottom = dark.length * ROW + 6;
  const at = (value: number): string => x(value).toFixed(1);
  const bar = (index: (typeof dark)[number] | undefined, y: number, colour: string): string => {
    if (!index || !Number.isFinite(index.value)) return '';
    const { value, low, high } = index;
    const [from, to] = [Math.min(x(0), x(value)), Math.max(x(0), x(value))];
    const interval =
      Number.isFinite(low) && high > low
        ? `<path d="M${at(low)} ${y + 5}H${at(high)}M${at(low)} ${y + 1}v8M${at(high)} ${y + 1}v8" fill="none" stroke="#2a2522"/>`
        : '';
    return `<rect x="${from.toFixed(1)}" y="${y}" width="${(to - from).toFixed(1)}" height="10" fill="${colour}"/>${interval}`;
  };
  const rows = dark.map((index, i) => {
    const y = i * ROW + 8;
    const { factor } = index;
    const name = factor.length > FITTING ? `${factor.slice(0, FITTING - 1)}…` : factor;
    return `<text x="${LEFT - 10}" y="${y + 14}" text-anchor="end" font-weight="600" fill="#2a2522">${escapedXml(name)}</text>${bar(index, y, DARK)}${bar(light.get(factor), y + 13, LIGHT)}`;
  });
  const ticks = x
    .ticks(5)
    .map(
      (tick) =>
        `<path d="M${at(tick)} 4V${bottom}" stroke="#d9cfbd"/><text x="${at(tick)}" y="${bottom + 16}" text-anchor="middle">${escapedXml(shownNumber(tick))}</text>`,
    );
  const height = bottom + FOOT;
  const told = `${pair.title(summary)}: ${dark.map(({ factor, value }) => `${factor} ${shownNumber(value)}`).join(', ')}.`;
  return {
    is: 'picture',
    width: WIDTH,
    height,
    told,
    caption: [
      `${pair.title(summary)}. ${pair.key.replace(/^./, (first) => first.toUpperCase())}. Lines: 90 % intervals, over ${sensitivity.points} points. ${of}`,
    ],
    svg: `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${height}" width="${WIDTH}" height="${height}" role="img" aria-label="${escapedXml(told)}" font-family="Source Sans 3 Variable, Source Sans 3, sans-serif" font-size="12.5" fill="#5d564e">${[...ticks, ...rows].join('')}</svg>`,
  };
}
