import { useEffect, useRef, useState } from 'react';
import { shownNumber } from '../../words/numbers.ts';
import { colourOf } from '@vole/core';
import { live, useLive } from '../../simulation/live-handle.ts';
import type { NetworkDraft } from '../../simulation/protocol.ts';
import { useAppSelector } from '../../store/store.ts';
import { Bars } from '../../charts/Bars.tsx';

/** Each network of the model as it is made at the start of a run, before any step: drawn and measured. */
export function NetworksPanel() {
  const plan = useLive((state) => state.plan);
  const draft = useLive((state) => state.draft);
  const seed = useLive((state) => state.seed);
  const [chosen, setChosen] = useState('');
  const [luck, setLuck] = useState<number>();
  const networks = plan?.networks.filter(({ riding }) => !riding) ?? [];
  const at = Math.max(
    0,
    networks.findIndex(({ name }) => name === chosen),
  );
  const network = networks[at];
  const wanted = luck ?? seed;
  useEffect(() => {
    if (network) live.draftNetwork(at, wanted);
  }, [network, at, wanted]);
  if (!plan || !network)
    return (
      <p className="text-faint">
        This model has no network. “network Kin ties Vole to Vole: ring, 4 neighbours” makes one.
      </p>
    );
  const shown = draft?.network === at && draft.seed === wanted ? draft : undefined;
  return (
    <div>
      <p className="flex flex-wrap items-baseline gap-x-4">
        <select
          aria-label="Network"
          className="word"
          value={network.name}
          onChange={(event) => setChosen(event.target.value)}
        >
          {networks.map(({ name }) => (
            <option key={name}>{name}</option>
          ))}
        </select>
        <span>as seed {wanted} makes it</span>
        <button type="button" className="link" onClick={() => setLuck(wanted + 1)}>
          draw it anew
        </button>
      </p>
      {shown && <Facts draft={shown} from={plan.kinds[network.from]!.name} to={plan.kinds[network.to]!.name} />}
    </div>
  );
}

function Facts({ draft, from, to }: { readonly draft: NetworkDraft; readonly from: string; readonly to: string }) {
  const { degrees, ties, components, largest, clustering, pathLength, x } = draft;
  const number = (value: number): string =>
    Number.isFinite(value) ? shownNumber(Number(value.toPrecision(3))) : 'none';
  const facts: readonly (readonly [string, string])[] = [
    [from === to ? from : `${from} and ${to}`, shownNumber(degrees.length)],
    ['ties', shownNumber(ties)],
    ['components', shownNumber(components)],
    ['in the largest', `${shownNumber(largest)} (${((100 * largest) / Math.max(1, degrees.length)).toFixed(0)} %)`],
    ['clustering', number(clustering)],
    ['mean path', `${number(pathLength)} ties`],
  ];
  return (
    <>
      <div className="mt-1.5 flex flex-wrap items-start gap-x-5">
        <dl className="grid grid-cols-[auto_auto] gap-x-2.5" data-testid="network-facts">
          {facts.map(([name, value]) => (
            <div key={name} className="contents">
              <dt className="text-faint">{name}</dt>
              <dd className="font-semibold">{value}</dd>
            </div>
          ))}
        </dl>
        {x.length > 0 ? (
          <Drawing draft={draft} />
        ) : (
          <p className="max-w-48 text-faint">Too many to be drawn apart; the measures are of all of them.</p>
        )}
      </div>
      <Bars title="Ties of an agent" values={Array.from(degrees)} unit="ties" />
    </>
  );
}

const SIDE = 230;
const EDGE = 10;

/** Agents as dots, larger with more ties. */
function Drawing({ draft }: { readonly draft: NetworkDraft }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useAppSelector((state) => state.interface.theme);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    const { x, y, ends, degrees } = draft;
    const [left, right] = [x.reduce((a, b) => Math.min(a, b), 1), x.reduce((a, b) => Math.max(a, b), 0)];
    const [low, high] = [y.reduce((a, b) => Math.min(a, b), 1), y.reduce((a, b) => Math.max(a, b), 0)];
    const scale = (SIDE - 2 * EDGE) / Math.max(right - left, high - low, 1e-6);
    const place = (i: number): readonly [number, number] => [
      EDGE + (x[i]! - left) * scale,
      EDGE + (y[i]! - low) * scale,
    ];
    context.clearRect(0, 0, SIDE, SIDE);
    context.strokeStyle = colourOf('stone', theme);
    context.globalAlpha = Math.max(0.12, Math.min(0.7, 120 / Math.sqrt(ends.length + 1) / 10));
    context.beginPath();
    for (let i = 0; i < ends.length; i += 2) {
      context.moveTo(...place(ends[i]!));
      context.lineTo(...place(ends[i + 1]!));
    }
    context.stroke();
    context.globalAlpha = 1;
    context.fillStyle = colourOf('russet', theme);
    const dot = Math.max(0.7, Math.min(3, 40 / Math.sqrt(x.length)));
    for (let i = 0; i < x.length; i++) {
      context.beginPath();
      context.arc(...place(i), dot * Math.sqrt(0.5 + degrees[i]! / 6), 0, 2 * Math.PI);
      context.fill();
    }
  }, [draft, theme]);
  return (
    <canvas
      ref={canvas}
      width={SIDE}
      height={SIDE}
      role="img"
      aria-label="The network drawn: agents as dots, ties as lines"
      className="max-w-full"
    />
  );
}
