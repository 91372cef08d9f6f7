import type { HandAct, Plan } from '@vole/core';
import { addToModel, stepWords, writeZone } from '@vole/core';
import { useEffect, useState } from 'react';
import { live, useLive } from '../simulation/live-handle.ts';
import { useShownSpace } from '../drawing/shown-space.ts';
import { addWhileRunning } from '../session/session.ts';
import { store } from '../store/store.ts';
import { actWords, orderLineName } from '../simulation/act-words.ts';

/** What a click or a drag on the space does. */
export type Tool =
  | { readonly is: 'open' }
  | { readonly is: 'paint'; readonly zone: number; readonly inside: boolean }
  | { readonly is: 'place'; readonly kind: number }
  | { readonly is: 'move' | 'remove' }
  | { readonly is: 'send'; readonly message: number }
  | { readonly is: 'become'; readonly kind: number; readonly machine: number; readonly state: number }
  | LineTool;

/** What a click does to a line of the text; the first stop of one that is begun is kept until there is a second. */
export interface LineTool {
  readonly is: 'line';
  readonly does: 'adds a stop to' | 'moves a stop of' | 'takes a stop out of' | 'begins';
  readonly line: string;
  readonly first?: string;
}

export const OPENING: Tool = { is: 'open' };

/** The tools that this model gives a use to, each with its words after “A click”. */
function toolsOf(plan: Plan, shown: number): { words: string; tool: Tool }[] {
  return [
    { words: 'opens an agent', tool: OPENING },
    ...plan.zones.flatMap((zone, z) =>
      zone.space !== shown
        ? []
        : [
            { words: `and drag paint ${zone.name}`, tool: { is: 'paint', zone: z, inside: true } as const },
            { words: `and drag clear ${zone.name}`, tool: { is: 'paint', zone: z, inside: false } as const },
          ],
    ),
    ...plan.kinds.flatMap((kind, k) =>
      kind.space === shown && kind.starts.length > 0
        ? [{ words: `places a ${kind.name}`, tool: { is: 'place', kind: k } as const }]
        : [],
    ),
    ...(plan.spaces.length > 0 ? [{ words: 'moves the opened agent here', tool: { is: 'move' } as const }] : []),
    { words: 'removes an agent', tool: { is: 'remove' } },
    ...plan.messages.map((message, m) => ({
      words: `sends ${message.name} to an agent`,
      tool: { is: 'send', message: m } as const,
    })),
    ...plan.kinds.flatMap((kind, k) =>
      kind.machines.flatMap((machine, m) =>
        machine.states.map((state, s) => ({
          words: `makes a ${kind.name} ${state}`,
          tool: { is: 'become', kind: k, machine: m, state: s } as const,
        })),
      ),
    ),
  ];
}

/** The act of a click with a tool, if it makes one there. */
export function actOf(
  tool: Tool,
  agent: { readonly kind: number; readonly number: number } | undefined,
  place: { readonly x: number; readonly y: number },
  shown: number,
): HandAct | undefined {
  switch (tool.is) {
    case 'place':
      return { is: 'place', kind: tool.kind, ...place };
    case 'move': {
      const opened = live.current.frame?.agent;
      return opened && !opened.gone && live.current.plan!.kinds[opened.kind]!.space === shown
        ? { is: 'move', kind: opened.kind, number: opened.number, ...place }
        : undefined;
    }
    case 'remove':
      return agent && { is: 'remove', kind: agent.kind, number: agent.number };
    case 'send':
      return agent && { is: 'send', kind: agent.kind, number: agent.number, message: tool.message };
    case 'become':
      return agent?.kind === tool.kind
        ? { is: 'set state', kind: agent.kind, number: agent.number, machine: tool.machine, state: tool.state }
        : undefined;
    default:
      return undefined;
  }
}

interface Props {
  readonly tool: Tool;
  readonly onTool: (tool: Tool) => void;
  readonly brush: number;
  readonly onBrush: (radius: number) => void;
}

