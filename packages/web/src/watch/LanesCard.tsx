import { Suspense } from 'react';
import { useShownSpace } from '../drawing/shown-space.ts';
import { askedPart } from '../session/asked-part.tsx';
import { useLive } from '../simulation/live-handle.ts';
import { Card } from './Card.tsx';
import type { Tool } from './HandCard.tsx';

const MapTools = askedPart('What is told of lanes', () => import('./MapTools.tsx').then((part) => part.MapTools));

interface Props {
  readonly width: number;
  readonly tool: Tool;
  readonly onTool: (tool: Tool) => void;
}

/** What was found in the map of the space on show, and the lines on it. Most models have none. */
export function LanesCard({ width, tool, onTool }: Props) {
  const shown = useShownSpace();
  const space = useLive((state) => state.plan)?.spaces[shown];
  if (!space?.lanes) return null;
  return (
    <Card title="Lanes" width={width} note={space.name}>
      <Suspense fallback={null}>
        <MapTools lanes={space.lanes} tool={tool} onTool={onTool} />
      </Suspense>
    </Card>
  );
}
