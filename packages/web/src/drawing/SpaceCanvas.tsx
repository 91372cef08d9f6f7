import { useEffect, useRef } from 'react';
import { live } from '../simulation/live-handle.ts';
import type { LiveHandle } from '../simulation/live-handle.ts';
import { useAppSelector } from '../store/store.ts';
import { NO_INSETS } from './camera.ts';
import { SharedView } from './shared-view.ts';
import type { SpaceView, StageWishes } from './stage.ts';
import { NOTHING_HIDDEN, Stage } from './stage.ts';

interface Props extends Partial<Omit<StageWishes, 'space'>> {
  /** Given the control of the view once it is there. */
  readonly onReady?: (view: SpaceView) => void;
  readonly label: string;
  /** The run that is drawn; the one on show if absent. */
  readonly source?: LiveHandle;
  /** Shared by two runs side by side: they are seen alike. */
  readonly view?: SharedView;
}

/**
 * The space of the live run, drawn at every frame outside React; wheel zooms to the pointer, dragging pans, double click shows the whole.
 * While the picture is up to date, `data-step` tells the step that it shows.
 */
export function SpaceCanvas({
  insets = NO_INSETS,
  onPick,
  onPaint,
  onReady,
  hidden = NOTHING_HIDDEN,
  follows = false,
  label,
  source = live,
  view,
}: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useAppSelector((state) => state.interface.theme);
  const space = useAppSelector((state) => state.watch.space);
  const stageRef = useRef<Stage>(undefined);
  const ready = useRef(onReady);
  useEffect(() => {
    ready.current = onReady;
  });

  useEffect(() => {
    const element = canvas.current;
    if (!element) return undefined;
    const stage = new Stage(element, theme, source, view ?? new SharedView());
    stageRef.current = stage;
    ready.current?.(stage);
    return () => stage.close();
  }, [theme, source, view]);
  useEffect(
    () => stageRef.current?.use({ onPick, onPaint, hidden, follows, space, insets }),
    [theme, source, view, onPick, onPaint, hidden, follows, space, insets],
  );

  return (
    <canvas
      ref={canvas}
      tabIndex={0}
      role="img"
      aria-label={label}
      className={`block h-full w-full touch-none outline-offset-[-3px] ${onPaint ? 'cursor-crosshair' : 'cursor-grab active:cursor-grabbing'}`}
    />
  );
}
