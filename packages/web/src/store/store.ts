import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { interfaceSlice } from './interface-slice.ts';
import { modelSlice } from './model-slice.ts';
import { observedSlice } from './observed-slice.ts';
import { projectSlice } from './project-slice.ts';
import { studySlice } from './study-slice.ts';
import { watchSlice } from './watch-slice.ts';

export const store = configureStore({
  reducer: {
    project: projectSlice.reducer,
    model: modelSlice.reducer,
    watch: watchSlice.reducer,
    interface: interfaceSlice.reducer,
    studies: studySlice.reducer,
    observed: observedSlice.reducer,
  },
});

export type RootState = ReturnType<typeof store.getState>;
export type AppDispatch = typeof store.dispatch;
export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
