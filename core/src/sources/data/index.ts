export { componentOfSpec, makeOfSpec, modelKeyOf, summaryOfShape } from './data-component.ts';
