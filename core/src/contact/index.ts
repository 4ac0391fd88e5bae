export { type Contact, contactsOf } from './joint.ts';
export { type Overlap, overlapOf, type PlacedSolid } from './overlaps.ts';
export { type ScrewContact, screwContactOf } from './set-screws.ts';
export { type Meant, type Measure, measure, type Picked } from './measure.ts';
