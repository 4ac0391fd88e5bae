export * from './flat.ts';
export * from './profile.ts';
export * from './section.ts';
export * from './fit-path.ts';
export * from './path.ts';
export * from './path-distance.ts';
export * from './edit-profile.ts';
export * from './drawing-files.ts';
