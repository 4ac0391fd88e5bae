import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { z } from 'zod';
import { type Facet, FACETS } from '#core/shelf';

/** Which part of the Shelf is looked at: all of it, the master shelf, or a set by its id. */
export type ShelfPart = 'all' | 'master' | (string & {});

export const GROUPINGS = ['what it is', 'kind', 'mount', 'maker', 'set', 'state', 'nothing'] as const;
export type Grouping = (typeof GROUPINGS)[number];

/** What a list can be sorted by besides numbers of tools. */
export const SORTS = ['name', 'newest', 'changed'] as const;

/** A search that is kept by its name. */
export interface SavedSearch {
  readonly name: string;
  readonly text: string;
  readonly chosen: ShelfView['chosen'];
}

/** How the Shelf is looked at; kept in this browser, no part of any record. */
export interface ShelfView {
  readonly part: ShelfPart;
  readonly text: string;
  readonly chosen: Readonly<Partial<Record<Facet, readonly string[]>>>;
  readonly view: 'pictures' | 'table';
  readonly grouping: Grouping;
  /** One of SORTS, or a number by its ISO 13399 name. */
  readonly sort: string;
  readonly isDown: boolean;
  /** Columns of the table beside the name: words and numbers. */
  readonly columns: readonly string[];
  readonly saved: readonly SavedSearch[];
  readonly selected: readonly string[];
}

export const FIRST_VIEW: ShelfView = {
  part: 'all',
  text: '',
  chosen: {},
  view: 'pictures',
  grouping: 'what it is',
  sort: 'name',
  isDown: false,
  columns: ['kind', 'mount', 'DC', 'RE', 'OAL', 'state'],
  saved: [],
  selected: [],
};

const chosenSchema = z.partialRecord(z.enum(FACETS), z.array(z.string()));

/** What is kept of it in this browser: what was selected and typed was of the moment. */
export const keptViewSchema = z
  .object({
    part: z.string(),
    chosen: chosenSchema,
    view: z.enum(['pictures', 'table']),
    grouping: z.enum(GROUPINGS),
    sort: z.string(),
    isDown: z.boolean(),
    columns: z.array(z.string()),
    saved: z.array(z.object({ name: z.string(), text: z.string(), chosen: chosenSchema })),
  })
  .partial();

export const shelfSlice = createSlice({
  name: 'shelf',
  initialState: FIRST_VIEW,
  reducers: {
    viewChanged: (state, { payload }: PayloadAction<Partial<ShelfView>>) => ({ ...state, ...payload }),
    /** Another part begins with nothing selected. */
    partChosen: (state, { payload }: PayloadAction<ShelfPart>) => ({ ...state, part: payload, selected: [] }),
    choiceTurned: (state, { payload: { facet, choice } }: PayloadAction<{ facet: Facet; choice: string }>) => {
      const now = state.chosen[facet] ?? [];
      return { ...state, chosen: { ...state.chosen, [facet]: now.includes(choice) ? now.filter((c) => c !== choice) : [...now, choice] } };
    },
    searchCleared: (state) => ({ ...state, text: '', chosen: {} }),
    selectionChanged: (state, { payload }: PayloadAction<readonly string[]>) => ({ ...state, selected: payload }),
  },
});

export const { viewChanged, partChosen, choiceTurned, searchCleared, selectionChanged } = shelfSlice.actions;
