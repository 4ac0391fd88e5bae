export * from './clip.ts';
