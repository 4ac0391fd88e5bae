export * from './length.ts';
