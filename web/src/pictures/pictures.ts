import {
  Color,
  DirectionalLight,
  Group,
  HemisphereLight,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshStandardMaterial,
  OrthographicCamera,
  Scene,
  Vector3,
  WebGLRenderer,
} from 'three';
import { placePieces } from '#core/assembly';
import {
  addScaled,
  type Bounds,
  boundsCentre,
  boundsCorners,
  boundsDiagonal,
  boundsOfPoints,
  type Frame,
  IDENTITY,
  IDENTITY_FRAME,
  joinBounds,
  type Motion,
  move,
  type Vec3,
  yOf,
} from '#core/math';
import type { Model } from '#core/mesh';
import { type AssemblyRecord, type BodyRole, type ComponentRecord, hashPlain } from '#core/records';
import { idle } from '../common/when-idle.ts';
import { matrixOfMotion, ROLE_LOOK } from '../scene/bodies.tsx';
import { gpuBodyOf, releaseGpuBody } from '../scene/gpu-geometry.ts';
import { viewFrameOf } from '../scene/view.ts';
import { storeNamed } from '../store/database.ts';
import { loadModel } from '../store/models.ts';
import { geometryClient } from '../workers/geometry-client.ts';

const stored = storeNamed('pictures');
const [WIDTH, HEIGHT] = [440, 300];
let renderer: WebGLRenderer | undefined;
// Kept from picture to picture: with its last material a shader goes, and to compile it anew takes longer than to draw with it.
const surfaces = new Map<BodyRole, MeshStandardMaterial>();
const EDGES = new LineBasicMaterial({ color: '#22303a', transparent: true, opacity: 0.5 });
let queue: Promise<unknown> = Promise.resolve();

/** Something in a picture: the bodies of a component, where they stand, and how they look. */
interface Shown {
  readonly record: ComponentRecord;
  readonly pictureFromModel: Motion;
}

/** Asked before something is drawn, which holds the page up: whether somebody still looks. */
type IsWanted = () => boolean;

/** A picture of a component as an object URL; drawn once for each look, when the page has nothing better to do, and kept. Undefined where its model is gone. */
export const pictureOf = (record: ComponentRecord, isWanted: IsWanted): Promise<string | undefined> =>
  kept(
    [{ record, pictureFromModel: IDENTITY }],
    ([model]) => viewFrameOf({ ...model, bodies: shownBodies(record, model) }, record.mount?.frame, record.tips.length > 0),
    isWanted,
  );

/** A picture of an assembly as it is built; the same otherwise. Undefined also where a piece has no place. */
export function pictureOfAssembly(
  assembly: AssemblyRecord,
  components: Readonly<Record<string, ComponentRecord | undefined>>,
  isWanted: IsWanted,
): Promise<string | undefined> {
  const placed = placePieces(assembly, components);
  const shown = assembly.pieces.flatMap((p): Shown[] => {
    const [record, pictureFromModel] = [components[p.componentId], placed.get(p.id)];
    return record && pictureFromModel ? [{ record, pictureFromModel }] : [];
  });
  return shown.length === 0 || shown.length < assembly.pieces.length ? Promise.resolve(undefined) : kept(shown, () => IDENTITY_FRAME, isWanted);
}

function kept(shown: readonly Shown[], viewOf: (models: readonly Model[]) => Frame, isWanted: IsWanted): Promise<string | undefined> {
  const key = hashPlain({
    shown: shown.map(({ record, pictureFromModel }) => ({
      model: record.model.blob,
      roles: record.bodies.map((b) => b.role),
      mount: record.mount?.frame ?? null,
      tips: record.tips.length,
      at: pictureFromModel,
    })),
    look: 5,
  });
  const drawn = queue.then(async () => {
    const known = await stored.getItem<Blob>(key).catch(() => null);
    if (known) return URL.createObjectURL(known);
    // Nobody waits for what nobody looks at any more.
    if (!isWanted()) return undefined;
    await Promise.race([geometryClient.whenDone(), new Promise((resolve) => setTimeout(resolve, LONGEST_JOB_MS))]);
    await idle(LONGEST_BUSY_MS);
    const blob = isWanted() ? await draw(shown, viewOf) : undefined;
    if (!blob) return undefined;
    await stored.setItem(key, blob).catch(() => undefined);
    return URL.createObjectURL(blob);
  });
  queue = drawn.catch(() => undefined);
  return drawn;
}

// ms. A page that is busy for longer gets its pictures all the same.
const LONGEST_BUSY_MS = 3000;

// ms. What somebody waits for goes first, but not for ever.
const LONGEST_JOB_MS = 10_000;
const LOOK_AGAIN_MS = 10;

