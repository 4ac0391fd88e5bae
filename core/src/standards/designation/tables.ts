// What the letters and numbers of designations mean: ISO 1832, ISO 5608, ISO 6261, and the inch series.

/** ISO 1832, shape letter: included angle in degrees (W: of its acute corners); undefined for the round insert. */
export const INSERT_SHAPES: Readonly<Record<string, number | undefined>> = {
  A: 85,
  B: 82,
  C: 80,
  D: 55,
  E: 75,
  H: 120,
  K: 55,
  L: 90,
  M: 86,
  O: 135,
  P: 108,
  R: undefined,
  S: 90,
  T: 60,
  V: 35,
  W: 80,
};
/** ISO 1832, clearance letter: degrees. */
export const CLEARANCES: Readonly<Record<string, number>> = { A: 3, B: 5, C: 7, D: 15, E: 20, F: 25, G: 30, N: 0, P: 11 };
/** mm. ISO 1832: steps of the inscribed circle. */
export const INSCRIBED_CIRCLES = [3.97, 4.76, 5.56, 6.35, 7.94, 9.525, 12.7, 15.875, 19.05, 25.4] as const;
export const THICKNESSES: Readonly<Record<string, number>> = {
  '01': 1.59,
  T0: 1.79,
  T1: 1.98,
  '02': 2.38,
  T2: 2.78,
  '03': 3.18,
  T3: 3.97,
  '04': 4.76,
  '05': 5.56,
  '06': 6.35,
  '07': 7.94,
  '09': 9.52,
  '11': 11.11,
  '12': 12.7,
  '15': 15.88,
  '19': 19.05,
};
/** ISO 5608, style letter: entering angle in degrees, and whether it is for facing. */
export const HOLDER_STYLES: Readonly<Record<string, readonly [enteringAngle: number, facing: boolean]>> = {
  A: [90, false],
  B: [75, false],
  D: [45, false],
  E: [60, false],
  F: [90, true],
  G: [90, false],
  H: [107.5, false],
  J: [93, false],
  K: [75, true],
  L: [95, false],
  M: [50, false],
  N: [63, false],
  P: [62.5, false],
  R: [75, false],
  S: [45, false],
  T: [60, false],
  U: [93, true],
  V: [72.5, false],
  W: [60, true],
  Y: [85, true],
};
/** mm. ISO 5608 and 6261, length letters; X is special. */
export const TOOL_LENGTHS: Readonly<Record<string, number | undefined>> = {
  A: 32,
  B: 40,
  C: 50,
  D: 60,
  E: 70,
  F: 80,
  G: 90,
  H: 100,
  J: 110,
  K: 125,
  L: 140,
  M: 150,
  N: 160,
  P: 170,
  Q: 180,
  R: 200,
  S: 250,
  T: 300,
  U: 350,
  V: 400,
  W: 450,
  Y: 500,
  X: undefined,
};
export const HOLDER_WF: Readonly<Record<number, number>> = { 8: 10, 10: 12, 12: 16, 16: 20, 20: 25, 25: 32, 32: 40, 40: 50 };
export const BAR_WF: Readonly<Record<number, number>> = { 12: 9, 16: 11, 20: 13, 25: 17, 32: 22, 40: 27, 50: 35, 60: 43 };
export const HANDS = { R: 'right', L: 'left', N: 'neutral' } as const;

/** ISO 1832, third letter: tolerances of the inscribed circle d, the corner m and the thickness s, mm. */
export const TOLERANCES: Readonly<Record<string, string>> = {
  A: 'd ±0.025, m ±0.005, s ±0.025',
  B: 'd ±0.025, m ±0.005, s ±0.13',
  C: 'd ±0.025, m ±0.013, s ±0.025',
  D: 'd ±0.025, m ±0.013, s ±0.13',
  E: 'd ±0.025, m ±0.025, s ±0.025',
  F: 'd ±0.013, m ±0.005, s ±0.025',
  G: 'd ±0.025, m ±0.025, s ±0.13',
  H: 'd ±0.013, m ±0.013, s ±0.025',
  J: 'd ±0.05 to ±0.15, m ±0.005, s ±0.025',
  K: 'd ±0.05 to ±0.15, m ±0.013, s ±0.025',
  L: 'd ±0.05 to ±0.15, m ±0.025, s ±0.025',
  M: 'd ±0.05 to ±0.15, m ±0.08 to ±0.2, s ±0.13',
  N: 'd ±0.05 to ±0.15, m ±0.08 to ±0.2, s ±0.025',
  U: 'd ±0.08 to ±0.25, m ±0.13 to ±0.38, s ±0.13',
};

