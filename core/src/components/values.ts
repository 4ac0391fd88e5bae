/** What a number of a component is: its ISO 13399 name, in words, and within what it lies. Lengths in mm, angles in degrees. */
export interface ValueDefinition {
  readonly meaning: string;
  readonly unit: 'mm' | 'deg' | 'count';
  readonly min: number;
  readonly max: number;
}

const mm = (meaning: string, max = 2000, min = 0.01): ValueDefinition => ({ meaning, unit: 'mm', min, max });
const deg = (meaning: string, min: number, max: number): ValueDefinition => ({ meaning, unit: 'deg', min, max });

/** All numbers that components are made of, by their ISO 13399 names. */
export const VALUES = {
  DC: mm('cutting diameter', 500),
  DCN: mm('smallest diameter that cuts', 500, 0),
  LCF: mm('length of the cutting part'),
  LU: mm('usable length'),
  OAL: mm('overall length'),
  DCON: mm('shank diameter', 500),
  LS: mm('shank length'),
  DN: mm('neck diameter', 500),
  CW: mm('width of the cutting part', 200),
  RE: mm('corner radius', 100, 0),
  BS: mm('wiper edge length', 50),
  SIG: deg('point angle', 10, 180),
  TD: mm('thread diameter', 100, 0.5),
  TP: mm('thread pitch', 20, 0.05),
  IC: mm('inscribed circle', 100, 2),
  S: mm('thickness', 50, 0.3),
  AN: deg('clearance angle', 0, 45),
  EPSR: deg('included angle', 20, 180),
  L: mm('cutting edge length', 200),
  W1: mm('insert width', 200),
  INSL: mm('insert length', 300),
  D1: mm('fixing hole', 50, 0.3),
  CDX: mm('greatest cutting depth', 500),
  DMIN: mm('minimum bore', 1000),
  SDL: mm('step length'),
  DC2: mm('second cutting diameter', 500),
  PHD: mm('hole before threading', 200),
  TAPER: deg('taper angle of each side', 0, 60),
  NOF: { meaning: 'number of teeth', unit: 'count', min: 1, max: 200 },
  M: mm('dimension m of a corner', 100, 0),
  DCONWS: mm('bore for the tool', 300),
  DCONMS: mm('bore for the arbor', 300),
  DCX: mm('largest cutting diameter', 600),
  APMX: mm('greatest depth of cut', 300),
  STA: deg('step angle', 20, 180),
  BDX: mm('largest body diameter', 500),
  LPR: mm('protruding length'),
  LSCWS: mm('clamping length towards the work', 300),
  H: mm('shank height', 200),
  B: mm('shank width', 200),
  LF: mm('functional length'),
  WF: mm('functional width', 500, -500),
  HF: mm('functional height', 500, -500),
  LH: mm('head length', 500),
  KAPR: deg('entering angle', 1, 179),
  GAMO: deg('rake angle', -45, 45),
  LAMS: deg('inclination angle', -45, 45),
} as const satisfies Record<string, ValueDefinition>;

export type ValueName = keyof typeof VALUES;
export const VALUE_NAMES = Object.keys(VALUES) as [ValueName, ...ValueName[]];
export type Values = Readonly<Partial<Record<ValueName, number>>>;
