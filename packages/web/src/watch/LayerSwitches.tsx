import { useContext } from 'react';
import { downloadText, fileName } from '../files/download.ts';
import { TakenOf } from '../files/taken-of.ts';
import { useTold } from '../files/use-told.ts';
import { live, useLive } from '../simulation/live-handle.ts';

/** Kinds, fields, zones, networks and lines, each of which can be taken out of the picture. */
export function LayerSwitches({
  hidden,
  onChange,
}: {
  readonly hidden: ReadonlySet<string>;
  readonly onChange: (hidden: ReadonlySet<string>) => void;
}) {
  const plan = useLive((state) => state.plan);
  const networks = plan?.networks.filter(({ riding }) => !riding);
  // A line that runs both ways, or by a timetable, is several in the plan.
  const names = new Set(
    [plan?.kinds, plan?.fields, plan?.zones, networks, plan?.lines].flatMap((parts) =>
      (parts ?? []).map((part) => part.name),
    ),
  );
  return (
    <ul>
      {[...names].map((name) => (
        <li key={name} className="flex justify-between">
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-moss"
              checked={!hidden.has(name)}
              onChange={() =>
                onChange(new Set(hidden.has(name) ? [...hidden].filter((other) => other !== name) : [...hidden, name]))
              }
            />
            {name}
          </label>
          <TakeLayer name={name} />
        </li>
      ))}
    </ul>
  );
}

/** A field or a network of the step on show as a file that other programs read. */
function TakeLayer({ name }: { readonly name: string }) {
  const plan = useLive((state) => state.plan);
  const about = useContext(TakenOf)?.lines ?? [];
  const told = useTold();
  const [field, network] = [plan?.fields, plan?.networks].map(
    (parts) => parts?.findIndex((part) => part.name === name) ?? -1,
  ) as [number, number];
  if (field < 0 && network < 0) return null;
  const what = field >= 0 ? 'field' : 'network';
  const take = async (): Promise<void> => {
    const step = `step ${live.current.frame?.step ?? 0}`;
    const text = await live.takeText({ what, index: field >= 0 ? field : network, about: [...about, step] });
    const type = what === 'field' ? 'text/plain' : 'application/xml';
    downloadText(fileName(`${name} ${step}`, what === 'field' ? 'asc' : 'graphml'), text, type);
  };
  return (
    <button
      type="button"
      className="link text-sm"
      title={what === 'field' ? 'Save the values of its cells, as models read them' : 'Save agents and ties'}
      onClick={() => void told(take)}
    >
      {what === 'field' ? 'raster' : 'GraphML'}
    </button>
  );
}
