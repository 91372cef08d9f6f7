import type { NetworkAnswer } from '@vole/core';
import { seriesColour } from '@vole/core';
import { useAppSelector } from '../store/store.ts';

interface Props {
  readonly answer: NetworkAnswer;
  readonly directed: boolean;
}

const SIZE = 400;
const EDGE = 14;

/** A network as dots and lines: the more ties an agent has the larger its dot, the more meetings a tie the stronger its line. */
export function NetworkPicture({ answer: { picture, figures }, directed }: Props) {
  const theme = useAppSelector((state) => state.interface.theme);
  if (figures.nodes === 0)
    return <p className="flex h-full items-center justify-center text-faint">Nobody met within this stretch.</p>;
  if (!picture)
    return (
      <p className="flex h-full items-center justify-center text-faint">
        A picture of {figures.nodes.toLocaleString('en-GB')} agents and {figures.ties.toLocaleString('en-GB')} ties
        would show nothing; a shorter stretch has fewer.
      </p>
    );
  const at = (share: number): number => EDGE + share * (SIZE - 2 * EDGE);
  const most = Math.max(1, ...picture.nodes.map(({ degree }) => degree));
  const strongest = Math.max(1, ...picture.ties.map(([, , meetings]) => meetings));
  return (
    <svg
      data-figure
      viewBox={`0 0 ${SIZE} ${SIZE}`}
      className="h-full w-full"
      role="img"
      aria-label={`Network of ${figures.nodes} agents and ${figures.ties} ties`}
    >
      {picture.ties.map(([a, b, meetings], i) => {
        const [one, other] = [picture.nodes[a]!, picture.nodes[b]!];
        return (
          <line
            key={i}
            x1={at(one.x)}
            y1={at(one.y)}
            x2={at(other.x)}
            y2={at(other.y)}
            stroke="var(--faint)"
            strokeWidth={0.4 + 1.6 * (meetings / strongest)}
            strokeOpacity={0.15 + 0.45 * (meetings / strongest)}
          />
        );
      })}
      {picture.nodes.map(({ name, x, y, degree, community }) => (
        <circle
          key={name}
          cx={at(x)}
          cy={at(y)}
          r={2 + 4 * Math.sqrt(degree / most)}
          fill={seriesColour(community, theme)}
          stroke="var(--sheet)"
          strokeWidth={0.6}
        >
          <title>{`${name}: ${degree} ${degree === 1 ? 'tie' : 'ties'}${directed ? ', either way' : ''}`}</title>
        </circle>
      ))}
    </svg>
  );
}
