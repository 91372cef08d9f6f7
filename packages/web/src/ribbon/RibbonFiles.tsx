import type { Cell } from '@vole/core';
import { timeOf, heading } from '@vole/core';
import { TakeFiles } from '../files/TakeFiles.tsx';
import { TakenOf } from '../files/taken-of.ts';
import { useLiveProvenance } from '../files/use-live-provenance.ts';
import { live, useLive } from '../simulation/live-handle.ts';

/** The composition of the run on show as files: the ribbon as it is drawn, and who there was at each step. */
export function RibbonFiles() {
  const plan = useLive((state) => state.plan);
  const names = useLive((state) => state.layerNames);
  const of = useLiveProvenance();
  if (!plan) return null;
  return (
    <TakenOf value={of}>
      <TakeFiles
        title={`${plan.title}, who there was`}
        note={`from the foot upwards: ${names.join(', ')}`}
        hasFigure
        table={composition}
      />
    </TakenOf>
  );
}

/** A row a step, up to the furthest that the run has reached. */
function composition(): Cell[][] {
  const { plan, layers, layerNames } = live.current;
  const width = layerNames.length;
  return [
    ['step', heading('time', plan?.clock.unitLabel ?? ''), ...layerNames],
    ...Array.from({ length: width > 0 ? layers.length / width : 0 }, (_, step): Cell[] => [
      step,
      plan ? timeOf(plan, step) : step,
      ...layers.subarray(step * width, (step + 1) * width),
    ]),
  ];
}
