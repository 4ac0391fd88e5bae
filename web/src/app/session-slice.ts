import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { LengthUnit } from '#core/units';

/** What belongs to this tab and not to a record: shown unit, what was open last, what could not be saved. */
export interface SessionState {
  readonly unit: LengthUnit;
  readonly lastComponent: string | null;
  readonly lastAssembly: string | null;
  readonly lastOutline: string | null;
  readonly lastSetUp: string | null;
  readonly lastTrial: string | null;
  readonly saveFault: string | null;
  /** Records that are on their way to the storage, where these are so many that it takes a while; else 0. */
  readonly unwritten: number;
  /** Whether a newcomer is still told where to begin. */
  readonly isNew: boolean;
}

const initialState: SessionState = {
  unit: 'mm',
  lastComponent: null,
  lastAssembly: null,
  lastOutline: null,
  lastSetUp: null,
  lastTrial: null,
  saveFault: null,
  unwritten: 0,
  isNew: false,
};

export const sessionSlice = createSlice({
  name: 'session',
  initialState,
  reducers: {
    unitChosen: (state, { payload }: PayloadAction<LengthUnit>) => ({ ...state, unit: payload }),
    componentOpened: (state, { payload }: PayloadAction<string>) => ({ ...state, lastComponent: payload }),
    assemblyOpened: (state, { payload }: PayloadAction<string>) => ({ ...state, lastAssembly: payload }),
    setUpOpened: (state, { payload }: PayloadAction<string>) => ({ ...state, lastSetUp: payload }),
    trialOpened: (state, { payload }: PayloadAction<string>) => ({ ...state, lastTrial: payload }),
    outlineOpened: (state, { payload }: PayloadAction<string>) => ({ ...state, lastOutline: payload }),
    newcomerCame: (state) => ({ ...state, isNew: true }),
    newcomerBegan: (state) => ({ ...state, isNew: false }),
    saveFaultChanged: (state, { payload }: PayloadAction<string | null>) => ({ ...state, saveFault: payload }),
    unwrittenChanged: (state, { payload }: PayloadAction<number>) => ({ ...state, unwritten: payload }),
    sessionRestored: (state, { payload }: PayloadAction<Partial<SessionState>>) => ({ ...state, ...payload, saveFault: null }),
  },
});

export const {
  unitChosen,
  newcomerCame,
  newcomerBegan,
  componentOpened,
  assemblyOpened,
  outlineOpened,
  setUpOpened,
  trialOpened,
  saveFaultChanged,
  unwrittenChanged,
  sessionRestored,
} = sessionSlice.actions;
