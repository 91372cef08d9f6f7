import type { Plan, TraceEvent } from '@vole/core';
import { stepWords, valueWords } from '@vole/core';
import { shownNumber } from '../words/numbers.ts';
import type { Story } from '../simulation/protocol.ts';
import { live, useLive } from '../simulation/live-handle.ts';

const WIDTH = 280;
const HEIGHT = 26;

/** What the opened agent went through in a step, with the places of the text, and the course of its attributes over the last steps. */
export function StoryOf({ kind, number }: { readonly kind: number; readonly number: number }) {
  const plan = useLive((state) => state.plan);
  const text = useLive((state) => state.text);
  const story = useLive((state) => state.story);
  if (!plan || !story || story.kind !== kind || story.number !== number) return null;
  return (
    <section aria-label="What it did, and why" className="mt-2 border-t border-line pt-1.5">
      <p className="text-faint">In the step to {stepWords(plan, story.step)}:</p>
      <ol className="max-h-52 overflow-auto text-sm" data-testid="story">
        {story.events.map((event, i) => (
          <li key={i} className={event.is === 'rule' ? 'mt-1 font-semibold' : 'pl-3'}>
            <EventWords plan={plan} text={text} event={event} story={story} />
          </li>
        ))}
        {story.events.length === 0 && (
          <li className="text-faint">Nothing: no rule had it act, and nobody acted on it.</li>
        )}
      </ol>
      <History plan={plan} story={story} />
    </section>
  );
}

function EventWords({
  plan,
  text,
  event,
  story,
}: {
  readonly plan: Plan;
  readonly text: string;
  readonly event: TraceEvent;
  readonly story: Story;
}) {
  const said = (site: number): string => {
    const { span } = plan.sites[site]!;
    const words = text.slice(span.start, span.end).split('\n')[0]!.trim();
    return words.length > 90 ? `${words.slice(0, 89)}…` : words;
  };
  const who = (kind: number, number: number): string =>
    kind === story.kind && number === story.number ? 'its' : `${plan.kinds[kind]!.name} ${number}, its`;
  switch (event.is) {
    case 'rule':
      return plan.rules[event.rule]?.name ?? '';
    case 'condition':
      return (
        <>
          <code>{said(event.site)}</code>: <b>{event.holds ? 'yes' : 'no'}</b>
        </>
      );
    case 'draw':
      return (
        <>
          <code>{said(event.site)}</code> drew{' '}
          <b>
            {plan.sites[event.site]!.what.endsWith('chance') ? (event.value ? 'yes' : 'no') : shownNumber(event.value)}
          </b>
        </>
      );
    case 'found':
      return (
        <>
          <code>{said(event.site)}</code> found{' '}
          <button type="button" className="link" onClick={() => live.openAgent(event.kind, event.number)}>
            {plan.kinds[event.kind]!.name} {event.number}
          </button>
        </>
      );
    case 'write': {
      const column = plan.kinds[event.kind]!.columns[event.column];
      return (
        <>
          <code>{said(event.site)}</code>: {who(event.kind, event.number)} {column?.name ?? 'list'} is now{' '}
          <b>{column ? valueWords(column, event.value) : shownNumber(event.value)}</b>
        </>
      );
    }
    case 'become': {
      const machine = plan.kinds[event.kind]!.machines[event.machine]!;
      return (
        <>
          {who(event.kind, event.number)} {machine.name} is now <b>{machine.states[event.state]}</b>
        </>
      );
    }
    case 'act':
      return <code>{said(event.site)}</code>;
    case 'removed':
      return (
        <>
          {plan.kinds[event.kind]!.name} {event.number} was <b>removed</b>
        </>
      );
  }
}

/** Numbers as fine lines, states as a band of words, over the last steps. */
function History({ plan, story }: { readonly plan: Plan; readonly story: Story }) {
  const { history } = story;
  if (history.length < 2) return null;
  const kind = plan.kinds[story.kind]!;
  return (
    <div className="mt-1.5 text-sm">
      <p className="text-faint">Its last {history.length} steps:</p>
      {kind.columns.map((column, c) => {
        if (column.type !== 'number') return null;
        const values = history.map((entry) => entry.attributes[c]! / column.unitFactor);
        const [low, high] = [Math.min(...values), Math.max(...values)];
        const y = (value: number): number => HEIGHT - 2 - ((value - low) / (high - low || 1)) * (HEIGHT - 4);
        return (
          <div key={column.name} className="grid grid-cols-[5rem_1fr] items-center gap-x-2">
            <span>{column.name}</span>
            <svg
              viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
              className="w-full"
              role="img"
              aria-label={`${column.name} from ${shownNumber(low)} to ${shownNumber(high)}`}
            >
              <polyline
                points={values.map((value, i) => `${(i / (values.length - 1)) * (WIDTH - 64)},${y(value)}`).join(' ')}
                fill="none"
                stroke="var(--ink)"
                strokeWidth={1.2}
              />
              <text x={WIDTH} y={9} fontSize={10} textAnchor="end" fill="var(--faint)">
                {shownNumber(high)}
              </text>
              <text x={WIDTH} y={HEIGHT - 2} fontSize={10} textAnchor="end" fill="var(--faint)">
                {shownNumber(low)}
              </text>
            </svg>
          </div>
        );
      })}
      {kind.machines.map((machine, m) => {
        const changes = history.filter((entry, i) => i === 0 || history[i - 1]!.states[m] !== entry.states[m]);
        return (
          <p key={machine.name}>
            {machine.name}:{' '}
            {changes
              .map((entry) => `${machine.states[entry.states[m]!]} from ${stepWords(plan, entry.step)}`)
              .join(', ')}
          </p>
        );
      })}
    </div>
  );
}
