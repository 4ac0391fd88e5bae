// Usual lengths of tools by their diameters, mm. Each row counts up to its first number.

type Rows = readonly (readonly number[])[];

/** The row that a diameter falls into; undefined above the last one. */
export const rowFor = (rows: Rows, diameter: number): readonly number[] | undefined => rows.find(([upTo]) => diameter <= upTo + 1e-9);

/** Twist drills of usual length: up to a diameter, overall length, flute length. ISO 235 (DIN 338). */
export const DRILLS: Rows = [
  [1.06, 34, 12],
  [1.18, 36, 14],
  [1.32, 38, 16],
  [1.5, 40, 18],
  [1.7, 43, 20],
  [1.9, 46, 22],
  [2.12, 49, 24],
  [2.36, 53, 27],
  [2.65, 57, 30],
  [3, 61, 33],
  [3.35, 65, 36],
  [3.75, 70, 39],
  [4.25, 75, 43],
  [4.75, 80, 47],
  [5.3, 86, 52],
  [6, 93, 57],
  [6.7, 101, 63],
  [7.5, 109, 69],
  [8.5, 117, 75],
  [9.5, 125, 81],
  [10.6, 133, 87],
  [11.8, 142, 94],
  [13.2, 151, 101],
  [14, 160, 108],
  [15, 169, 114],
  [16, 178, 120],
  [17, 184, 125],
  [18, 191, 130],
  [19, 198, 135],
  [20, 205, 140],
];

/** Machine reamers with a straight shank: up to a diameter, overall length, length of the cutting part. ISO 521 (DIN 212). */
export const REAMERS: Rows = [
  [3, 61, 15, 3],
  [3.35, 65, 16, 3],
  [3.75, 70, 18, 3.5],
  [4.25, 75, 19, 4],
  [4.75, 80, 21, 4.5],
  [5.3, 86, 23, 5],
  [6, 93, 26, 5.6],
  [6.7, 101, 28, 6.3],
  [7.5, 109, 31, 7.1],
  [8.5, 117, 33, 8],
  [9.5, 125, 36, 9],
  [10.6, 133, 38, 10],
  [11.8, 142, 41, 10],
  [13.2, 151, 44, 10],
  [14, 160, 47, 12.5],
  [15, 162, 50, 12.5],
  [16, 170, 52, 12.5],
  [17, 175, 54, 14],
  [18, 182, 56, 14],
  [19, 189, 58, 16],
  [20, 195, 60, 16],
];

/** Solid end mills of usual length: up to a diameter, overall length, length of the cutting part, shank. As in DIN 6527, long. */
export const END_MILLS: Rows = [
  [2, 57, 6, 6],
  [3, 57, 8, 6],
  [4, 57, 11, 6],
  [6, 57, 13, 6],
  [8, 63, 19, 8],
  [10, 72, 22, 10],
  [12, 83, 26, 12],
  [14, 83, 26, 14],
  [16, 92, 32, 16],
  [18, 92, 32, 18],
  [20, 104, 38, 20],
  [25, 121, 45, 25],
  [32, 133, 53, 32],
];

/** Centre drills with a 60 degree cone: pilot diameter, body diameter, overall length, pilot length. ISO 866, form A. */
export const CENTRE_DRILLS: Rows = [
  [1, 3.15, 31.5, 1.3],
  [1.25, 3.15, 31.5, 1.6],
  [1.6, 4, 35.5, 2],
  [2, 5, 40, 2.5],
  [2.5, 6.3, 45, 3.1],
  [3.15, 8, 50, 3.9],
  [4, 10, 56, 5],
  [5, 12.5, 63, 6.3],
  [6.3, 16, 71, 8],
  [8, 20, 80, 10.1],
  [10, 25, 100, 12.8],
];

/** Countersinks of 90 degrees with a straight shank: up to a diameter, shank, overall length, smallest diameter. DIN 335, form C. */
export const COUNTERSINKS: Rows = [
  [6.3, 5, 45, 1.5],
  [8.3, 6, 50, 2],
  [10.4, 6, 50, 2.5],
  [12.4, 8, 56, 2.8],
  [16.5, 10, 60, 3.2],
  [20.5, 10, 63, 3.5],
  [25, 10, 67, 3.8],
  [31, 12, 71, 4.2],
];

/** Metric coarse pitches by thread diameter. ISO 261. */
export const COARSE_PITCHES: Readonly<Record<number, number>> = {
  1.6: 0.35,
  2: 0.4,
  2.5: 0.45,
  3: 0.5,
  3.5: 0.6,
  4: 0.7,
  5: 0.8,
  6: 1,
  7: 1,
  8: 1.25,
  10: 1.5,
  12: 1.75,
  14: 2,
  16: 2,
  18: 2.5,
  20: 2.5,
  22: 2.5,
  24: 3,
  27: 3,
  30: 3.5,
};

/** Machine taps: up to a thread diameter, overall length, thread length, shank. As in DIN 371 up to M 10, DIN 376 above. */
export const TAPS: Rows = [
  [2, 45, 8, 2.8],
  [2.5, 50, 9, 2.8],
  [3, 56, 10, 3.5],
  [4, 63, 12, 4.5],
  [5, 70, 14, 6],
  [6, 80, 16, 6],
  [8, 90, 18, 8],
  [10, 100, 20, 10],
  [12, 110, 24, 9],
  [14, 110, 26, 11],
  [16, 110, 27, 12],
  [18, 125, 30, 14],
  [20, 140, 32, 16],
  [24, 160, 36, 18],
  [30, 180, 40, 22],
];

/** Fixing holes of inserts by inscribed circle: of flat ones (clearance 0), and of those with clearance. ISO 3364, ISO 6987. */
export const FIXING_HOLES: Readonly<Record<number, readonly [number, number]>> = {
  5.56: [2.5, 2.5],
  6.35: [2.26, 2.8],
  7.94: [3.4, 3.4],
  9.525: [3.81, 4.4],
  12.7: [5.16, 5.5],
  15.875: [6.35, 5.5],
  19.05: [7.93, 7],
  25.4: [9.12, 9],
};

/** Face mills on an arbor: up to a diameter, bore, height. ISO 6462. */
export const FACE_MILLS: Rows = [
  [40, 16, 40],
  [63, 22, 40],
  [80, 27, 50],
  [100, 32, 50],
  [125, 40, 63],
  [160, 40, 63],
];

/** Woodruff keys: diameter of the cutter, usual width. ISO 3912. */
export const WOODRUFF: Rows = [
  [4, 1],
  [7, 2],
  [10, 3],
  [13, 4],
  [16, 5],
  [19, 5],
  [22, 6],
  [25, 6],
  [28, 8],
  [32, 10],
];
