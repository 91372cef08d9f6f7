import type { ReactNode } from 'react';
import { Suspense, useEffect, useState } from 'react';
import { shownNumber } from '../words/numbers.ts';
import { live, useLive } from '../simulation/live-handle.ts';
import { useAppDispatch } from '../store/store.ts';
import { watchActions } from '../store/watch-slice.ts';
import type { Plan } from '@vole/core';
import { measuredPlace, valueWords } from '@vole/core';
import { Card } from './Card.tsx';
import { askedPart } from '../session/asked-part.tsx';
import { StoryOf } from './StoryOf.tsx';

const JourneyOf = askedPart('Where it is bound', () => import('./JourneyOf.tsx').then((part) => part.JourneyOf));

interface Props {
  readonly width: number;
  readonly follows: boolean;
  readonly onFollow: (follows: boolean) => void;
}

function placeWords(x: number, y: number, space: Plan['spaces'][number]): string {
  const at = measuredPlace(x, y, space);
  return `${shownNumber(at.x)}, ${shownNumber(at.y)} ${space.unitLabel}`;
}

/** All that the opened agent is at the step on show; its values can be set by hand. */
export function AgentCard({ width, follows, onFollow }: Props) {
  const plan = useLive((state) => state.plan);
  const frame = useLive((state) => state.frame);
  const trailed = useLive((state) => state.trailed);
  const tellingLeft = useLive((state) => state.tellingLeft);
  const agent = frame?.agent;
  const dispatch = useAppDispatch();
  const space = agent && plan?.kinds[agent.kind]?.space;
  // Whoever is opened from a list is brought into the picture.
  useEffect(() => {
    if (space !== undefined && space >= 0) dispatch(watchActions.spaceShown(space));
  }, [dispatch, space, agent?.kind, agent?.number]);
  if (!plan || !agent) return null;
  const kind = plan.kinds[agent.kind]!;
  const isTrailed = trailed.some((other) => other.kind === agent.kind && other.number === agent.number);
  const ground = plan.spaces[kind.space];
  return (
    <Card
      title={`${kind.name} ${agent.number}`}
      name="the opened agent"
      width={width}
      note={
        <button type="button" className="link" onClick={() => live.closeAgent()}>
          close
        </button>
      }
    >
      {agent.gone ? (
        <p className="text-faint">It is not there at this step: removed, or not yet born.</p>
      ) : (
        <dl className="grid grid-cols-[auto_1fr_auto_1fr] gap-x-2 gap-y-0.5" data-testid="agent">
          {kind.machines.map((machine, m) => {
            const { state, due } = agent.states[m]!;
            const choice = (
              <Choice
                name={machine.name}
                options={machine.states}
                value={state}
                onSet={(to) =>
                  live.act({ is: 'set state', kind: agent.kind, number: agent.number, machine: m, state: to })
                }
              />
            );
            return (
              <Item
                key={machine.name}
                name={machine.name}
                value={
                  <>
                    {choice}
                    {due === undefined ? '' : `, ${shownNumber(due)} ${plan.clock.unitLabel} left`}
                  </>
                }
                wide
              />
            );
          })}
          {kind.columns.map((column, c) => {
            const value = agent.attributes[c]!;
            const set = (to: number): void =>
              live.act({ is: 'set attribute', kind: agent.kind, number: agent.number, column: c, value: to });
            const options = column.options ?? (column.type === 'yes or no' ? ['no', 'yes'] : undefined);
            const isNumber = column.type === 'number';
            const field = options ? (
              <Choice name={column.name} options={options} value={value} onSet={set} />
            ) : isNumber ? (
              <>
                <NumberField
                  name={column.name}
                  value={value / column.unitFactor}
                  onSet={(to) => set(to * column.unitFactor)}
                />{' '}
                {column.unitLabel}
              </>
            ) : (
              valueWords(column, value)
            );
            return <Item key={column.name} name={column.name} value={field} />;
          })}
          {ground && (
            <>
              <Item
                name="place"
                value={`${placeWords(agent.x, agent.y, ground)}${plan.spaces.length > 1 ? ` on ${ground.name}` : ''}`}
              />
              <Item name="direction" value={`${shownNumber(agent.direction)} deg`} />
            </>
          )}
        </dl>
      )}
      {!agent.gone && agent.ties.length > 0 && (
        <ul className="mt-1.5" aria-label="Ties">
          {agent.ties.map(({ network, count, others }) => (
            <li key={network}>
              <span className="text-faint">{tieWords(plan.networks[network]!, agent.kind)}</span>{' '}
              {count === 0 ? (plan.networks[network]!.riding ? 'nobody' : 'no ties') : `${count}: `}
              {others.map((other, i) => (
                <span key={i}>
                  {i > 0 && ', '}
                  <button type="button" className="link" onClick={() => live.openAgent(other.kind, other.number)}>
                    {plan.kinds[other.kind]!.name} {other.number}
                  </button>
                </span>
              ))}
              {count > others.length && ' ...'}
            </li>
          ))}
        </ul>
      )}
      {agent.journey && (
        <Suspense fallback={null}>
          <JourneyOf plan={plan} space={kind.space} legs={agent.journey} />
        </Suspense>
      )}
      {!agent.gone && (
        <p className="mt-1.5 flex flex-wrap gap-x-4">
          {ground && (
            <label className="flex items-center gap-1.5">
              <input type="checkbox" className="accent-moss" checked={follows} onChange={() => onFollow(!follows)} />{' '}
              follow it
            </label>
          )}
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="accent-moss"
              checked={isTrailed}
              onChange={() => live.trail(agent.kind, agent.number, !isTrailed)}
            />{' '}
            keep its trail
          </label>
          <button
            type="button"
            className="link"
            onClick={() => live.act({ is: 'remove', kind: agent.kind, number: agent.number })}
          >
            remove it
          </button>
          {frame.step > 0 && (
            <button type="button" className="link" onClick={() => live.askWhy()}>
              what it did, and why
            </button>
          )}
        </p>
      )}
      {tellingLeft !== undefined && (
        <p role="status" className="mt-1 text-faint">
          The last steps are run again: {tellingLeft} to go.{' '}
          <button type="button" className="link" onClick={() => live.openAgent(agent.kind, agent.number)}>
            leave it
          </button>
        </p>
      )}
      <StoryOf kind={agent.kind} number={agent.number} />
    </Card>
  );
}

