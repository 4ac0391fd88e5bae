export * from './connections.ts';
export * from './connection-tables.ts';
export * from './designation/index.ts';
export * from './nominal-insert.ts';
export { colletSeat, connectionShape, type ConnectionShape } from './connection-shapes.ts';
export { CLEARANCE_HOLES, threadThrough } from './clearance-holes.ts';
