import { MACHINE_VERSION, type MachineRecord, USUAL_WAITS } from '#core/records';

// Machines of our own workshop, as a start for one's own: sizes of the usual kind, of no maker.

const CONTROL: MachineRecord['control'] = {
  diameters: true,
  tipNumbers: [1, 2, 3, 4, 5, 6, 7, 8, 9],
  swivel: { zero: 0, sense: 1, range: [-180, 180] },
  toolDigits: 2,
  offsetDigits: 2,
  offsetsPerTool: 4,
  waits: [...USUAL_WAITS],
};

const machine = (
  id: string,
  name: string,
  rest: Pick<MachineRecord, 'spindles' | 'carriers'> & { control?: Partial<MachineRecord['control']> },
): MachineRecord => ({
  kind: 'machine',
  version: MACHINE_VERSION,
  id,
  name,
  unit: 'mm',
  spindles: rest.spindles,
  carriers: rest.carriers,
  control: { ...CONTROL, ...rest.control },
  createdAt: '2026-11-01T00:00:00.000Z',
  changedAt: '2026-11-01T00:00:00.000Z',
});

/** The machines that come with the application: a twin-spindle lathe, a bar automatic with slides, a mill-turn with a swivel head. */
export const SHIPPED_MACHINES: readonly MachineRecord[] = [
  machine('machine-twin-spindle', 'Twin-spindle lathe, 12 stations', {
    spindles: {
      main: {
        name: 'main spindle',
        chuck: { diameter: 165, length: 91, jaws: 3, jawHeight: 35, jawStep: 12, gripped: 60, bore: 52 },
        largestSpeed: 5000,
        clockwise: 'M3',
      },
      counter: {
        name: 'counter spindle',
        chuck: { diameter: 135, length: 74, jaws: 3, jawHeight: 28, jawStep: 10, gripped: 42, bore: 42 },
        largestSpeed: 6000,
        clockwise: 'M3',
        travel: [320, 860],
      },
    },
    carriers: [
      {
        kind: 'turret',
        id: 'upper-turret',
        name: 'upper turret',
        side: 'above',
        travel: { x: [-15, 260], y: [-40, 40], z: [60, 760] },
        connection: { standard: 'VDI', size: 40 },
        stations: 12,
        driven: 'all',
        mounting: 'rim',
        faces: 'main',
        radius: 150,
        disc: { diameter: 298, width: 92 },
        numbered: 1,
      },
    ],
  }),
  machine('machine-bar-automatic', 'Bar automatic with slides', {
    spindles: {
      main: {
        name: 'main spindle',
        chuck: { diameter: 78, length: 62, jaws: 0, jawHeight: 0, jawStep: 0, gripped: 20, bore: 20 },
        largestSpeed: 10_000,
        clockwise: 'M3',
      },
      counter: {
        name: 'counter spindle',
        chuck: { diameter: 70, length: 55, jaws: 0, jawHeight: 0, jawStep: 0, gripped: 20, bore: 20 },
        largestSpeed: 10_000,
        clockwise: 'M4',
        travel: [180, 420],
      },
    },
    carriers: [
      {
        kind: 'slide',
        id: 'tool-slide',
        name: 'tool slide',
        side: 'above',
        travel: { x: [100, 185], y: [-10, 190], z: [-20, 210] },
        connection: { standard: 'square', size: '12x12' },
        stations: 6,
        driven: [],
        row: 'y',
        pitch: 22,
        points: 'across',
        reference: [200, 370],
      },
      {
        kind: 'slide',
        id: 'drill-block',
        name: 'end-working block',
        side: 'below',
        travel: { x: [-5, 130], y: [-60, 60], z: [65, 260] },
        connection: { standard: 'cylindrical', size: 16 },
        stations: 4,
        driven: [],
        row: 'x',
        pitch: 30,
        points: 'main',
        reference: null,
      },
    ],
    control: { offsetsPerTool: 4, swivel: { zero: 90, sense: -1, range: [-180, 180] } },
  }),
  machine('machine-mill-turn', 'Mill-turn with swivel head', {
    spindles: {
      main: {
        name: 'main spindle',
        chuck: { diameter: 210, length: 104, jaws: 3, jawHeight: 42, jawStep: 14, gripped: 90, bore: 65 },
        largestSpeed: 4500,
        clockwise: 'M3',
      },
      counter: {
        name: 'counter spindle',
        chuck: { diameter: 210, length: 104, jaws: 3, jawHeight: 42, jawStep: 14, gripped: 90, bore: 65 },
        largestSpeed: 4500,
        clockwise: 'M4',
        travel: [600, 1400],
      },
    },
    carriers: [
      {
        kind: 'swivel head',
        id: 'swivel-head',
        name: 'swivel head',
        side: 'above',
        travel: { x: [-30, 520], y: [-110, 110], z: [150, 1300] },
        connection: { standard: 'PSC', size: 63 },
        stations: 40,
        driven: 'all',
        seat: 190,
        head: { noseDiameter: 130, noseLength: 90, diameter: 220, length: 420 },
        range: [-120, 120],
      },
      {
        kind: 'turret',
        id: 'lower-turret',
        name: 'lower turret',
        side: 'below',
        travel: { x: [-12, 190], y: null, z: [120, 1250] },
        connection: { standard: 'VDI', size: 30 },
        stations: 12,
        driven: 'all',
        mounting: 'rim',
        faces: 'main',
        radius: 130,
        disc: { diameter: 258, width: 80 },
        numbered: 1,
      },
    ],
    control: { toolDigits: 4, offsetDigits: 3, offsetsPerTool: 9, swivel: { zero: 90, sense: -1, range: [-120, 210] } },
  }),
];
