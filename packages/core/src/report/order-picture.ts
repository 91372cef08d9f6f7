import type { CheckedModel } from '../language/checked.ts';
import type { Block } from './document.ts';
import { escapedXml } from '../xml.ts';
import { ruleActors } from './model-words.ts';

const WIDTH = 642;
const BOX = { width: 190, height: 46, gap: 35, rise: 26 };
const A_ROW = 3;
/** Letters that fit in a box, and are then cut. */
const FITTING = 27;

/** The order of a step as a picture: boxes with arrows, row by row. */
export function orderPicture(model: CheckedModel, hasTimeline: boolean): Block {
  const boxes = [
    ...(hasTimeline ? [{ name: 'timeline', mode: '' }] : []),
    ...model.order.map(({ rules, mode }) => ({
      name: rules.map(({ name }) => name).join(', '),
      mode: rules.every(({ is }) => is === 'field' || is === 'surroundings')
        ? rules.map(ruleActors)[0]!
        : `${rules.map(ruleActors)[0]!}, ${mode}`,
    })),
    { name: 'measures', mode: '' },
  ];
  const rows = Math.ceil(boxes.length / A_ROW);
  const height = rows * (BOX.height + BOX.rise) - BOX.rise + 4;
  const parts = boxes.map(({ name, mode }, i) => {
    const x = 1 + (i % A_ROW) * (BOX.width + BOX.gap);
    const y = 2 + Math.floor(i / A_ROW) * (BOX.height + BOX.rise);
    const middle = x + BOX.width / 2;
    const text = (words: string, at: number, more: string): string =>
      words
        ? `<text x="${middle}" y="${y + at}" text-anchor="middle" ${more}>${escapedXml(shortened(words))}</text>`
        : '';
    return [
      `<rect x="${x}" y="${y}" width="${BOX.width}" height="${BOX.height}" rx="6" fill="#f5f0e6" stroke="#8a7f72"/>`,
      text(name, mode ? 20 : 28, 'font-weight="600"'),
      text(mode, 37, 'fill="#6b645b" font-size="12"'),
      i + 1 < boxes.length ? arrow(i, x, y) : '',
    ].join('');
  });
  const told = `A step: ${boxes.map(({ name, mode }) => `${name}${mode ? ` (${mode})` : ''}`).join(', then ')}.`;
  return {
    is: 'picture',
    width: WIDTH,
    height,
    told,
    svg: `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${height}" width="${WIDTH}" height="${height}" role="img" aria-label="${escapedXml(told)}" font-family="Source Sans 3 Variable, Source Sans 3, sans-serif" font-size="15" fill="#2a2522">${parts.join('')}</svg>`,
    caption: ['The order of a step.'],
  };
}

/** From a box to the next: to the right, or from the end of a row to the beginning of the one below. */
function arrow(i: number, x: number, y: number): string {
  const line = (path: string): string => `<path d="${path}" fill="none" stroke="#8a7f72" stroke-width="1.5"/>`;
  const head = (tipX: number, tipY: number, isDown: boolean): string =>
    `<path d="M${tipX} ${tipY}${isDown ? 'l-4 -7h8z' : 'l-7 -4v8z'}" fill="#8a7f72"/>`;
  if ((i + 1) % A_ROW !== 0) {
    const [from, to, at] = [x + BOX.width, x + BOX.width + BOX.gap, y + BOX.height / 2];
    return line(`M${from} ${at}H${to - 6}`) + head(to - 1, at, false);
  }
  const [start, end, turn] = [x + BOX.width / 2, 1 + BOX.width / 2, y + BOX.height + BOX.rise / 2];
  return (
    line(`M${start} ${y + BOX.height}V${turn}H${end}V${turn + 6}`) + head(end, y + BOX.height + BOX.rise - 1, true)
  );
}

function shortened(words: string): string {
  return words.length > FITTING ? `${words.slice(0, FITTING - 1)}…` : words;
}
