export * from './profile.ts';
export * from './section.ts';
