import type { Carried } from '#core/carrier';
import type { BodyRef } from '../events.ts';

/** What a body on a carrier is called in messages: names of bodies in vendors' files say little by themselves. */
export const nameOf = ({ component, body, piece }: Carried): string => (piece === '' || component === body ? component : `${component}, ${body}`);

/** Which body of the set-up it is; a disc is none. */
export const refOf = ({ placeId, piece, bodyId }: Carried): BodyRef | undefined => (piece === '' ? undefined : { placeId, piece, id: bodyId });
