import { addState, addTransition, applyEdits, Names, removeBlock, replaceLine } from '@vole/core';
import { useEffect, useMemo, useState } from 'react';
import { shownNumber } from '../../charts/numbers.ts';
import { classColour } from '../../drawing/palette.ts';
import { live, useLive } from '../../simulation/live-handle.ts';
import { interfaceActions } from '../../store/interface-slice.ts';
import { changeText } from '../../store/session.ts';
import { useAppDispatch, useAppSelector } from '../../store/store.ts';
import { Bars } from './Bars.tsx';
import { drawsOf } from './probe.ts';
import type { StateArrow, StateGraph, StateNode } from './state-graph.ts';
import { stateGraphs } from './state-graph.ts';

const COLUMN = 158;
const ROW = 70;
const NODE = { width: 96, height: 34 } as const;

type Chosen = { readonly is: 'state'; readonly name: string } | { readonly is: 'arrow'; readonly start: number } | undefined;

/** The picture of a state machine, drawn from the text and edited by changing it; counts and changes are those of the run on show. */
export function StatesPanel({ cursor, onGo }: { readonly cursor: number; readonly onGo: (offset: number) => void }) {
  const text = useAppSelector((state) => state.project.text);
  const { plan, frame } = useLive();
  const graphs = useMemo(() => stateGraphs(text), [text]);
  const [picked, setPicked] = useState<string>();
  const [chosen, setChosen] = useState<Chosen>();
  const dispatch = useAppDispatch();
  const idOf = (graph: StateGraph): string => `${graph.kind} ${graph.machine}`;
  const graph = graphs.find((g) => cursor >= g.start && cursor < g.end) ?? graphs.find((g) => idOf(g) === picked) ?? graphs[0];
  const kind = plan?.kinds.findIndex((k) => k.name === graph?.kind) ?? -1;
  const machine = plan?.kinds[kind]?.machines.findIndex((m) => m.name === graph?.machine) ?? -1;
  useEffect(() => {
    live.followStates(kind >= 0 && machine >= 0 ? { kind, machine } : undefined);
    return () => live.followStates(undefined);
  }, [kind, machine, plan]);
  if (!graph) return <p className="text-faint">No agent of this model has states yet. “Rest and wake” among the behaviours brings some along.</p>;

  const states = plan?.kinds[kind]?.machines[machine]?.states ?? [];
  const followed = frame?.states && frame.states.kind === kind && frame.states.machine === machine ? frame.states : undefined;
  const countOf = (name: string): number | undefined => followed?.counts[states.indexOf(name)];
  const flowOf = (from: string, to: string): number | undefined => followed?.flows[states.indexOf(from) * states.length + states.indexOf(to)];
  const say = (problem: string): void => void dispatch(interfaceActions.noticed({ text: problem, tone: 'problem' }));
  const newName = (): string => {
    for (let i = 1; ; i++) if (!graph.nodes.some((node) => node.name === `State${i}`)) return `State${i}`;
  };
  const width = COLUMN * (Math.max(0, ...graph.nodes.map((node) => node.column)) + 1);
  const height = ROW * (Math.max(0, ...graph.nodes.map((node) => node.row)) + 1) + 24;
  const node = chosen?.is === 'state' ? graph.nodes.find((n) => n.name === chosen.name) : undefined;
  const arrow = chosen?.is === 'arrow' ? graph.arrows.find((a) => a.start === chosen.start) : undefined;
  return (
    <div>
      {graphs.length > 1 && (
        <p>
          States{' '}
          <select aria-label="State machine" className="word" value={idOf(graph)} onChange={(event) => {
            setPicked(event.target.value);
            setChosen(undefined);
            onGo(graphs.find((g) => idOf(g) === event.target.value)!.start);
          }}>
            {graphs.map((g) => <option key={idOf(g)} value={idOf(g)}>{g.machine} of {g.kind}</option>)}
          </select>
        </p>
      )}
      <svg viewBox={`0 0 ${width} ${height}`} style={{ maxHeight: 260, maxWidth: width * 1.2 }} className="w-full" role="group" aria-label={`States ${graph.machine} of ${graph.kind}`}>
        {graph.arrows.map((a, i) => (
          <Arrow key={`${a.start} ${a.to} ${a.from}`} arrow={a} nodes={graph.nodes} nth={graph.arrows.slice(0, i).filter((b) => isSamePair(a, b)).length} flow={flowOf(a.from, a.to)} isChosen={arrow?.start === a.start} onChoose={() => setChosen({ is: 'arrow', start: a.start })} />
        ))}
        {graph.nodes.map((n) => (
          <Node key={n.name} node={n} count={countOf(n.name)} index={states.indexOf(n.name)} isChosen={node?.name === n.name} onChoose={() => setChosen({ is: 'state', name: n.name })} />
        ))}
      </svg>
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
            const starts = [...new Set(graph.arrows.filter((a) => a.to === node.name && a.from !== node.name).map((a) => a.start)), node.start].sort((a, b) => b - a);
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
      {node && followed && <Stays text={text} graph={graph} node={node} values={followed.stays[states.indexOf(node.name)] ?? new Float32Array(0)} unit={plan?.clock.unitLabel ?? ''} />}
      <p className="mt-1 flex gap-4">
        <button type="button" className="link" onClick={() => {
          const name = newName();
          changeText(addState(text, graph.kind, graph.machine, name));
          setChosen({ is: 'state', name });
        }}>add a state</button>
        {!chosen && <span className="text-faint">Choose a state or an arrow to change it.</span>}
      </p>
    </div>
  );
}

