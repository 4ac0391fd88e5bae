export * from './checks.ts';
export * from './join.ts';
