import { TakeFiles } from '../../files/TakeFiles.tsx';
import { addState, addTransition, applyEdits, classColour, Names, removeBlock, replaceLine } from '@vole/core';
import { useEffect, useMemo, useState } from 'react';
import { shownNumber } from '../../words/numbers.ts';
import { live, useLive } from '../../simulation/live-handle.ts';
import { interfaceActions } from '../../store/interface-slice.ts';
import { changeText } from '../../session/session.ts';
import { useAppDispatch, useAppSelector } from '../../store/store.ts';
import { Bars } from '../../charts/Bars.tsx';
import { drawsOf } from './probe.ts';
import type { StateArrow, StateGraph, StateNode } from './state-graph.ts';
import { stateGraphs } from './state-graph.ts';

/** Sizes in pixels: the picture is drawn as large as it is, so that its words can be read. */
const COLUMN = 178;
const ROW = 128;
const MARGIN = 38;
const NODE = { width: 104, height: 46 } as const;
/** Letters on a line of a label over a level arrow and beside an upright one, and lines of it. */
const LABEL_OVER = 24;
const LABEL_BESIDE = 16;
const LABEL_LINES = 4;

type Chosen =
  { readonly is: 'state'; readonly name: string } | { readonly is: 'arrow'; readonly start: number } | undefined;

