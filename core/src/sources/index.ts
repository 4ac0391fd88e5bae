export { type Archive, type ArchivedFile, type ArchivedKind, isArchive, modelInArchive, openArchive } from './archive.ts';
export { OpenSources } from './open-sources.ts';
export { componentFromFile, workOf } from './source-file.ts';
export * from './drawn/index.ts';
export * from './data/index.ts';
export { type PartSection, readPartSection } from './part-section.ts';
