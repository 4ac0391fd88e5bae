export {
  cornerDimension,
  type Designation,
  type DesignationStandard,
  insertEdgeLength,
  isInsertCode,
  LONG_SHAPES,
  readDesignation,
} from './read-designation.ts';
export { factsOfDesignation } from './facts.ts';
export type { DesignationField } from './scan.ts';
export { CLEARANCES, FIXINGS, HOLDER_STYLES, INSCRIBED_CIRCLES, INSERT_SHAPES, TOOL_LENGTHS } from './tables.ts';
