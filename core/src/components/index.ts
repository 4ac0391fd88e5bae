export { VALUE_NAMES, type ValueDefinition, type ValueName, VALUES, type Values } from './values.ts';
export { type ComponentSpec, componentSpecSchema, looseSpecSchema, SPEC_KINDS, type SpecKind, valuesSchema } from './spec-schema.ts';
export type { Assumed, Conflict, Derived } from './filling.ts';
export type { MadePart, PlacedConnection, PlacedTip, Unmade } from './made-part.ts';
export { readWords, type ReadWords, type UnderstoodWord } from './words/read-words.ts';
export { type Made, makeComponent, sayUnmade } from './make-component.ts';
export {
  cellKey,
  COLUMN_USES,
  type ColumnUse,
  readTable,
  tableText,
  type ReadTable,
  type TableColumn,
  type TableError,
  type TableOptions,
  type TableTool,
} from './read-table.ts';
