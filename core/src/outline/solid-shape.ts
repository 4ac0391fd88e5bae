// What a component made of an outline is, as a file of its own: plain numbers from which the kernel makes true faces. Lengths in mm.
import { z } from 'zod';
import { done, failed, issue, type Result } from '#core/issues';
import { PathDistance } from './path-distance.ts';
import { flatPointSchema, halfProfileSchema, pathSchema } from './path-schema.ts';
import { faultOfLoop, validateProfile } from './profile.ts';

const bodyName = z.string().min(1).max(200);
const shapeRole = z.enum(['tool body', 'cutting']);

const revolvedShapeSchema = z.object({
  format: z.literal('ruota-shape'),
  version: z.literal(1),
  form: z.literal('revolved'),
  /** Each turned once about Z: half profiles in [z, r], z towards the work. */
  bodies: z
    .array(z.object({ name: bodyName, role: shapeRole, profile: halfProfileSchema }))
    .min(1)
    .max(20)
    .readonly(),
});

/** A hole through a plate along its z; `sink`: a cone of that full angle and diameter, on the top or on both faces. */
const holeSchema = z.object({
  at: flatPointSchema,
  diameter: z.number().min(0.05).max(1000),
  sink: z.object({ deg: z.number().min(10).max(170), diameter: z.number().min(0.05).max(1000), faces: z.union([z.literal(1), z.literal(2)]) }).optional(),
});

const flatShapeSchema = z.object({
  format: z.literal('ruota-shape'),
  version: z.literal(1),
  form: z.literal('flat'),
  name: bodyName,
  /** The edge of the top in [x, y], counter-clockwise; the top lies in the plane of z 0, the body below it. */
  loop: pathSchema,
  thickness: z.number().min(0.05).max(1000),
  /** Degrees that the flanks lean in from the top down. */
  reliefDeg: z.number().min(0).max(45),
  /** Numbers of the pieces whose flanks lean in; all without it. */
  relieved: z.array(z.number().int().nonnegative()).readonly().optional(),
  /** A hole through it, along z. */
  hole: holeSchema.nullable(),
});

const vec3 = z.tuple([z.number(), z.number(), z.number()]).readonly();
const placeSchema = z.object({ origin: vec3, z: vec3, x: vec3 });
const prismSchema = z.object({ place: placeSchema, loop: pathSchema, below: z.number().min(0), above: z.number().min(0) });
/** A plate with its top in the plane z 0 of its place, or what is turned about that z. */
const placedSolidSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('plate'),
    loop: pathSchema,
    thickness: z.number().min(0.05).max(2000),
    reliefDeg: z.number().min(0).max(45),
    hole: holeSchema.nullable(),
  }),
  z.object({ kind: z.literal('turned'), profile: halfProfileSchema }),
]);

const placedShapeSchema = z.object({
  format: z.literal('ruota-shape'),
  version: z.literal(1),
  form: z.literal('placed'),
  bodies: z
    .array(
      z.object({
        name: bodyName,
        role: shapeRole,
        place: placeSchema,
        solid: placedSolidSchema,
        /** What is put on before anything is cut off: edges in the plane of a place, from so far below it to so far above. */
        adds: z.array(prismSchema).readonly().optional(),
        /** What is cut off: edges in the plane of a place, from so far below it to so far above. */
        cuts: z.array(prismSchema).readonly(),
      }),
    )
    .min(1)
    .max(20)
    .readonly(),
});

/** What is turned about Z, cut out of a plate, or put together of such bodies, each at its place. */
export const solidShapeSchema = z.discriminatedUnion('form', [revolvedShapeSchema, flatShapeSchema, placedShapeSchema]);
export type SolidShape = z.infer<typeof solidShapeSchema>;
export type FlatShape = z.infer<typeof flatShapeSchema>;
export type RevolvedShape = z.infer<typeof revolvedShapeSchema>;
export type PlacedShape = z.infer<typeof placedShapeSchema>;
export type PlacedBody = PlacedShape['bodies'][number];

/** The bodies of a shape in their order, as they are numbered: `b1`, `b2`, ... */
export function shapeBodies(shape: SolidShape): readonly { readonly name: string; readonly role: 'tool body' | 'cutting' }[] {
  if (shape.form === 'flat') return [{ name: shape.name, role: 'cutting' }];
  if (shape.form === 'placed') return shape.bodies.map(({ name, role }) => ({ name, role }));
  return shape.bodies.flatMap(({ name, role, profile }) => profile.map((_, i) => ({ name: profile.length > 1 ? `${name} ${i + 1}` : name, role })));
}

const SUFFIX = '.shape.json';

/** Whether a file is the shape of an outline, by its name. */
export const isShapeFile = (file: string): boolean => file.toLowerCase().endsWith(SUFFIX);

/** What the file of a shape is called. */
export const shapeFileName = (name: string): string => `${name}${SUFFIX}`;

/** A shape as the bytes of its file; equal shapes give equal bytes. */
export const writeSolidShape = (shape: SolidShape): Uint8Array<ArrayBuffer> => new TextEncoder().encode(JSON.stringify(solidShapeSchema.parse(shape)));

/** Reads the file of a shape; what cannot be turned or cut out is refused with its place. */
export function readSolidShape(bytes: Uint8Array, file: string): Result<SolidShape> {
  let raw: unknown;
  try {
    raw = JSON.parse(new TextDecoder().decode(bytes));
  } catch (error) {
    return failed('record.bad', { file, field: 'shape', text: error instanceof Error ? error.message : 'it is not JSON' });
  }
  const parsed = solidShapeSchema.safeParse(raw);
  if (!parsed.success)
    return {
      ok: false,
      issues: parsed.error.issues.slice(0, 5).map((i) => issue('record.bad', { file, field: i.path.join('.') || 'shape', text: i.message })),
    };
  const [fault] = faultsOfShape(parsed.data);
  return fault === undefined ? done(parsed.data) : failed('outline.bad-shape', { text: fault });
}

/** What is wrong with a shape, in words; empty for a good one. */
export function faultsOfShape(shape: SolidShape): string[] {
  if (shape.form === 'revolved') return shape.bodies.flatMap(({ name, profile }) => validateProfile(profile).map((text) => `${name}: ${text}`));
  if (shape.form === 'flat') return faultsOfPlate(shape);
  return shape.bodies.flatMap(({ name, solid, cuts }) => {
    const own = solid.kind === 'plate' ? faultsOfPlate(solid) : validateProfile(solid.profile);
    const cut = cuts.flatMap((c) => faultOfLoop(c.loop, ([x, y]) => ` at ${x.toFixed(3)}, ${y.toFixed(3)}`) ?? []);
    return [...own, ...cut].map((text) => `${name}: ${text}`);
  });
}

function faultsOfPlate({ loop, hole }: Pick<FlatShape, 'loop' | 'hole'>): string[] {
  const fault = faultOfLoop(loop, ([x, y]) => ` at ${x.toFixed(3)}, ${y.toFixed(3)}`);
  if (fault !== undefined) return [fault];
  return hole && new PathDistance([loop]).depth(...hole.at) <= Math.max(hole.diameter, hole.sink?.diameter ?? 0) / 2
    ? ['the hole reaches beyond the outline']
    : [];
}
