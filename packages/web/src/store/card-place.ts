/** Places of cards over the space: of the upper left corner, in pixels from that of the room for cards. */
export interface CardPlace {
  readonly x: number;
  readonly y: number;
}

export interface Room {
  readonly width: number;
  readonly height: number;
}

/** So much of a card stays in the room, so that it can always be taken hold of again. */
const KEPT_WIDTH = 120;
const KEPT_HEIGHT = 36;
/** How far a key moves a card. */
const KEY_STEP = 24;

export function keptInRoom({ x, y }: CardPlace, room: Room): CardPlace {
  return {
    x: Math.max(0, Math.min(Math.round(x), room.width - KEPT_WIDTH)),
    y: Math.max(0, Math.min(Math.round(y), room.height - KEPT_HEIGHT)),
  };
}

/** Where an arrow key moves a card to; nothing for other keys. */
export function movedByKey(key: string, { x, y }: CardPlace, room: Room): CardPlace | undefined {
  const ways: Record<string, readonly [number, number]> = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, -1],
    ArrowDown: [0, 1],
  };
  const way = ways[key];
  return way && keptInRoom({ x: x + way[0] * KEY_STEP, y: y + way[1] * KEY_STEP }, room);
}

export interface CardState {
  readonly folded?: boolean;
  /** Absent while it stands in its column. */
  readonly place?: CardPlace;
}

/** Reads what was stored of the cards; what is no place or fold is left out. */
export function readCards(stored: string | null): Record<string, CardState> {
  let found: unknown;
  try {
    found = JSON.parse(stored ?? '{}');
  } catch {
    return {};
  }
  if (typeof found !== 'object' || found === null) return {};
  const cards: Record<string, CardState> = {};
  for (const [name, card] of Object.entries(
    found as Record<string, { folded?: unknown; place?: { x?: unknown; y?: unknown } } | null>,
  )) {
    const { x, y } = card?.place ?? {};
    cards[name] = {
      ...(typeof card?.folded === 'boolean' && { folded: card.folded }),
      ...(Number.isFinite(x) && Number.isFinite(y) && { place: { x: x as number, y: y as number } }),
    };
  }
  return cards;
}
