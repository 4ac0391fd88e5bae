import type { Carrier, MachineRecord } from '#core/records';

/** A carrier of usual sizes, to be changed to one's own. */
export function newCarrier(kind: Carrier['kind'], id: string, name: string): Carrier {
  const usual = {
    id,
    name,
    side: 'above' as const,
    travel: { x: [-10, 200] as const, y: null, z: [60, 600] as const },
    stations: 12,
    driven: 'all' as const,
  };
  switch (kind) {
    case 'turret':
      return {
        ...usual,
        kind,
        connection: { standard: 'VDI', size: 30 },
        mounting: 'rim',
        faces: 'main',
        radius: 130,
        disc: { diameter: 258, width: 80 },
        numbered: 1,
      };
    case 'slide':
      return {
        ...usual,
        kind,
        connection: { standard: 'square', size: '16x16' },
        stations: 5,
        driven: [],
        row: 'x',
        pitch: 40,
        points: 'across',
        reference: null,
      };
    case 'swivel head':
      return {
        ...usual,
        kind,
        connection: { standard: 'PSC', size: 50 },
        stations: 20,
        seat: 160,
        head: { noseDiameter: 110, noseLength: 80, diameter: 200, length: 380 },
        range: [-100, 100],
      };
  }
}

/** A counter spindle like the main one, far enough away to begin with. */
export const newCounterSpindle = ({ main }: MachineRecord['spindles']): NonNullable<MachineRecord['spindles']['counter']> => ({
  ...main,
  name: 'counter spindle',
  travel: [2 * main.chuck.length + 150, 2 * main.chuck.length + 700],
});
