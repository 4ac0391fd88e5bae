export * from './pack.ts';
export * from './verify.ts';
export * from './recipe.ts';
