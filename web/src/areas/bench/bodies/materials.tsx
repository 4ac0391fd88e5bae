import { Select } from '@mantine/core';
import { type ComponentRecord, type Material, MATERIAL_NAMES, MATERIALS, usualMaterial } from '#core/records';
import { changeComponent } from '../../../app/store.ts';

/** What each body is made of: its mass and how far it gives way follow. Usual until somebody says otherwise. */
export function Materials({ record }: { record: ComponentRecord }) {
  const say = (body: string, name: string, material: Material | undefined) =>
    changeComponent(record.id, `${name} is ${material ?? 'of its usual material'}`, (r) => ({
      bodies: r.bodies.map((b) => {
        const { material: _, ...rest } = b;
        return b.id === body ? { ...rest, ...(material ? { material } : {}) } : b;
      }),
    }));
  return (
    <div className="materials">
      {record.bodies.map((b) => {
        const usual = usualMaterial(record, b.id);
        return (
          <div key={b.id} className="data-row">
            <span className="data-name">{b.name}</span>
            <Select
              size="xs"
              w={150}
              aria-label={`Material of ${b.name}`}
              data={MATERIAL_NAMES.map((m) => ({ value: m, label: m === usual && b.material === undefined ? `${m}, usual` : m }))}
              value={b.material ?? usual}
              clearable={b.material !== undefined}
              title={`${MATERIALS[b.material ?? usual].density} g/cm³, ${MATERIALS[b.material ?? usual].modulus} GPa`}
              onChange={(v) =>
                say(
                  b.id,
                  b.name,
                  MATERIAL_NAMES.find((m) => m === v),
                )
              }
            />
          </div>
        );
      })}
    </div>
  );
}
