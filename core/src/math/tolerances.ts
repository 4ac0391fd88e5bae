// Every tolerance of the product, one place for each number: unit, reason, users.

/** mm. Two points nearer than this are one point: far below any machine, far above double noise at 1 m. */
export const SAME_POINT = 1e-6;

/** Radians. Directions nearer than this are parallel: 1e-6 rad moves a tip at 150 mm by 0.15 micrometres. */
export const SAME_DIRECTION_RAD = 1e-6;

/** Unitless. How far |z|, |x| and z.x of a stored frame may be from 1, 1 and 0: what JSON with 9 decimals keeps. */
export const FRAME_ORTHONORMAL = 1e-6;

/** mm. A growth below minus this counts as an envelope that cuts into the tool (proof, verify). */
export const ENCLOSURE_SLACK = 1e-6;

/** mm. The widest deviation of a turning tip from the turning plane that raises no warning (checks). */
export const CENTRE_HEIGHT_LIMIT = 0.05;

/** mm. Chord tolerance of the tessellation that is drawn and picked on; simulation geometry has its own. */
export const DISPLAY_CHORD = 0.02;

/** Radians. Angular tolerance beside every chord tolerance, so that small radii stay round on the stage. */
export const DISPLAY_ANGLE_RAD = 0.35;

/** mm. Diameters nearer than this to a standard's size are that size (h6 and H7 at 40 mm stay within 0.025). */
export const SAME_SIZE = 0.03;

/** mm. Mesh corners nearer than this are welded: kernel nodes along one edge agree to double noise. */
export const WELD = 1e-5;

/** mm. Nothing on a lathe's tool side is larger; beyond it a length is taken for a mistake. */
export const LARGEST_LENGTH = 10_000;

/** mm. A section in a face's own plane is undefined: it is taken this much below (section strip). */
export const SECTION_NUDGE = 0.013;