function isSamePair(a: StateArrow, b: StateArrow): boolean {
  return a.from === b.from && a.to === b.to;
}

function centre(node: StateNode): { x: number; y: number } {
  return { x: node.column * COLUMN + COLUMN / 2, y: node.row * ROW + ROW / 2 + 10 };
}

function pressing(act: () => void) {
  return (event: { key: string; preventDefault: () => void }): void => {
    if (event.key !== 'Enter' && event.key !== ' ') return;
    event.preventDefault();
    act();
  };
}

function Node({ node, count, index, isChosen, onChoose }: { readonly node: StateNode; readonly count: number | undefined; readonly index: number; readonly isChosen: boolean; readonly onChoose: () => void }) {
  const theme = useAppSelector((state) => state.interface.theme);
  const { x, y } = centre(node);
  return (
    <>
      <g role="button" tabIndex={0} aria-label={`State ${node.name}${count === undefined ? '' : `, ${count} in it`}`} aria-pressed={isChosen} className="state-part cursor-pointer" onClick={onChoose} onKeyDown={pressing(onChoose)}>
        <ellipse cx={x} cy={y} rx={NODE.width / 2} ry={NODE.height / 2} fill="var(--sheet)" stroke={index >= 0 ? classColour(index, theme) : 'var(--faint)'} strokeWidth={isChosen ? 3 : 1.6} />
      </g>
      <g aria-hidden pointerEvents="none">
        <text x={x} y={y - (count === undefined ? -4 : 1)} textAnchor="middle" fontSize={12.5} fontWeight={600} fill="var(--ink)">{node.name}</text>
        {count !== undefined && <text x={x} y={y + 12} textAnchor="middle" fontSize={11} fill="var(--faint)">{shownNumber(count)}</text>}
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

/** A curve from state to state with a drop at its end that shows the way. */
function Arrow({ arrow, nodes, nth, flow, isChosen, onChoose }: ArrowProps) {
  const from = nodes.find((node) => node.name.toLowerCase() === arrow.from.toLowerCase());
  const to = nodes.find((node) => node.name.toLowerCase() === arrow.to.toLowerCase());
  if (!from || !to) return null;
  const [a, b] = [centre(from), centre(to)];
  const isSelf = from === to;
  const isForward = b.x > a.x || (b.x === a.x && b.y > a.y);
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const length = Math.hypot(dx, dy) || 1;
  const bow = isSelf ? 0 : (isForward ? 24 : 36) + nth * 18 + (length > COLUMN * 1.5 ? 16 : 0);
  const middle = isSelf ? { x: a.x, y: a.y - NODE.height - 4 } : { x: (a.x + b.x) / 2 + (dy / length) * bow, y: (a.y + b.y) / 2 - (dx / length) * bow };
  const edge = (at: { x: number; y: number }): { x: number; y: number } => {
    const angle = Math.atan2((middle.y - at.y) / NODE.height, (middle.x - at.x) / NODE.width);
    return { x: at.x + (NODE.width / 2 + 3) * Math.cos(angle), y: at.y + (NODE.height / 2 + 3) * Math.sin(angle) };
  };
  const [start, end] = isSelf ? [{ x: a.x - 18, y: a.y - NODE.height / 2 + 2 }, { x: a.x + 18, y: a.y - NODE.height / 2 + 2 }] : [edge(a), edge(b)];
  const words = arrow.trigger.length > 24 ? `${arrow.trigger.slice(0, 23)}…` : arrow.trigger;
  return (
    <>
      <g role="button" tabIndex={0} aria-label={`From ${arrow.from} to ${arrow.to}: ${arrow.trigger}`} aria-pressed={isChosen} className="state-part cursor-pointer" onClick={onChoose} onKeyDown={pressing(onChoose)}>
        <path d={`M${start.x},${start.y}Q${middle.x},${middle.y} ${end.x},${end.y}`} fill="none" stroke="transparent" strokeWidth={12} />
        <path d={`M${start.x},${start.y}Q${middle.x},${middle.y} ${end.x},${end.y}`} fill="none" stroke="var(--ink)" strokeOpacity={isChosen ? 1 : 0.55} strokeWidth={isChosen ? 2 : 1.2} />
        <circle cx={end.x} cy={end.y} r={3.2} fill="var(--ink)" />
      </g>
      <text aria-hidden className="cursor-pointer" onClick={onChoose} x={(start.x + 2 * middle.x + end.x) / 4} y={(start.y + 2 * middle.y + end.y) / 4 + (middle.y > (a.y + b.y) / 2 ? 12 : -4)} textAnchor="middle" fontSize={10} fill="var(--faint)" stroke="var(--sheet)" strokeWidth={3} paintOrder="stroke">
        {words}
        {flow !== undefined && flow > 0 && <tspan fontWeight={700} fill="var(--ink)"> {shownNumber(flow)}</tspan>}
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
        <input aria-label="Name of the state" className="word w-28" value={name} onChange={(event) => setName(event.target.value)} onBlur={() => name !== node.name && onRename(name)} onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()} />
        <button type="button" className="link" onClick={onGo}>in the text</button>
        <button type="button" className="link" onClick={onRemove}>remove {node.name}</button>
      </p>
      <p className="flex flex-wrap items-baseline gap-x-1.5">
        from here <input aria-label="Trigger of a new arrow" className="word w-32" value={trigger} onChange={(event) => setTrigger(event.target.value)} /> to{' '}
        <select aria-label="State the new arrow leads to" className="word" value={to} onChange={(event) => setTo(event.target.value)}>
          {graph.nodes.map((other) => <option key={other.name}>{other.name}</option>)}
        </select>
        <button type="button" className="link" onClick={() => onTransition(`${trigger}: ${to}`)}>add the arrow</button>
      </p>
    </div>
  );
}

function ArrowForm({ arrow, onChange, onRemove, onGo }: { readonly arrow: StateArrow; readonly onChange: (line: string) => void; readonly onRemove: () => void; readonly onGo: () => void }) {
  const [line, setLine] = useState(arrow.line);
  return (
    <p className="mt-1 flex flex-wrap items-baseline gap-x-3 border-l-2 border-accent pl-3">
      <input aria-label="What moves it on, and where to" className="word min-w-0 flex-1 font-mono text-sm" value={line} onChange={(event) => setLine(event.target.value)} onBlur={() => line !== arrow.line && onChange(line)} onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()} />
      <button type="button" className="link" onClick={onGo}>in the text</button>
      <button type="button" className="link" onClick={onRemove}>remove the arrow</button>
    </p>
  );
}

/** How long agents stayed in a state in this run, against what the text says of it. */
function Stays({ text, graph, node, values, unit }: { readonly text: string; readonly graph: StateGraph; readonly node: StateNode; readonly values: Float32Array; readonly unit: string }) {
  const after = graph.arrows.find((arrow) => arrow.from === node.name && arrow.trigger.startsWith('after '))?.trigger.replace(/^after /, '').replace(/ when .*$/, '');
  const said = useMemo(() => (after ? drawsOf(text, after) : undefined), [text, after]);
  if (values.length === 0) return <p className="mt-1 text-faint">Nobody has left {node.name} yet since the run was last begun or taken back.</p>;
  return <Bars title={`Stays in ${node.name}, ${values.length} of this run`} values={[...values]} unit={unit} against={said && !said.problem && said.unit === unit ? said.values : undefined} againstWords="what the text says" />;
}