/** One sentence that says what a click does, and the list of what was done. */
export function HandCard({ tool, onTool, brush, onBrush }: Props) {
  const plan = useLive((state) => state.plan);
  const acts = useLive((state) => state.acts);
  const shown = useShownSpace();
  const [wanted, setWanted] = useState<string>();
  const added = wanted === undefined ? -1 : (plan?.zones.findIndex(({ name }) => name === wanted) ?? -1);
  // The wall that was added to the text is what the hand paints, as soon as the run knows it.
  useEffect(() => {
    if (added < 0) return;
    setWanted(undefined);
    onTool({ is: 'paint', zone: added, inside: true });
  }, [added, onTool]);
  if (!plan) return null;
  const space = plan.spaces[shown];
  const painted = [...new Set(acts.flatMap(({ act }) => (act.is === 'paint' ? [act.zone] : [])))];
  const tools = [
    ...toolsOf(plan, shown),
    ...(tool.is === 'line' ? [{ words: `${tool.does} ${tool.line}`, tool }] : []),
  ];
  const chosen = tools.findIndex((other) => JSON.stringify(other.tool) === JSON.stringify(tool));
  return (
    <div>
      <p>
        A click{' '}
        <select
          aria-label="What a click does"
          className="word"
          value={Math.max(0, chosen)}
          onChange={(event) => onTool(tools[Number(event.target.value)]!.tool)}
        >
          {tools.map(({ words }, i) => (
            <option key={words} value={i}>
              {words}
            </option>
          ))}
        </select>
        {tool.is === 'paint' && (
          <label>
            {' '}
            with a brush of{' '}
            <input
              type="number"
              min={0}
              step="any"
              className="word w-16"
              value={brush}
              onChange={(event) => onBrush(Math.max(0, Number(event.target.value)))}
            />{' '}
            {space?.cellLength === undefined ? space?.unitLabel : 'cells'}
          </label>
        )}
      </p>
      {space && space.form !== 'map' && !plan.zones.some((zone) => zone.obstacle && zone.space === shown) && (
        <button type="button" className="link mt-1" onClick={() => setWanted(addWall(space.name))}>
          add a wall to paint
        </button>
      )}
      {acts.length > 0 && (
        <>
          <ol aria-label="Done by hand" className="mt-2 max-h-32 overflow-auto">
            {acts.map((note, i) => (
              <li key={i} className="flex items-baseline justify-between gap-2">
                <span className="min-w-0 truncate">
                  <span className="text-faint">{stepWords(plan, note.step)}</span> {actWords(plan, note)}
                </span>
                <button
                  type="button"
                  className="link text-sm whitespace-nowrap"
                  aria-label={`Take back: ${actWords(plan, note)}`}
                  onClick={() => live.forgetAct(i)}
                >
                  take back
                </button>
              </li>
            ))}
          </ol>
          <p className="mt-1 flex flex-wrap gap-x-4">
            <button type="button" className="link" onClick={() => live.runAgain()}>
              run again with these acts
            </button>
            {painted.map((zone) => (
              <button key={zone} type="button" className="link" onClick={() => writePainted(plan, zone)}>
                write {plan.zones[zone]!.name} into the text
              </button>
            ))}
          </p>
        </>
      )}
    </div>
  );
}

/** Adds an empty obstacle to the text; the run goes on with it. Gives its name. */
function addWall(space: string): string {
  const { text } = store.getState().project;
  let name = 'Wall';
  for (let i = 2; new RegExp(`\\b${name}\\b`, 'i').test(text); i++) name = `Wall_${i}`;
  addWhileRunning(addToModel(text, { parts: [`obstacle ${name} on ${space}   "painted by hand"`] }));
  return name;
}

/** Writes a zone into the text as it was painted; the run goes on with it. */
function writePainted(plan: Plan, index: number): void {
  const painted = live.current.zones[index];
  if (painted)
    addWhileRunning(
      writeZone(
        store.getState().project.text,
        plan,
        index,
        painted,
        live.current.frame!.spaces[plan.zones[index]!.space]!,
      ),
    );
}

/** The lines of the order, each of which can be switched off while the run goes on. */
export function RuleSwitches() {
  const plan = useLive((state) => state.plan);
  const frame = useLive((state) => state.frame);
  if (!plan || !frame) return null;
  return (
    <ul>
      {plan.schedule.map((entry, i) => {
        const on = !frame.off.includes(i);
        return (
          <li key={i}>
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                className="accent-moss"
                checked={on}
                onChange={() => live.act({ is: 'switch', line: i, on: !on })}
              />
              <span className={on ? '' : 'text-faint line-through'}>{orderLineName(plan, i)}</span>
              <span className="ml-auto text-sm text-faint">{entry.is === 'rules' ? entry.mode : ''}</span>
            </label>
          </li>
        );
      })}
    </ul>
  );
}
