export * from './bounds.ts';
export * from './finite.ts';
export * from './frame.ts';
export * from './hull.ts';
export * from './motion.ts';
export * from './tolerances.ts';
export * from './vec3.ts';