const boundsOfCorners = (corners: readonly Vec3[]): Bounds => boundsOfPoints(corners.flat()) as Bounds;

const shownBodies = (record: ComponentRecord, model: Model): Model['bodies'] =>
  model.bodies.filter((b) => record.bodies.find((e) => e.id === b.id)?.role !== 'left out');

function surfaceOf(role: BodyRole): MeshStandardMaterial {
  let surface = surfaces.get(role);
  if (!surface) {
    const { colour, metalness, roughness } = ROLE_LOOK[role];
    const color = new Color(colour);
    surface = new MeshStandardMaterial({ color, metalness, roughness, polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 });
    surfaces.set(role, surface);
  }
  return surface;
}

async function draw(shown: readonly Shown[], viewOf: (models: readonly Model[]) => Frame): Promise<Blob | undefined> {
  const models: Model[] = [];
  for (const { record } of shown) {
    const model = await loadModel(record.model.blob);
    if (!model) return undefined;
    models.push(model);
  }
  const bodies = shown.flatMap(({ record, pictureFromModel }, i) => shownBodies(record, models[i]).map((body) => ({ record, body, pictureFromModel })));
  const bounds = joinBounds(bodies.map(({ body, pictureFromModel }) => boundsOfCorners(boundsCorners(body.bbox).map((c) => move(pictureFromModel, c)))));
  if (!bounds) return undefined;
  renderer ??= new WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true });
  renderer.setSize(WIDTH, HEIGHT, false);
  const scene = new Scene();
  const group = new Group();
  for (const { record, body, pictureFromModel } of bodies) {
    const gpu = gpuBodyOf(body);
    const surface = surfaceOf(record.bodies.find((e) => e.id === body.id)?.role ?? 'tool body');
    const placed = new Group();
    placed.matrixAutoUpdate = false;
    placed.matrix.copy(matrixOfMotion(pictureFromModel));
    placed.add(new Mesh(gpu.surface, surface), new LineSegments(gpu.edges, EDGES));
    group.add(placed);
  }
  scene.add(group, new HemisphereLight('#ffffff', '#b9b2a4', 1.6));
  const view = viewOf(models);
  const target = boundsCentre(bounds);
  const away = boundsDiagonal(bounds) * 2;
  const up = yOf(view);
  const from = addScaled(addScaled(addScaled(target, view.x, 0.72 * away), up, 0.55 * away), view.z, 0.62 * away);
  const camera = new OrthographicCamera(-1, 1, 1, -1, -away, away * 4);
  camera.up.set(...up);
  camera.position.set(...from);
  camera.lookAt(...target);
  camera.updateMatrixWorld();
  const inverse = camera.matrixWorld.clone().invert();
  const points = bodies.flatMap(({ body, pictureFromModel }) =>
    boundsCorners(body.bbox).map((c) => new Vector3(...move(pictureFromModel, c)).applyMatrix4(inverse)),
  );
  // In the middle of the picture, and as large as it can be.
  const [x, y] = (['x', 'y'] as const).map((k) => [Math.min(...points.map((p) => p[k])), Math.max(...points.map((p) => p[k]))]);
  const half = (1.1 * Math.max(x[1] - x[0], ((y[1] - y[0]) * WIDTH) / HEIGHT)) / 2;
  const [cx, cy] = [(x[0] + x[1]) / 2, (y[0] + y[1]) / 2];
  Object.assign(camera, { left: cx - half, right: cx + half, top: cy + (half * HEIGHT) / WIDTH, bottom: cy - (half * HEIGHT) / WIDTH });
  camera.updateProjectionMatrix();
  const light = new DirectionalLight('#ffffff', 2.2);
  light.position.copy(camera.position).addScaledVector(new Vector3(...up), away * 0.5);
  light.target.position.set(...target);
  scene.add(light, light.target);
  renderer.render(scene, camera);
  await untilDrawn(renderer);
  const blob = await new Promise<Blob | null>((resolve) => renderer?.domElement.toBlob(resolve, 'image/png'));
  for (const { body } of bodies) releaseGpuBody(gpuBodyOf(body));
  return blob ?? undefined;
}

// To read a picture before it is drawn holds the page up until it is.
async function untilDrawn(by: WebGLRenderer): Promise<void> {
  const gl = by.getContext() as WebGL2RenderingContext;
  const fence = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
  if (!fence) return;
  gl.flush();
  while (gl.clientWaitSync(fence, 0, 0) === gl.TIMEOUT_EXPIRED) await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN_MS));
  gl.deleteSync(fence);
}
