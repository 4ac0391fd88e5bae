export { componentFromFile, workOf } from './source-file.ts';
