export * from './glb.ts';
export * from './inside.ts';
export * from './model.ts';
export * from './model-blob.ts';
export * from './move-mesh.ts';
export * from './stl.ts';
export * from './three-mf.ts';
export * from './tri-mesh.ts';
