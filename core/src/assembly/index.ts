export * from './checks.ts';
export * from './join.ts';
export * from './locate.ts';
