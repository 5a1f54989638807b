import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** Long lists of which not all rows are here yet, by the id of what they belong to. */
export const arrivingSlice = createSlice({
  name: 'arriving',
  initialState: {} as Record<string, true>,
  reducers: {
    begun: (state, { payload: id }: PayloadAction<string>) => {
      state[id] = true;
    },
    ended: (state, { payload: id }: PayloadAction<string>) => {
      delete state[id];
    },
  },
});