/** ISO 1832, fourth letter: the fixing hole, its countersinks (degrees, on how many faces), and on how many faces chips are broken. */
export const FIXINGS: Readonly<Record<string, { readonly hole: boolean; readonly sink?: readonly [deg: number, faces: 1 | 2]; readonly breakers: 0 | 1 | 2 }>> =
  {
    N: { hole: false, breakers: 0 },
    R: { hole: false, breakers: 1 },
    F: { hole: false, breakers: 2 },
    A: { hole: true, breakers: 0 },
    M: { hole: true, breakers: 1 },
    G: { hole: true, breakers: 2 },
    W: { hole: true, sink: [50, 1], breakers: 0 },
    T: { hole: true, sink: [50, 1], breakers: 1 },
    Q: { hole: true, sink: [50, 2], breakers: 0 },
    U: { hole: true, sink: [50, 2], breakers: 2 },
    B: { hole: true, sink: [80, 1], breakers: 0 },
    H: { hole: true, sink: [80, 1], breakers: 1 },
    C: { hole: true, sink: [80, 2], breakers: 0 },
    J: { hole: true, sink: [80, 2], breakers: 2 },
    X: { hole: true, breakers: 0 },
  };

export const SHAPE_NAMES: Readonly<Record<string, string>> = {
  A: 'parallelogram, 85 degrees',
  B: 'parallelogram, 82 degrees',
  C: 'rhombic, 80 degrees',
  D: 'rhombic, 55 degrees',
  E: 'rhombic, 75 degrees',
  H: 'hexagonal, 120 degrees',
  K: 'parallelogram, 55 degrees',
  L: 'rectangular, 90 degrees',
  M: 'rhombic, 86 degrees',
  O: 'octagonal, 135 degrees',
  P: 'pentagonal, 108 degrees',
  R: 'round',
  S: 'square, 90 degrees',
  T: 'triangular, 60 degrees',
  V: 'rhombic, 35 degrees',
  W: 'trigon, 80 degrees',
};

/** ISO 1832, letters in place of the corner radius: entering angle of the main edge, and clearance of the wiper, degrees. */
export const WIPER_ANGLES: Readonly<Record<string, number | undefined>> = { A: 45, D: 60, E: 75, F: 85, P: 90, Z: undefined };
export const WIPER_CLEARANCES: Readonly<Record<string, number | undefined>> = { A: 3, B: 5, C: 7, D: 15, E: 20, F: 25, G: 30, N: 0, P: 11, Z: undefined };

export const EDGE_CONDITIONS: Readonly<Record<string, string>> = {
  F: 'sharp edges',
  E: 'rounded edges',
  T: 'chamfered edges',
  S: 'chamfered and rounded edges',
  K: 'doubly chamfered edges',
  P: 'doubly chamfered and rounded edges',
};

/** ISO 5608 and 6261, first letter: how the insert is clamped. */
export const CLAMPINGS: Readonly<Record<string, string>> = {
  C: 'clamped from above',
  D: 'clamped from above through the hole',
  M: 'clamped from above and through the hole',
  P: 'clamped through the hole',
  S: 'held by a screw through the hole',
  W: 'clamped by a wedge',
};

/** ISO 6261, first letter: what the bar is. */
export const BAR_BODIES: Readonly<Record<string, string>> = {
  S: 'steel bar',
  A: 'steel bar with coolant',
  B: 'damped steel bar',
  D: 'damped steel bar with coolant',
  C: 'carbide bar with a steel head',
  E: 'carbide bar with a steel head and coolant',
  F: 'damped carbide bar with a steel head',
  G: 'damped carbide bar with a steel head and coolant',
  H: 'heavy metal bar',
  J: 'heavy metal bar with coolant',
};

/** Inch series, inscribed circle: eighths of an inch as they are written, 1.2 for 5/32. ANSI B212.4. */
export const INCH_CIRCLES: Readonly<Record<string, number>> = {
  '1.2': 1.25,
  '1.5': 1.5,
  '1.8': 1.75,
  '2': 2,
  '2.5': 2.5,
  '3': 3,
  '4': 4,
  '5': 5,
  '6': 6,
  '7': 7,
  '8': 8,
  '10': 10,
};
/** Inch series, thickness: sixteenths of an inch as they are written. */
export const INCH_THICKNESSES: Readonly<Record<string, number>> = {
  '0.6': 0.625,
  '1': 1,
  '1.2': 1.25,
  '1.5': 1.5,
  '1.8': 1.75,
  '2': 2,
  '2.5': 2.5,
  '3': 3,
  '3.5': 3.5,
  '4': 4,
  '5': 5,
  '6': 6,
  '7': 7,
  '8': 8,
};
/** Inch series, corner radius: 64ths of an inch as they are written. */
export const INCH_RADII: Readonly<Record<string, number>> = { '0': 0, '0.2': 0.25, '0.5': 0.5, '1': 1, '2': 2, '3': 3, '4': 4, '5': 5, '6': 6, '7': 7, '8': 8 };
/** Inches. Lengths of inch holders by letter. ANSI B212.5. */
export const INCH_HOLDER_LENGTHS: Readonly<Record<string, number | undefined>> = { A: 4, B: 4.5, C: 5, D: 6, E: 7, F: 8 };
/** Inches. Functional width of inch holders by the shank's width in sixteenths. */
export const INCH_HOLDER_WF: Readonly<Record<number, number>> = { 8: 0.625, 10: 0.75, 12: 1, 16: 1.25, 20: 1.5, 24: 2 };
/** Inches. Lengths of inch bars by letter. */
export const INCH_BAR_LENGTHS: Readonly<Record<string, number | undefined>> = { H: 4, K: 5, M: 6, Q: 7, R: 8, S: 10, T: 12, U: 14, V: 16 };
