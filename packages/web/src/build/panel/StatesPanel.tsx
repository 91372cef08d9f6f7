import { addState, addTransition, removeBlock, replaceLine } from '@vole/core';
import { useEffect, useMemo, useState } from 'react';
import { Bars } from '../../charts/Bars.tsx';
import { TakeFiles } from '../../files/TakeFiles.tsx';
import { changeText } from '../../session/session.ts';
import { stateColours } from '../../simulation/layers.ts';
import { live, useLive } from '../../simulation/live-handle.ts';
import { interfaceActions } from '../../store/interface-slice.ts';
import { useAppDispatch, useAppSelector } from '../../store/store.ts';
import { drawsOf } from './probe.ts';
import { newStateName, removeState, renameState } from './state-edits.ts';
import type { StateArrow, StateGraph, StateNode } from './state-graph.ts';
import { stateGraphs } from './state-graph.ts';
import { extentOf } from './state-layout.ts';
import { Arrow, Node } from './StateDiagram.tsx';
import { ArrowForm, StateForm } from './StateForms.tsx';

type Chosen =
  { readonly is: 'state'; readonly name: string } | { readonly is: 'arrow'; readonly start: number } | undefined;

/** The picture of a state machine, drawn from the text and edited by changing it; counts and changes are those of the run on show. */
export function StatesPanel({ cursor, onGo }: { readonly cursor: number; readonly onGo: (offset: number) => void }) {
  const text = useAppSelector((state) => state.project.text);
  const plan = useLive((state) => state.plan);
  const theme = useAppSelector((state) => state.interface.theme);
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
  const colours = plan && states.length > 0 ? stateColours(plan, kind, machine, theme) : [];
  const followed =
    frame?.states && frame.states.kind === kind && frame.states.machine === machine ? frame.states : undefined;
  const countOf = (name: string): number | undefined => followed?.counts[states.indexOf(name)];
  const flowOf = (from: string | undefined, to: string): number | undefined =>
    from === undefined ? undefined : followed?.flows[states.indexOf(from) * states.length + states.indexOf(to)];
  const say = (problem: string): void => void dispatch(interfaceActions.noticed({ text: problem, tone: 'problem' }));
  const { width, height } = extentOf(graph);
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
                colour={colours[states.indexOf(n.name)]}
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
            const name = newStateName(graph);
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
            const renamed = renameState(text, node, name);
            if ('problem' in renamed) return say(renamed.problem);
            changeText(renamed.text);
            setChosen({ is: 'state', name });
          }}
          onRemove={() => {
            changeText(removeState(text, graph, node));
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
