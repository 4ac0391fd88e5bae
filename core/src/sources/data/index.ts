export { componentOfSpec, makeOfSpec } from './data-component.ts';
