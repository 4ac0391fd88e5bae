import { compose, frameFromWorld, type Motion, translation, worldFromFrame } from '#core/math';
import type { ComponentRecord, Connection, Place } from '#core/records';
import { checkFit, type ConnectionSize } from '#core/standards';

type Standing = Pick<ComponentRecord, 'mount' | 'feet'>;

/** All that a component can stand on: its mount, and its other feet. */
export const feetOf = ({ mount, feet = [] }: Standing): Connection[] => (mount ? [mount, ...feet] : []);

/** The foot that a place says; its mount where it says none, or one that is not there any more. */
export const footOf = (component: Standing, { foot }: Pick<Place, 'foot'>): Connection | null => component.feet?.find((f) => f.id === foot) ?? component.mount;

/** A component as it stands on a foot: that one is its mount. */
export const standingOn = <T extends Standing>(component: T, place: Pick<Place, 'foot'>): T => ({ ...component, mount: footOf(component, place) });

/** foot-from-gauge of an assembly whose first piece stands on a foot: the gauge frame is that of its mount. */
export function footFromGauge(first: Standing | undefined, place: Pick<Place, 'foot'>): Motion {
  const foot = first && footOf(first, place);
  if (!first?.mount || !foot || foot === first.mount) return translation([0, 0, 0]);
  return compose(frameFromWorld(foot.frame), worldFromFrame(first.mount.frame));
}

/** What a component stands on in a connection: the foot it stood on, its mount, the first of its other feet, whichever fits first; undefined where none does. */
export function fittingFoot(component: Standing, connection: ConnectionSize, before?: Pick<Place, 'foot'>): Pick<Place, 'foot'> | undefined {
  const all = feetOf(component);
  const kept = all.filter((f) => f.id === before?.foot);
  const fits = [...kept, ...all].find((f) => checkFit(f.connection, connection).ok);
  return fits && (fits === component.mount ? {} : { foot: fits.id });
}