/** The picture of a state machine, drawn from the text and edited by changing it; counts and changes are those of the run on show. */
export function StatesPanel({ cursor, onGo }: { readonly cursor: number; readonly onGo: (offset: number) => void }) {
  const text = useAppSelector((state) => state.project.text);
  const plan = useLive((state) => state.plan);
  const frame = useLive((state) => state.frame);
  const graphs = useMemo(() => stateGraphs(text), [text]);
  const [picked, setPicked] = useState<string>();
  const [chosen, setChosen] = useState<Chosen>();
  const dispatch = useAppDispatch();
  const idOf = (graph: StateGraph): string => `${graph.kind} ${graph.machine}`;
  const graph =
    graphs.find((g) => cursor >= g.start && cursor < g.end) ?? graphs.find((g) => idOf(g) === picked) ?? graphs[0];
  const kind = plan?.kinds.findIndex((k) => k.name === graph?.kind) ?? -1;
  const machine = plan?.kinds[kind]?.machines.findIndex((m) => m.name === graph?.machine) ?? -1;
  useEffect(() => {
    live.followStates(kind >= 0 && machine >= 0 ? { kind, machine } : undefined);
    return () => live.followStates(undefined);
  }, [kind, machine, plan]);
  if (!graph)
    return (
      <p className="text-faint">
        No agent of this model has states yet. “Rest and wake” among the behaviours brings some along.
      </p>
    );

  const states = plan?.kinds[kind]?.machines[machine]?.states ?? [];
  const followed =
    frame?.states && frame.states.kind === kind && frame.states.machine === machine ? frame.states : undefined;
  const countOf = (name: string): number | undefined => followed?.counts[states.indexOf(name)];
  const flowOf = (from: string | undefined, to: string): number | undefined =>
    from === undefined ? undefined : followed?.flows[states.indexOf(from) * states.length + states.indexOf(to)];
  const say = (problem: string): void => void dispatch(interfaceActions.noticed({ text: problem, tone: 'problem' }));
  const newName = (): string => {
    for (let i = 1; ; i++) if (!graph.nodes.some((node) => node.name === `State${i}`)) return `State${i}`;
  };
  const width = 2 * MARGIN + COLUMN * (Math.max(0, ...graph.nodes.map((node) => node.column)) + 1);
  const height = ROW * (Math.max(0, ...graph.nodes.map((node) => node.row)) + 1) + 12;
  const node = chosen?.is === 'state' ? graph.nodes.find((n) => n.name === chosen.name) : undefined;
  const arrow = chosen?.is === 'arrow' ? graph.arrows.find((a) => a.start === chosen.start) : undefined;
  return (
    <div>
      {graphs.length > 1 && (
        <p>
          States{' '}
          <select
            aria-label="State machine"
            className="word"
            value={idOf(graph)}
            onChange={(event) => {
              setPicked(event.target.value);
              setChosen(undefined);
              onGo(graphs.find((g) => idOf(g) === event.target.value)!.start);
            }}
          >
            {graphs.map((g) => (
              <option key={idOf(g)} value={idOf(g)}>
                {g.machine} of {g.kind}
              </option>
            ))}
          </select>
        </p>
      )}
      <figure aria-label={`States ${graph.machine} of ${graph.kind}, drawn`}>
        <div className="overflow-x-auto">
          <svg
            data-figure
            width={width}
            height={height}
            viewBox={`0 0 ${width} ${height}`}
            role="group"
            aria-label={`States ${graph.machine} of ${graph.kind}`}
          >
            {graph.arrows.map((a, i) => (
              <Arrow
                key={`${a.start} ${a.to} ${a.from ?? ''}`}
                arrow={a}
                nodes={graph.nodes}
                nth={graph.arrows.slice(0, i).filter((b) => isSamePair(a, b)).length}
                flow={flowOf(a.from, a.to)}
                isChosen={arrow?.start === a.start}
                onChoose={() => (a.by === 'rule' ? onGo(a.start) : setChosen({ is: 'arrow', start: a.start }))}
              />
            ))}
            {graph.nodes.map((n) => (
              <Node
                key={n.name}
                node={n}
                count={countOf(n.name)}
                index={states.indexOf(n.name)}
                isChosen={node?.name === n.name}
                onChoose={() => setChosen({ is: 'state', name: n.name })}
              />
            ))}
          </svg>
        </div>
        <TakeFiles
          title={`${graph.machine} of ${graph.kind}`}
          note="bold: how many agents in the last step of the run on show"
          hasFigure
          table={() => [
            ['from', 'to', 'when', 'share'],
            ...graph.arrows.map(({ from, to, trigger, share }) => [from ?? 'any', to, trigger, share ?? '']),
          ]}
        />
      </figure>
      {/* Above what comes and goes with the choice: what moves under the pointer is not clicked. */}
      <p className="mt-1 flex gap-4">
        <button
          type="button"
          className="link shrink-0"
          onClick={() => {
            const name = newName();
            changeText(addState(text, graph.kind, graph.machine, name));
            setChosen({ is: 'state', name });
          }}
        >
          add a state
        </button>
        {!chosen && (
          <span className="text-sm text-faint">
            Choose a state or an arrow to change it.
            {graph.arrows.some((a) => a.by !== 'itself')
              ? ' Dashed: changed by a meeting, a behaviour or a message; a click leads to its line.'
              : ''}{' '}
            Bold: how many in the last step.
          </span>
        )}
      </p>
      {node && (
        <StateForm
          key={node.name}
          node={node}
          graph={graph}
          onRename={(name) => {
            const { edits, problem } = new Names(text).rename(node.start, name);
            if (problem) return say(problem);
            changeText(applyEdits(text, edits));
            setChosen({ is: 'state', name });
          }}
          onRemove={() => {
            // What leads to the state goes with it; later lines first, so that the places of the earlier stay.
            const starts = [
              ...new Set(
                graph.arrows
                  .filter((a) => a.by !== 'rule' && a.to === node.name && a.from !== node.name)
                  .map((a) => a.start),
              ),
              node.start,
            ].sort((a, b) => b - a);
            changeText(starts.reduce((changed, start) => removeBlock(changed, start), text));
            setChosen(undefined);
          }}
          onTransition={(line) => changeText(addTransition(text, graph.kind, graph.machine, node.name, line))}
          onGo={() => onGo(node.start)}
        />
      )}
      {arrow && (
        <ArrowForm
          key={arrow.start}
          arrow={arrow}
          onChange={(line) => changeText(replaceLine(text, arrow.start, line))}
          onRemove={() => {
            changeText(removeBlock(text, arrow.start));
            setChosen(undefined);
          }}
          onGo={() => onGo(arrow.start)}
        />
      )}
      {node && followed && (
        <Stays
          text={text}
          graph={graph}
          node={node}
          values={followed.stays[states.indexOf(node.name)] ?? new Float32Array(0)}
          unit={plan?.clock.unitLabel ?? ''}
        />
      )}
    </div>
  );
}

function isSamePair(a: StateArrow, b: StateArrow): boolean {
  return a.from === b.from && a.to === b.to;
}

