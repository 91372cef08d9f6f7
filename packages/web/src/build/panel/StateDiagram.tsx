import { shownNumber } from '../../words/numbers.ts';
import type { StateArrow, StateNode } from './state-graph.ts';
import { centreOf, courseOf, labelOf, LINE, NODE, wordsOf } from './state-layout.ts';

function pressing(act: () => void) {
  return (event: { key: string; preventDefault: () => void }): void => {
    if (event.key !== 'Enter' && event.key !== ' ') return;
    event.preventDefault();
    act();
  };
}

/** A state with the number of those who are in it. */
export function Node({
  node,
  count,
  colour,
  isChosen,
  onChoose,
}: {
  readonly node: StateNode;
  readonly count: number | undefined;
  /** Absent for a state that the run on show does not have. */
  readonly colour: string | undefined;
  readonly isChosen: boolean;
  readonly onChoose: () => void;
}) {
  const { x, y } = centreOf(node);
  return (
    <>
      <g
        role="button"
        tabIndex={0}
        aria-label={`State ${node.name}${count === undefined ? '' : `, ${count} in it`}`}
        aria-pressed={isChosen}
        className="state-part cursor-pointer"
        onClick={onChoose}
        onKeyDown={pressing(onChoose)}
      >
        <rect
          x={x - NODE.width / 2}
          y={y - NODE.height / 2}
          width={NODE.width}
          height={NODE.height}
          rx={NODE.height / 2}
          fill="var(--sheet)"
          stroke={colour ?? 'var(--faint)'}
          strokeWidth={isChosen ? 3 : 1.6}
        />
      </g>
      <g aria-hidden pointerEvents="none">
        <text
          x={x}
          y={y - (count === undefined ? -4 : 1)}
          textAnchor="middle"
          fontSize={14}
          fontWeight={600}
          fill="var(--ink)"
        >
          {node.name}
        </text>
        {count !== undefined && (
          <text x={x} y={y + 15} textAnchor="middle" fontSize={13} fill="var(--faint)">
            {shownNumber(count)}
          </text>
        )}
      </g>
    </>
  );
}

interface ArrowProps {
  readonly arrow: StateArrow;
  readonly nodes: readonly StateNode[];
  /** How many arrows between the same two states come before it. */
  readonly nth: number;
  readonly flow: number | undefined;
  readonly isChosen: boolean;
  readonly onChoose: () => void;
}

/** A curve from state to state with a drop at its end that shows the way; dashed where something else than the machine itself makes the change. */
export function Arrow({ arrow, nodes, nth, flow, isChosen, onChoose }: ArrowProps) {
  const named = (name: string | undefined): StateNode | undefined =>
    nodes.find((node) => node.name.toLowerCase() === name?.toLowerCase());
  const from = named(arrow.from);
  const to = named(arrow.to);
  if (!to || (arrow.from !== undefined && !from)) return null;
  const course = courseOf(from, to, nth);
  const { start, bend, end } = course;
  const colour = arrow.by === 'rule' ? 'var(--accent)' : arrow.by === 'message' ? 'var(--slate)' : 'var(--ink)';
  const words = wordsOf(arrow);
  const { lines, anchor, x, top } = labelOf(words, course);
  const path = `M${start.x},${start.y}Q${bend.x},${bend.y} ${end.x},${end.y}`;
  return (
    <>
      <g
        role="button"
        tabIndex={0}
        aria-label={`${arrow.from === undefined ? '' : `From ${arrow.from} `}to ${arrow.to}: ${words}`.replace(
          /^t/,
          'T',
        )}
        aria-pressed={isChosen}
        className="state-part cursor-pointer"
        onClick={onChoose}
        onKeyDown={pressing(onChoose)}
      >
        <title>{arrow.line}</title>
        <path d={path} fill="none" stroke="transparent" strokeWidth={14} />
        <path
          d={path}
          fill="none"
          stroke={colour}
          strokeOpacity={isChosen ? 1 : 0.75}
          strokeWidth={isChosen ? 2.2 : 1.4}
          strokeDasharray={arrow.by === 'itself' ? undefined : '5 4'}
        />
        <circle cx={end.x} cy={end.y} r={4} fill={colour} />
      </g>
      <text
        aria-hidden
        className="cursor-pointer"
        onClick={onChoose}
        textAnchor={anchor}
        fontSize={12.5}
        fill="var(--ink)"
        stroke="var(--sheet)"
        strokeWidth={4}
        paintOrder="stroke"
      >
        {lines.map((line, i) => (
          <tspan key={i} x={x} y={top + i * LINE}>
            {line}
            {i === lines.length - 1 && flow !== undefined && flow > 0 && (
              <tspan fontWeight={700}> {shownNumber(flow)}</tspan>
            )}
          </tspan>
        ))}
      </text>
    </>
  );
}
