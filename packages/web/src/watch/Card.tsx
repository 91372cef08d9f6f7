import type { KeyboardEvent, PointerEvent, ReactNode } from 'react';
import { useRef } from 'react';
import { interfaceActions } from '../store/interface-slice.ts';
import { ownValue } from '../store/own-value.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import type { CardPlace, Room } from '../store/card-place.ts';
import { keptInRoom, movedByKey } from '../store/card-place.ts';

/** A pointer that goes less far than this has clicked. */
const CLICK_REACH = 4;

interface Props {
  readonly title: string;
  /** Under which it is remembered, where the title changes. */
  readonly name?: string;
  readonly note?: ReactNode;
  readonly begins?: 'folded';
  readonly width: number;
  readonly children: ReactNode;
}

/** A card over the space: stands in a column until it is dragged by its heading, and folds by a click on it. */
export function Card({ title, name = title, note, begins, width, children }: Props) {
  const dispatch = useAppDispatch();
  const { folded = begins === 'folded', place } =
    useAppSelector((state) => ownValue(state.interface.cards, name)) ?? {};
  const card = useRef<HTMLElement>(null);
  const hold = useRef<{ readonly x: number; readonly y: number; readonly from: CardPlace; moved: boolean }>(undefined);

  const move = (to: CardPlace | undefined): void => void dispatch(interfaceActions.cardMoved({ name, place: to }));
  const take = (event: PointerEvent<HTMLElement>): void => {
    const pressed = (event.target as HTMLElement).closest('button, a, input, select');
    hold.current = undefined;
    if (event.button !== 0 || (pressed && !pressed.hasAttribute('aria-expanded'))) return;
    hold.current = { x: event.clientX, y: event.clientY, from: placeIn(card.current!), moved: false };
  };
  const drag = (event: PointerEvent<HTMLElement>): void => {
    const held = hold.current;
    if (!held || event.buttons !== 1) return;
    const [dx, dy] = [event.clientX - held.x, event.clientY - held.y];
    if (!held.moved && Math.hypot(dx, dy) < CLICK_REACH) return;
    if (!held.moved) event.currentTarget.setPointerCapture(event.pointerId);
    held.moved = true;
    move(keptInRoom({ x: held.from.x + dx, y: held.from.y + dy }, roomOf(card.current!)));
  };
  const press = (event: KeyboardEvent): void => {
    if (event.key === 'Home') move(undefined);
    else {
      const to = event.shiftKey ? movedByKey(event.key, placeIn(card.current!), roomOf(card.current!)) : undefined;
      if (!to) return;
      move(to);
    }
    event.preventDefault();
  };
  return (
    <section
      ref={card}
      aria-label={title}
      className={`card pointer-events-auto shrink-0 px-3.5 py-2.5 ${place ? 'absolute z-10 overflow-auto' : ''}`}
      style={
        place
          ? {
              left: `min(${place.x}px, 100% - 120px)`,
              top: `min(${place.y}px, 100% - 36px)`,
              width,
              maxHeight: `calc(100% - ${place.y}px)`,
            }
          : undefined
      }
    >
      <h2
        className="flex cursor-grab touch-none items-baseline justify-between gap-3 active:cursor-grabbing"
        onPointerDown={take}
        onPointerMove={drag}
      >
        <button
          type="button"
          className="max-w-3/4 shrink-0 cursor-[inherit] text-left font-title text-[15.5px] font-semibold"
          aria-expanded={!folded}
          title="A click folds, dragging moves; Shift and arrows move it too, Home puts it back"
          onClick={({ detail }) => {
            const byKey = detail === 0;
            if (byKey || !hold.current?.moved) dispatch(interfaceActions.cardFolded({ name, folded: !folded }));
          }}
          onKeyDown={press}
        >
          {title}
        </button>
        <span className="truncate font-body text-sm font-normal text-faint">{folded ? 'folded' : note}</span>
      </h2>
      {!folded && <div className="mt-1.5">{children}</div>}
    </section>
  );
}

function roomOf(card: HTMLElement): Room {
  const { clientWidth, clientHeight } = card.offsetParent ?? document.documentElement;
  return { width: clientWidth, height: clientHeight };
}

function placeIn(card: HTMLElement): CardPlace {
  const [own, room] = [
    card.getBoundingClientRect(),
    (card.offsetParent ?? document.documentElement).getBoundingClientRect(),
  ];
  return { x: own.left - room.left, y: own.top - room.top };
}
