import { colourOf, looksOf, scaleColours, scaleOfField } from '../drawing/palette.ts';
import { shownNumber } from '../charts/numbers.ts';
import { useLive } from '../simulation/live-handle.ts';
import { useAppSelector } from '../store/store.ts';

/** The key: what each shape and colour means, with counts and shares as they are now. */
export function KeyTable() {
  const { plan, frame } = useLive();
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
            if (!look.classes) return <Line key={kind.name} shape={look.shape} colour={look.scale ? colourOf(look.scale[1], theme) : look.colours[0]!} name={kind.name} count={count} />;
            const counts = look.classes.map(() => 0);
            for (let i = 0; i < colours.length; i++) counts[colours[i]!]!++;
            return look.classes.map((name, i) => (
              <Line key={`${kind.name} ${name}`} shape={look.shape} colour={look.colours[i]!} name={`${name} ${kind.name}`} count={counts[i]!} of={count} />
            ));
          })}
        </tbody>
      </table>
      {plan.fields.map((field, i) => {
        const shown = frame.fields[i];
        if (!shown) return null;
        const colours = scaleColours(scaleOfField(plan, i), theme, true);
        const gradient = [0, 128, 255].map((at) => `rgb(${colours[at]!.join(' ')})`).join(', ');
        return (
          <div key={field.name} className="mt-2 grid grid-cols-[auto_1fr] items-center gap-x-3">
            <span>{field.name}</span>
            <span className="h-2.5 rounded-sm" style={{ background: `linear-gradient(to right, ${gradient})` }} />
            <span />
            <span className="flex justify-between text-[13px] text-faint">
              <span>{shownNumber(shown.low)}</span>
              <span>mean {shownNumber(shown.mean, 2)}</span>
              <span>{shownNumber(shown.high)}</span>
            </span>
          </div>
        );
      })}
    </div>
  );
}

function Line({ shape, colour, name, count, of }: { readonly shape: string; readonly colour: string; readonly name: string; readonly count: number; readonly of?: number }) {
  return (
    <tr>
      <td className="w-7"><ShapeIcon shape={shape} colour={colour} /></td>
      <td>{name}</td>
      <td className="text-right">{shownNumber(count)}</td>
      <td className="w-14 text-right text-faint">{of === undefined ? '' : `${of > 0 ? Math.round((100 * count) / of) : 0} %`}</td>
    </tr>
  );
}

const PATHS: Record<string, string> = {
  leaf: 'M8 1C12 5 12 10 8 15C4 10 4 5 8 1Z',
  wing: 'M1 11C2 3 14 3 15 11C12 7 4 7 1 11Z',
  dot: 'M8 3a5 5 0 1 0 .01 0Z',
  drop: 'M8 1L11 8A4 4 0 1 1 5 8Z',
  diamond: 'M8 1L13 8L8 15L3 8Z',
  square: 'M3 3H13V13H3Z',
  cross: 'M6.4 2H9.6V6.4H14V9.6H9.6V14H6.4V9.6H2V6.4H6.4Z',
};

export function ShapeIcon({ shape, colour }: { readonly shape: string; readonly colour: string }) {
  return (
    <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden>
      {shape === 'ring' ? <circle cx="8" cy="8" r="4.6" fill="none" stroke={colour} strokeWidth="2.6" /> : <path d={PATHS[shape] ?? PATHS.dot} fill={colour} />}
    </svg>
  );
}