function centre(node: StateNode): { x: number; y: number } {
  return { x: MARGIN + node.column * COLUMN + COLUMN / 2, y: node.row * ROW + ROW / 2 + 4 };
}

function pressing(act: () => void) {
  return (event: { key: string; preventDefault: () => void }): void => {
    if (event.key !== 'Enter' && event.key !== ' ') return;
    event.preventDefault();
    act();
  };
}

function Node({
  node,
  count,
  index,
  isChosen,
  onChoose,
}: {
  readonly node: StateNode;
  readonly count: number | undefined;
  readonly index: number;
  readonly isChosen: boolean;
  readonly onChoose: () => void;
}) {
  const theme = useAppSelector((state) => state.interface.theme);
  const { x, y } = centre(node);
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
          stroke={index >= 0 ? classColour(index, theme) : 'var(--faint)'}
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

interface Point {
  readonly x: number;
  readonly y: number;
}

/** Where a way from the middle of a state towards a point leaves it. */
function edgeTowards(at: Point, to: Point): Point {
  const [dx, dy] = [to.x - at.x, to.y - at.y];
  const share = 1 / Math.max(Math.abs(dx) / (NODE.width / 2 + 4), Math.abs(dy) / (NODE.height / 2 + 4), 1e-9);
  return { x: at.x + dx * share, y: at.y + dy * share };
}

/** The course of an arrow: both its ends, and the point towards which it bends. */
function courseOf(
  from: StateNode | undefined,
  to: StateNode,
  nth: number,
): { readonly start: Point; readonly bend: Point; readonly end: Point } {
  const b = centre(to);
  if (!from) {
    const start = {
      x: b.x + (to.column === 0 ? -1 : 1) * (NODE.width / 2 - 14 - nth * 12),
      y: b.y - NODE.height / 2 - 34,
    };
    return { start, bend: start, end: { x: start.x, y: b.y - NODE.height / 2 - 4 } };
  }
  const a = centre(from);
  if (from === to)
    return {
      start: { x: a.x - 20, y: a.y - NODE.height / 2 },
      bend: { x: a.x, y: a.y - NODE.height / 2 - 40 - nth * 16 },
      end: { x: a.x + 20, y: a.y - NODE.height / 2 },
    };
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const length = Math.hypot(dx, dy);
  const bow = 30 + nth * 26;
  const bend = { x: (a.x + b.x) / 2 + (dy / length) * bow, y: (a.y + b.y) / 2 - (dx / length) * bow };
  return { start: edgeTowards(a, bend), bend, end: edgeTowards(b, bend) };
}

/** Words broken into lines that can stand beside an arrow; what is too much is left to its title. */
function linesOfLabel(words: string, letters: number): string[] {
  const lines: string[] = [];
  for (const word of words.split(/\s+/)) {
    const last = lines[lines.length - 1];
    if (last !== undefined && last.length + word.length < letters) lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines.length <= LABEL_LINES ? lines : [...lines.slice(0, LABEL_LINES - 1), `${lines[LABEL_LINES - 1]!} …`];
}

/** A curve from state to state with a drop at its end that shows the way; dashed where something else than the machine itself makes the change. */
function Arrow({ arrow, nodes, nth, flow, isChosen, onChoose }: ArrowProps) {
  const named = (name: string | undefined): StateNode | undefined =>
    nodes.find((node) => node.name.toLowerCase() === name?.toLowerCase());
  const from = named(arrow.from);
  const to = named(arrow.to);
  if (!to || (arrow.from !== undefined && !from)) return null;
  const { start, bend, end } = courseOf(from, to, nth);
  const colour = arrow.by === 'rule' ? 'var(--accent)' : arrow.by === 'message' ? 'var(--slate)' : 'var(--ink)';
  const words = [arrow.share, arrow.trigger].filter(Boolean).join(', ');
  const at = { x: (start.x + 2 * bend.x + end.x) / 4, y: (start.y + 2 * bend.y + end.y) / 4 };
  // A label stands on the outer side of its curve; of an upright one beside it.
  const isUpright = Math.abs(end.y - start.y) > Math.abs(end.x - start.x);
  const lines = linesOfLabel(words, isUpright ? LABEL_BESIDE : LABEL_OVER);
  const middle = { x: (start.x + end.x) / 2, y: (start.y + end.y) / 2 };
  const anchor = !isUpright ? 'middle' : at.x >= middle.x ? 'start' : 'end';
  const top = isUpright
    ? at.y - (lines.length - 1) * 7 + 4
    : at.y < middle.y
      ? at.y - 6 - (lines.length - 1) * 14
      : at.y + 16;
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
          <tspan key={i} x={at.x + (anchor === 'start' ? 7 : anchor === 'end' ? -7 : 0)} y={top + i * 14}>
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

interface StateFormProps {
  readonly node: StateNode;
  readonly graph: StateGraph;
  readonly onRename: (name: string) => void;
  readonly onRemove: () => void;
  readonly onTransition: (line: string) => void;
  readonly onGo: () => void;
}

function StateForm({ node, graph, onRename, onRemove, onTransition, onGo }: StateFormProps) {
  const [name, setName] = useState(node.name);
  const [trigger, setTrigger] = useState('chance 0.1');
  const [to, setTo] = useState(graph.nodes.find((other) => other.name !== node.name)?.name ?? node.name);
  return (
    <div className="mt-1 border-l-2 border-accent pl-3">
      <p className="flex flex-wrap items-baseline gap-x-3">
        <input
          aria-label="Name of the state"
          className="word w-28"
          value={name}
          onChange={(event) => setName(event.target.value)}
          onBlur={() => name !== node.name && onRename(name)}
          onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        />
        <button type="button" className="link" onClick={onGo}>
          in the text
        </button>
        <button type="button" className="link" onClick={onRemove}>
          remove {node.name}
        </button>
      </p>
      <p className="flex flex-wrap items-baseline gap-x-1.5">
        from here{' '}
        <input
          aria-label="Trigger of a new arrow"
          className="word w-32"
          value={trigger}
          onChange={(event) => setTrigger(event.target.value)}
        />{' '}
        to{' '}
        <select
          aria-label="State the new arrow leads to"
          className="word"
          value={to}
          onChange={(event) => setTo(event.target.value)}
        >
          {graph.nodes.map((other) => (
            <option key={other.name}>{other.name}</option>
          ))}
        </select>
        <button type="button" className="link" onClick={() => onTransition(`${trigger}: ${to}`)}>
          add the arrow
        </button>
      </p>
    </div>
  );
}

function ArrowForm({
  arrow,
  onChange,
  onRemove,
  onGo,
}: {
  readonly arrow: StateArrow;
  readonly onChange: (line: string) => void;
  readonly onRemove: () => void;
  readonly onGo: () => void;
}) {
  const [line, setLine] = useState(arrow.line);
  return (
    <p className="mt-1 flex flex-wrap items-baseline gap-x-3 border-l-2 border-accent pl-3">
      <input
        aria-label="What moves it on, and where to"
        className="word min-w-0 flex-1 font-mono text-sm"
        value={line}
        onChange={(event) => setLine(event.target.value)}
        onBlur={() => line !== arrow.line && onChange(line)}
        onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      />
      <button type="button" className="link" onClick={onGo}>
        in the text
      </button>
      <button type="button" className="link" onClick={onRemove}>
        remove the arrow
      </button>
    </p>
  );
}

/** How long agents stayed in a state in this run, against what the text says of it. */
function Stays({
  text,
  graph,
  node,
  values,
  unit,
}: {
  readonly text: string;
  readonly graph: StateGraph;
  readonly node: StateNode;
  readonly values: Float32Array;
  readonly unit: string;
}) {
  const after = graph.arrows
    .find((arrow) => arrow.by === 'itself' && arrow.from === node.name && arrow.trigger.startsWith('after '))
    ?.trigger.replace(/^after /, '')
    .replace(/ when .*$/, '');
  const said = useMemo(() => (after ? drawsOf(text, after) : undefined), [text, after]);
  if (values.length === 0)
    return (
      <p className="mt-1 text-faint">Nobody has left {node.name} yet since the run was last begun or taken back.</p>
    );
  return (
    <Bars
      title={`Stays in ${node.name}, ${values.length} of this run`}
      values={[...values]}
      unit={unit}
      against={said && !said.problem && said.unit === unit ? said.values : undefined}
      againstWords="what the text says"
    />
  );
}
