import type { PayloadAction } from '@reduxjs/toolkit';
import { createSlice } from '@reduxjs/toolkit';

export type Theme = 'paper' | 'dusk';

export interface Notice {
  readonly id: number;
  readonly text: string;
  readonly tone: 'plain' | 'problem';
  /** Id of a project that can be brought back from here. */
  readonly undoProject?: string;
}

export interface InterfaceState {
  readonly theme: Theme;
  readonly ribbonFolded: boolean;
  readonly searchOpen: boolean;
  readonly helpOpen: boolean;
  readonly notices: readonly Notice[];
  readonly nextNotice: number;
}

const storedTheme = (): Theme => {
  try {
    return localStorage.getItem('vole-theme') === 'dusk' ? 'dusk' : 'paper';
  } catch {
    return 'paper';
  }
};

export const interfaceSlice = createSlice({
  name: 'interface',
  initialState: (): InterfaceState => ({ theme: storedTheme(), ribbonFolded: false, searchOpen: false, helpOpen: false, notices: [], nextNotice: 1 }),
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
    noticed: (state, { payload }: PayloadAction<Omit<Notice, 'id'>>) => {
      state.notices = [...state.notices.slice(-2), { ...payload, id: state.nextNotice }];
      state.nextNotice++;
    },
    noticeClosed: (state, { payload }: PayloadAction<number>) => {
      state.notices = state.notices.filter((notice) => notice.id !== payload);
    },
  },
});

export const interfaceActions = interfaceSlice.actions;
