import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export interface Progress {
  share: number;
  stage: string;
  secondsLeft: number | null;
}

/** How far work under way has come, by the id of the recording or item. */
export const progressSlice = createSlice({
  name: 'progress',
  initialState: {} as Record<string, Progress>,
  reducers: {
    advanced: (state, { payload: { id, ...progress } }: PayloadAction<Progress & { id: string }>) => {
      state[id] = progress;
    },
    settled: (state, { payload: id }: PayloadAction<string>) => {
      delete state[id];
    },
  },
});
