import { bodiesFor, chosenGeometry, freshGeometry, GEOMETRY_TARGETS } from '#core/records';
import { showDone } from '../../app/notify.tsx';
import { selectComponent, store } from '../../app/store.ts';
import { makeComponentGeometry } from '../bench/geometry/make-component-geometry.ts';

/** Makes the light geometry of many components, one after the other, as the Bench would; what is there and fresh is left. Stopping one stops the rest. */
export async function makeGeometryOf(ids: readonly string[]): Promise<void> {
  let [made, fresh] = [0, 0];
  for (const id of ids)
    for (const target of GEOMETRY_TARGETS) {
      const record = selectComponent(store.getState(), id);
      if (!record || bodiesFor(record, target).length === 0) continue;
      if (freshGeometry(record, target)) {
        fresh++;
        continue;
      }
      if (!(await makeComponentGeometry(record, target, chosenGeometry(record, target)))) {
        showDone(`${made} geometries are made; the rest was left.`);
        return;
      }
      made++;
    }
  showDone(`${made} geometries are made${fresh > 0 ? `, ${fresh} were there` : ''}.`);
}
