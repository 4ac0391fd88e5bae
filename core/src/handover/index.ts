export * from './pack.ts';
export * from './verify/verify.ts';
export * from './recipe.ts';
