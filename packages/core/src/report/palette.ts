import type { LookColour, LookScaleEnd } from '../language/looks.ts';
import type { Plan } from '../plan/plan.ts';

/** How the page looks: on paper, or at dusk. */
export type Theme = 'paper' | 'dusk';

/** A colour as its shares of red, green and blue, each from 0 to 255. */
export type Rgb = readonly [number, number, number];

const PAPER: Record<LookScaleEnd, string> = {
  moss: '#5F7040',
  russet: '#A8532D',
  slate: '#42607A',
  ochre: '#C7932C',
  plum: '#7A4B69',
  teal: '#2F7F7B',
  rose: '#C4727F',
  stone: '#8B8478',
  ink: '#2A2520',
  straw: '#F1E8CF',
  paper: '#F6F1E6',
};
const DUSK: Record<LookScaleEnd, string> = {
  moss: '#9CB36B',
  russet: '#E0804F',
  slate: '#86A9C9',
  ochre: '#E3B552',
  plum: '#C48BB0',
  teal: '#62BDB6',
  rose: '#E59AA6',
  stone: '#ADA698',
  ink: '#EEE7DA',
  straw: '#35312F',
  paper: '#28252D',
};
/** Ends of field scales, calmer than the accents so that agents stand out on them. */
const FIELD_ENDS: Record<Theme, Partial<Record<LookScaleEnd, string>>> = {
  paper: { moss: '#A3B070', slate: '#8FA9BD', russet: '#CD9877', ochre: '#DDBD79', plum: '#B793A9', teal: '#86B7B2' },
  dusk: { moss: '#5A6B3E', slate: '#48617A', russet: '#8A5138', ochre: '#87702F', plum: '#6C4A60', teal: '#2F625F' },
};

/** Order in which classes and kinds take colours; neighbours in it, and all of the first four, stay apart for readers without the red or green cones. */
export const CLASS_COLOURS: readonly LookColour[] = [
  'ochre',
  'russet',
  'plum',
  'rose',
  'slate',
  'stone',
  'moss',
  'teal',
];

/** A colour of the palette as `#rrggbb`. @param name as looks have it; any other is stone */
export function colourOf(name: string, theme: Theme): string {
  const table = theme === 'dusk' ? DUSK : PAPER;
  return table[name as LookScaleEnd] ?? table.stone;
}

/** Colour of a class or kind by its place, as `#rrggbb`. */
export function classColour(index: number, theme: Theme): string {
  return colourOf(CLASS_COLOURS[index % CLASS_COLOURS.length]!, theme);
}

/** Places among the colours of classes of the lines of a chart, those that are told apart best first. */
const SERIES_ORDER = [6, 0, 1, 2, 3, 4, 5, 7];

/** Colour of a line of a chart by its place, where it has none of its own. */
export function seriesColour(place: number, theme: Theme): string {
  return classColour(SERIES_ORDER[place % SERIES_ORDER.length]!, theme);
}

/** Red, green and blue of a colour. @param hex as `#rrggbb` */
export function rgbOf(hex: string): Rgb {
  const value = parseInt(hex.slice(1), 16);
  return [(value >> 16) & 255, (value >> 8) & 255, value & 255];
}

function mixed(a: Rgb, b: Rgb, share: number): Rgb {
  return [0, 1, 2].map((i) => Math.round(a[i]! + (b[i]! - a[i]!) * share)) as unknown as Rgb;
}

function fieldColour(name: string, theme: Theme): string {
  return FIELD_ENDS[theme][name as LookScaleEnd] ?? colourOf(name, theme);
}

/** 256 colours between two names, for fields and continuous attributes. */
export function scaleColours(scale: readonly [string, string], theme: Theme, forField: boolean): Rgb[] {
  const end = (name: string): Rgb => rgbOf(forField ? fieldColour(name, theme) : colourOf(name, theme));
  const [low, high] = [end(scale[0]), end(scale[1])];
  return Array.from({ length: 256 }, (_, i) => mixed(low, high, i / 255));
}

/** Scales of fields that the text gives none, in their order. */
const FIELD_SCALES: readonly (readonly [LookScaleEnd, LookScaleEnd])[] = [
  ['straw', 'moss'],
  ['paper', 'slate'],
  ['paper', 'russet'],
];

/** Names of the colours at the lower and upper end of a field: those of the text, or some of their own. */
export function scaleOfField(plan: Plan, field: number): readonly [string, string] {
  const plain = plan.fields.slice(0, field).filter(({ scale }) => !scale).length;
  return plan.fields[field]!.scale ?? FIELD_SCALES[plain % FIELD_SCALES.length]!;
}

