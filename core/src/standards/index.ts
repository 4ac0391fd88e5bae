export * from './connections.ts';
export * from './connection-tables.ts';
export * from './designation.ts';
export * from './nominal-insert.ts';
