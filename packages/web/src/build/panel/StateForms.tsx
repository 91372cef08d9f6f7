import { useState } from 'react';
import type { StateArrow, StateGraph, StateNode } from './state-graph.ts';

interface StateFormProps {
  readonly node: StateNode;
  readonly graph: StateGraph;
  readonly onRename: (name: string) => void;
  readonly onRemove: () => void;
  readonly onTransition: (line: string) => void;
  readonly onGo: () => void;
}

/** Changes a state, and adds what leads on from it. */
export function StateForm({ node, graph, onRename, onRemove, onTransition, onGo }: StateFormProps) {
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

/** Changes the line of an arrow. */
export function ArrowForm({
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
