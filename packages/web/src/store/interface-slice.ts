import type { PayloadAction } from '@reduxjs/toolkit';
import type { Theme } from '@vole/core';
import { createSlice } from '@reduxjs/toolkit';
import type { BuildColumn, BuildWidths } from './build-widths.ts';
import { readWidths } from './build-widths.ts';
import type { CardPlace, CardState } from './card-place.ts';
import { readCards } from './card-place.ts';
import { ownValue } from './own-value.ts';
import type { PictureSize } from './picture-size.ts';
import { readSize } from './picture-size.ts';

export interface Notice {
  readonly id: number;
  readonly text: string;
  readonly tone: 'plain' | 'problem';
  /** Id of a project that can be brought back from here. */
  readonly undoProject?: string;
}

/** A place in the manual. */
export interface ManualPlace {
  /** As `page#heading`. */
  readonly section: string;
  /** A word of the language that is sought in it. */
  readonly word?: string;
}

/** Where the manual begins. */
export const MANUAL_BEGINNING: ManualPlace = { section: 'tour#a-tour-of-ten-minutes' };

export interface InterfaceState {
  readonly theme: Theme;
  readonly ribbonFolded: boolean;
  readonly searchOpen: boolean;
  readonly helpOpen: boolean;
  /** What the manual shows, while it is open. */
  readonly manual: ManualPlace | undefined;
  readonly notices: readonly Notice[];
  readonly nextNotice: number;
  /** Cards over the space that were moved or folded, by their names. */
  readonly cards: Readonly<Record<string, CardState>>;
  /** Whether the cards lie over the space rather than at its sides. */
  readonly cardsOver: boolean;
  /** Widths of the parts of Build that were changed. */
  readonly buildWidths: BuildWidths;
  /** How large figures are saved. */
  readonly pictureSize: PictureSize;
}

const THEME_KEY = 'vole-theme';
const CARDS_KEY = 'vole-cards';
const OVER_KEY = 'vole-cards-over';
const WIDTHS_KEY = 'vole-build-widths';
const SIZE_KEY = 'vole-picture-size';

function stored(key: string): string | null {
  try {
    return localStorage.getItem(key);
  } catch {
    return null;
  }
}

/** Keeps how the page looks for the next visit. A browser that stores nothing still shows it. */
export function storeLooks({ theme, cards, cardsOver, buildWidths, pictureSize }: InterfaceState): void {
  try {
    localStorage.setItem(THEME_KEY, theme);
    localStorage.setItem(CARDS_KEY, JSON.stringify(cards));
    localStorage.setItem(OVER_KEY, String(cardsOver));
    localStorage.setItem(WIDTHS_KEY, JSON.stringify(buildWidths));
    localStorage.setItem(SIZE_KEY, JSON.stringify(pictureSize));
  } catch {
    return;
  }
}

function standingAgain(card: CardState | undefined): CardState {
  return card?.folded === undefined ? {} : { folded: card.folded };
}

export const interfaceSlice = createSlice({
  name: 'interface',
  initialState: (): InterfaceState => ({
    theme: stored(THEME_KEY) === 'dusk' ? 'dusk' : 'paper',
    cards: readCards(stored(CARDS_KEY)),
    cardsOver: stored(OVER_KEY) === 'true',
    buildWidths: readWidths(stored(WIDTHS_KEY)),
    pictureSize: readSize(stored(SIZE_KEY)),
    ribbonFolded: false,
    searchOpen: false,
    helpOpen: false,
    manual: undefined,
    notices: [],
    nextNotice: 1,
  }),
  reducers: {
    themeChosen: (state, { payload }: PayloadAction<Theme>) => {
      state.theme = payload;
    },
    ribbonFolded: (state, { payload }: PayloadAction<boolean>) => {
      state.ribbonFolded = payload;
    },
    searchOpened: (state, { payload }: PayloadAction<boolean>) => {
      state.searchOpen = payload;
    },
    helpOpened: (state, { payload }: PayloadAction<boolean>) => {
      state.helpOpen = payload;
    },
    manualOpened: (state, { payload }: PayloadAction<ManualPlace>) => {
      state.manual = payload;
    },
    manualClosed: (state) => {
      state.manual = undefined;
    },
    noticed: (state, { payload }: PayloadAction<Omit<Notice, 'id'>>) => {
      state.notices = [...state.notices.slice(-2), { ...payload, id: state.nextNotice }];
      state.nextNotice++;
    },
    cardMoved: (state, { payload: { name, place } }: PayloadAction<{ name: string; place: CardPlace | undefined }>) => {
      const standing = standingAgain(ownValue(state.cards, name));
      state.cards = { ...state.cards, [name]: place ? { ...standing, place } : standing };
    },
    cardFolded: (state, { payload: { name, folded } }: PayloadAction<{ name: string; folded: boolean }>) => {
      state.cards = { ...state.cards, [name]: { ...ownValue(state.cards, name), folded } };
    },
    buildWidthSet: (
      state,
      { payload: { column, width } }: PayloadAction<{ column: BuildColumn; width: number | undefined }>,
    ) => {
      state.buildWidths = { ...state.buildWidths, [column]: width };
    },
    pictureSizeSet: (state, { payload }: PayloadAction<PictureSize>) => {
      state.pictureSize = payload;
    },
    cardsOver: (state, { payload }: PayloadAction<boolean>) => {
      state.cardsOver = payload;
    },
    cardsPutBack: (state) => {
      state.cards = Object.fromEntries(Object.entries(state.cards).map(([name, card]) => [name, standingAgain(card)]));
    },
    noticeClosed: (state, { payload }: PayloadAction<number>) => {
      state.notices = state.notices.filter((notice) => notice.id !== payload);
    },
  },
});

export const interfaceActions = interfaceSlice.actions;
