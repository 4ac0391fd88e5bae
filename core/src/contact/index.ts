export { type Contact, contactsOf } from './joint.ts';
export { type Overlap, overlapOf, type PlacedSolid } from './overlaps.ts';
