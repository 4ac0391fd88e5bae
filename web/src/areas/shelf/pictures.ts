import localforage from 'localforage';
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
import { addScaled, boundsCentre, boundsCorners, boundsDiagonal, joinBounds, yOf } from '#core/math';
import type { Model } from '#core/mesh';
import { type ComponentRecord, hashPlain } from '#core/records';
import { ROLE_LOOK } from '../../scene/bodies.tsx';
import { gpuBodyOf } from '../../scene/gpu-geometry.ts';
import { viewFrameOf } from '../../scene/view.ts';
import { loadModel } from '../../store/models.ts';

const stored = localforage.createInstance({ name: 'ruota', storeName: 'pictures' });
const [WIDTH, HEIGHT] = [440, 300];
let renderer: WebGLRenderer | undefined;
let queue: Promise<unknown> = Promise.resolve();

/** A picture of a component as an object URL; drawn once for each look and kept. Undefined where its model is gone. */
export function pictureOf(record: ComponentRecord): Promise<string | undefined> {
  const key = hashPlain({
    model: record.model.blob,
    roles: record.bodies.map((b) => b.role),
    mount: record.mount?.frame ?? null,
    tips: record.tips.length,
    look: 3,
  });
  const drawn = queue.then(async () => {
    const known = await stored.getItem<Blob>(key).catch(() => null);
    const blob = known ?? (await draw(record));
    if (blob && !known) await stored.setItem(key, blob).catch(() => undefined);
    return blob ? URL.createObjectURL(blob) : undefined;
  });
  queue = drawn.catch(() => undefined);
  return drawn;
}

async function draw(record: ComponentRecord): Promise<Blob | undefined> {
  const model = await loadModel(record.model.blob);
  const shown = model?.bodies.filter((b) => record.bodies.find((e) => e.id === b.id)?.role !== 'left out') ?? [];
  const bounds = joinBounds(shown.map((b) => b.bbox));
  if (!bounds) return undefined;
  renderer ??= new WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true });
  renderer.setSize(WIDTH, HEIGHT, false);
  const scene = new Scene();
  const group = new Group();
  const made: (MeshStandardMaterial | LineBasicMaterial)[] = [];
  for (const body of shown) {
    const look = ROLE_LOOK[record.bodies.find((e) => e.id === body.id)?.role ?? 'tool body'];
    const gpu = gpuBodyOf(body);
    const surface = new MeshStandardMaterial({
      color: new Color(look.colour),
      metalness: look.metalness,
      roughness: look.roughness,
      polygonOffset: true,
      polygonOffsetFactor: 1,
      polygonOffsetUnits: 1,
    });
    const lines = new LineBasicMaterial({ color: '#22303a', transparent: true, opacity: 0.5 });
    made.push(surface, lines);
    group.add(new Mesh(gpu.surface, surface), new LineSegments(gpu.edges, lines));
  }
  scene.add(group, new HemisphereLight('#ffffff', '#b9b2a4', 1.6));
  const view = viewFrameOf({ ...model, bodies: shown } as Model, record.mount?.frame, record.tips.length > 0);
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
  const points = boundsCorners(bounds).map((c) => new Vector3(...c).applyMatrix4(inverse));
  const half = 1.12 * Math.max(...points.map((p) => Math.max(Math.abs(p.x), (Math.abs(p.y) * WIDTH) / HEIGHT)));
  Object.assign(camera, { left: -half, right: half, top: (half * HEIGHT) / WIDTH, bottom: (-half * HEIGHT) / WIDTH });
  camera.updateProjectionMatrix();
  const light = new DirectionalLight('#ffffff', 2.2);
  light.position.copy(camera.position).addScaledVector(new Vector3(...up), away * 0.5);
  light.target.position.set(...target);
  scene.add(light, light.target);
  renderer.render(scene, camera);
  const blob = await new Promise<Blob | null>((resolve) => renderer?.domElement.toBlob(resolve, 'image/png'));
  for (const material of made) material.dispose();
  return blob ?? undefined;
}
