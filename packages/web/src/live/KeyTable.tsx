import type { Rgb } from '@vole/core';
import { colourOf, coloursOfField, looksOf, optionOfLevel, scaleColours } from '@vole/core';
import type { RobustRange } from '../simulation/robust-range.ts';
import { robustRange } from '../simulation/robust-range.ts';
import { shownNumber } from '../words/numbers.ts';
import { useLive } from '../simulation/live-handle.ts';
import { useAppSelector } from '../store/store.ts';

/** The key: what each shape and colour means, with counts and shares as they are now. */
export function KeyTable() {
  const plan = useLive((state) => state.plan);
  const frame = useLive((state) => state.frame);
  const theme = useAppSelector((state) => state.interface.theme);
  if (!plan || !frame) return null;
  const looks = looksOf(plan, theme);
  return (
    <div data-testid="key">
      <table className="w-full">
        <tbody>
          {plan.kinds.map((kind, k) => {
            const look = looks[k]!;
            const { count, colours } = frame.kinds[k] ?? { count: 0, colours: new Float32Array(0) };
            if (!look.classes)
              return (
                <Line
                  key={kind.name}
                  shape={look.shape}
                  colour={look.scale ? colourOf(look.scale[1], theme) : look.colours[0]!}
                  name={kind.name}
                  count={count}
                />
              );
            const counts = look.classes.map(() => 0);
            for (let i = 0; i < colours.length; i++) counts[colours[i]!]!++;
            return look.classes.map((name, i) => (
              <Line
                key={`${kind.name} ${name}`}
                shape={look.shape}
                colour={look.colours[i]!}
                name={`${name} ${kind.name}`}
                count={counts[i]!}
                of={count}
              />
            ));
          })}
          {plan.fields.map(({ name, options }, i) => {
            const levels = frame.fields[i]?.levels;
            if (!options || !levels) return null;
            const colours = coloursOfField(plan, i, theme);
            const counts = options.map(() => 0);
            for (const level of levels) counts[optionOfLevel(level, options.length)]!++;
            return options.map((word, option) => (
              <Line
                key={`${name} ${word}`}
                shape="square"
                colour={`rgb(${colours[Math.round((option * 255) / Math.max(1, options.length - 1))]!.join(' ')})`}
                name={`${word}, ${name}`}
                count={counts[option]!}
                of={levels.length}
              />
            ));
          })}
        </tbody>
      </table>
      {plan.kinds.map((kind, k) => {
        const { scale } = looks[k]!;
        const values = frame.kinds[k]?.colours;
        if (!scale || !values || values.length === 0) return null;
        const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
        return (
          <Scale
            key={kind.name}
            name={`${kind.name}: ${kind.show?.colourTitle ?? 'colour'}`}
            colours={scaleColours(scale, theme, false)}
            mean={mean}
            {...robustRange(values)}
          />
        );
      })}
      {plan.fields.map((field, i) => {
        const shown = frame.fields[i];
        return (
          shown &&
          !field.options && (
            <Scale
              key={field.name}
              name={field.name}
              colours={coloursOfField(plan, i, theme)}
              low={shown.low}
              high={shown.high}
              isCut={shown.isCut}
              mean={shown.mean}
            />
          )
        );
      })}
    </div>
  );
}

function Line({
  shape,
  colour,
  name,
  count,
  of,
}: {
  readonly shape: string;
  readonly colour: string;
  readonly name: string;
  readonly count: number;
  readonly of?: number;
}) {
  return (
    <tr>
      <td className="w-7">
        <ShapeIcon shape={shape} colour={colour} />
      </td>
      <td>{name}</td>
      <td className="text-right">{shownNumber(count)}</td>
      <td className="w-14 text-right text-faint">
        {of === undefined ? '' : `${of > 0 ? Math.round((100 * count) / of) : 0} %`}
      </td>
    </tr>
  );
}

const PATHS: Record<string, string> = {
  leaf: 'M8 1C12 5 12 10 8 15C4 10 4 5 8 1Z',
  wing: 'M0.5 12C2 8 5 5.5 7.2 5.2L8 3L8.8 5.2C11 5.5 14 8 15.5 12C13 9.5 11 8.6 9 8.6L8 12.5L7 8.6C5 8.6 3 9.5 0.5 12Z',
  dot: 'M8 3a5 5 0 1 0 .01 0Z',
  drop: 'M8 1L11 8A4 4 0 1 1 5 8Z',
  diamond: 'M8 1L13 8L8 15L3 8Z',
  square: 'M3 3H13V13H3Z',
  cross: 'M6.4 2H9.6V6.4H14V9.6H9.6V14H6.4V9.6H2V6.4H6.4Z',
};

function ShapeIcon({ shape, colour }: { readonly shape: string; readonly colour: string }) {
  return (
    <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden>
      {shape === 'ring' ? (
        <circle cx="8" cy="8" r="4.6" fill="none" stroke={colour} strokeWidth="2.6" />
      ) : (
        <path d={PATHS[shape] ?? PATHS.dot} fill={colour} />
      )}
    </svg>
  );
}

/** A scale of colours with its range; where a few values lie outside of it, that is said. */
function Scale({
  name,
  colours,
  low,
  high,
  isCut,
  mean,
}: RobustRange & { readonly name: string; readonly colours: readonly Rgb[]; readonly mean: number }) {
  const gradient = [0, 64, 128, 192, 255].map((at) => `rgb(${colours[at]!.join(' ')})`).join(', ');
  return (
    <div className="mt-2 grid grid-cols-[auto_1fr] items-center gap-x-3">
      <span>{name}</span>
      <span className="h-2.5 rounded-sm" style={{ background: `linear-gradient(to right, ${gradient})` }} />
      <span />
      <span
        className="flex justify-between text-[13px] text-faint"
        title={isCut ? 'A few values lie outside of this range and have the colours of its ends' : undefined}
      >
        <span>
          {isCut ? '\u2264 ' : ''}
          {shownNumber(low)}
        </span>
        <span>mean {shownNumber(mean, 2)}</span>
        <span>
          {isCut ? '\u2265 ' : ''}
          {shownNumber(high)}
        </span>
      </span>
    </div>
  );
}
