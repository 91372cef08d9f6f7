import { shownNumber } from '../charts/numbers.ts';
import { live, useLive } from '../simulation/live-handle.ts';
import { Card } from './WatchView.tsx';

/** All that the opened agent is at the step on show. */
export function AgentCard() {
  const { plan, frame } = useLive();
  const agent = frame?.agent;
  if (!plan || !agent) return null;
  const kind = plan.kinds[agent.kind]!;
  const unit = plan.space?.unitLabel ?? '';
  return (
    <Card title={`${kind.name} ${agent.number}`} note={<button type="button" className="link" onClick={() => live.closeAgent()}>close</button>}>
      {agent.gone ? (
        <p className="text-faint">It is not there at this step: removed, or not yet born.</p>
      ) : (
        <dl className="grid grid-cols-[auto_1fr_auto_1fr] gap-x-3 gap-y-0.5" data-testid="agent">
          {kind.machines.map((machine, m) => {
            const { state, due } = agent.states[m]!;
            return <Item key={machine.name} name={machine.name} value={`${machine.states[state]}${due === undefined ? '' : `, ${shownNumber(due)} ${plan.clock.unitLabel} left`}`} wide />;
          })}
          {kind.columns.map((column, c) => {
            const value = agent.attributes[c]!;
            const text = column.options ? column.options[value]! : column.type === 'yes or no' ? (value ? 'yes' : 'no') : `${shownNumber(value / column.unitFactor)} ${column.unitLabel}`;
            return <Item key={column.name} name={column.name} value={text} />;
          })}
          {plan.space && (
            <>
              <Item name="place" value={`${shownNumber(agent.x)}, ${shownNumber(agent.y)} ${unit}`} />
              <Item name="direction" value={`${shownNumber(agent.direction)} deg`} />
            </>
          )}
        </dl>
      )}
    </Card>
  );
}

function Item({ name, value, wide = false }: { readonly name: string; readonly value: string; readonly wide?: boolean }) {
  return (
    <>
      <dt className="text-faint">{name}</dt>
      <dd className={wide ? 'col-span-3 font-semibold' : ''}>{value}</dd>
    </>
  );
}
