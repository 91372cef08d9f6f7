import { foundWords } from '../session/map-text.ts';
import { useLive } from '../simulation/live-handle.ts';
import { useShownSpace } from '../drawing/shown-space.ts';
import { Card } from './Card.tsx';

/** What was found in the map of the space on show. */
export function LanesCard({ width }: { readonly width: number }) {
  const shown = useShownSpace();
  const space = useLive((state) => state.plan)?.spaces[shown];
  if (!space?.lanes) return null;
  return (
    <Card title="Lanes" width={width} note={space.name}>
      <p className="text-faint">{foundWords(space.lanes)}</p>
    </Card>
  );
}