/** 256 colours by level of a field: between the ends of its scale, or one for each of its words. */
export function coloursOfField(plan: Plan, field: number, theme: Theme): Rgb[] {
  const { options, optionColours } = plan.fields[field]!;
  const scale = scaleColours(scaleOfField(plan, field), theme, true);
  if (!options) return scale;
  // Words have no order, so that three or more of them are not shades of one another.
  const names = options.length > 2 ? namesOfWords(options.length, optionColours) : (optionColours ?? []);
  const colours = options.map((_, i) => (names[i] ? rgbOf(fieldColour(names[i], theme)) : scale[i * 255]!));
  return Array.from({ length: 256 }, (_, level) => colours[optionOfLevel(level, options.length)]!);
}

/** Names of the colours of words: those of the text, and for the rest, from a place among the colours of classes on, such as it does not name. */
function namesOfWords(count: number, named: readonly (string | undefined)[] = [], from = 0): string[] {
  const free = CLASS_COLOURS.map((_, i) => CLASS_COLOURS[(from + i) % CLASS_COLOURS.length]!).filter(
    (name) => !named.includes(name),
  );
  let next = 0;
  return Array.from({ length: count }, (_, i) => named[i] ?? free[next++ % Math.max(1, free.length)] ?? 'stone');
}

/** The option of a field of words that a level from 0 to 255 stands for. */
export function optionOfLevel(level: number, options: number): number {
  return Math.round((level / 255) * (options - 1));
}

/** How agents of a kind are drawn. */
export interface KindLook {
  readonly shape: string;
  /** One colour a class, or one for all. */
  readonly colours: readonly string[];
  readonly classes: readonly string[] | undefined;
  readonly scale: readonly [string, string] | undefined;
  readonly shown: boolean;
}

/** How each kind is drawn: by its show, with colours in the order of declaration where it names none. */
export function looksOf(plan: Plan, theme: Theme): KindLook[] {
  let next = 0;
  return plan.kinds.map((kind) => {
    const { show } = kind;
    if (show?.classes && show.colourBy) {
      const names = namesOfWords(show.classes.length, show.classColours, next);
      const colours = names.map((name) => colourOf(name, theme));
      next += show.classes.length;
      return { shape: show.shape, colours, classes: show.classes, scale: undefined, shown: true };
    }
    const colour = show?.colour ? colourOf(show.colour, theme) : classColour(next, theme);
    if (!show?.colour) next++;
    const scale = show?.colourBy ? (show.scale ?? (['straw', 'russet'] as const)) : undefined;
    return {
      shape: show?.shape ?? 'dot',
      colours: [colour],
      classes: undefined,
      scale,
      shown: show !== undefined || plan.kinds.every((k) => !k.show),
    };
  });
}

/** Colours that lines take which count nobody with a colour of their own. */
const LINE_COLOURS: readonly LookColour[] = ['russet', 'plum', 'teal', 'slate', 'ochre', 'moss', 'rose', 'stone'];

/** The colour of each measure, the same in every chart: that of the kind or state that it counts or whose name it bears, else one of its own. */
export function measureColours(plan: Plan, theme: Theme): string[] {
  const looks = looksOf(plan, theme);
  const named = new Map<string, string>();
  looks.forEach((look, k) => {
    look.classes?.forEach((name, i) => named.set(name.toLowerCase(), look.colours[i]!));
    if (!look.classes) named.set(plan.kinds[k]!.name.toLowerCase(), look.colours[0]!);
  });
  const known = plan.measures.map(({ name, counts }) => {
    const look = counts && looks[counts.kind];
    const state =
      counts?.machine === undefined
        ? undefined
        : plan.kinds[counts.kind]!.machines[counts.machine]!.states[counts.state!];
    const counted =
      look &&
      (state === undefined
        ? look.classes
          ? undefined
          : look.colours[0]
        : look.colours[look.classes?.indexOf(state) ?? -1]);
    const key = name.toLowerCase();
    return counted ?? named.get(key) ?? named.get(key.replace(/s$/, ''));
  });
  const free = LINE_COLOURS.map((name) => colourOf(name, theme)).filter((colour) => !known.includes(colour));
  let next = 0;
  return known.map((colour) => colour ?? free[next++ % Math.max(1, free.length)] ?? classColour(0, theme));
}
