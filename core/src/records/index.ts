export * from './component.ts';
export * from './hash.ts';
export * from './migrate.ts';
export * from './schemas.ts';
export * from './package-file.ts';
