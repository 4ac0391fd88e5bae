export * from './connections.ts';
