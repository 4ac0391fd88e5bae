export { ENTRY_FORM, entryOf, type ShelfEntry } from './entry.ts';
export { ANYTHING, choicesOf, type Facet, FACETS, findOnShelf, type Found, type NumberRange, type ShelfQuery } from './search.ts';
export { readQuery, type QueryFault } from './read-query.ts';
export { contentOf, type RecordsById, type Standing, standingOf } from './content.ts';
export { type Bringing, bringOver, CLASH_CHOICES, type ClashChoice, planBringing, selectionOf, shelved, takeOver, withParts } from './bring-over.ts';
export { merge, MERGE_CHOICES, MERGE_STATES, type MergeChoice, type MergeState, type Merging, planMerge, USUAL_CHOICE, withoutLostSets } from './merge.ts';
export { blobsNeededBy, isShelfFile, readShelfFile, SHELF_FILE_VERSION, type ShelfContent, writeShelfFile } from './shelf-file.ts';
export { compareNames, inNameOrder } from './name-order.ts';
export { valuesIn, writeShelfTable } from './shelf-table.ts';