function Item({
  name,
  value,
  wide = false,
}: {
  readonly name: string;
  readonly value: ReactNode;
  readonly wide?: boolean;
}) {
  return (
    <>
      <dt className="text-faint">{name}</dt>
      <dd className={wide ? 'col-span-3 font-semibold' : 'whitespace-nowrap'}>{value}</dd>
    </>
  );
}

function Choice({
  name,
  options,
  value,
  onSet,
}: {
  readonly name: string;
  readonly options: readonly string[];
  readonly value: number;
  readonly onSet: (value: number) => void;
}) {
  return (
    <select aria-label={name} className="word" value={value} onChange={(event) => onSet(Number(event.target.value))}>
      {options.map((option, i) => (
        <option key={option} value={i}>
          {option}
        </option>
      ))}
    </select>
  );
}

/** A number that is set when it is left or entered, not with every key. */
function NumberField({
  name,
  value,
  onSet,
}: {
  readonly name: string;
  readonly value: number;
  readonly onSet: (value: number) => void;
}) {
  const [typed, setTyped] = useState<string>();
  const done = (): void => {
    const number = Number(typed?.replace(/\u2212/g, '-').replace(/\u2009/g, ''));
    if (typed !== undefined && typed.trim() !== '' && Number.isFinite(number)) onSet(number);
    setTyped(undefined);
  };
  return (
    <input
      aria-label={name}
      className="word w-14"
      value={typed ?? shownNumber(value)}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={done}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') setTyped(undefined);
      }}
    />
  );
}

/** A network as it is seen by an agent of a kind; of who rides in what, which of the two it is. */
function tieWords({ name, riding, from }: Plan['networks'][number], kind: number): string {
  if (!riding) return name;
  return kind === from ? 'Rides in' : name.replace(/ aboard .*/, ' aboard');
}
