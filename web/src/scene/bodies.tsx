import { useEffect, useMemo } from 'react';
import { DoubleSide, FrontSide, Matrix4 } from 'three';
import type { Motion, Vec3 } from '#core/math';
import { type BodyGeometry, cornerOf, edgePolyline } from '#core/mesh';
import type { BodyRole } from '#core/records';
import { FatLine } from './fat-line.tsx';
import { faceGeometry, type GpuBody, gpuBodyOf, releaseGpuBody } from './gpu-geometry.ts';
import { bodyOf, type PickRef, type StageItem } from './picks.ts';

/** Colour and finish of each role; the label beside it tells the role as well. */
export const ROLE_LOOK: Record<BodyRole, { colour: string; metalness: number; roughness: number }> = {
  'tool body': { colour: '#68727c', metalness: 0.25, roughness: 0.55 },
  cutting: { colour: '#b4173f', metalness: 0.15, roughness: 0.35 },
  hardware: { colour: '#c9c1b0', metalness: 0.1, roughness: 0.8 },
  'left out': { colour: '#9aa0a4', metalness: 0, roughness: 1 },
};

export const matrixOfMotion = ({ r, t }: Motion): Matrix4 =>
  new Matrix4().set(r[0], r[1], r[2], t[0], r[3], r[4], r[5], t[1], r[6], r[7], r[8], t[2], 0, 0, 0, 1);

// What draws stages outlives them: what a body took of the graphics card is given back with it. Where it is shown again it is brought there anew.
function useGpuBody(body: BodyGeometry): GpuBody {
  const gpu = gpuBodyOf(body);
  useEffect(() => () => releaseGpuBody(gpu), [gpu]);
  return gpu;
}

function Body({ body, role, edgeColour, colour }: { body: BodyGeometry; role: BodyRole; edgeColour: string; colour?: string }) {
  const { surface, edges } = useGpuBody(body);
  const look = ROLE_LOOK[role];
  const ghost = role === 'left out';
  return (
    <>
      {!ghost && (
        <mesh geometry={surface}>
          <meshStandardMaterial
            color={colour ?? look.colour}
            metalness={look.metalness}
            roughness={look.roughness}
            side={FrontSide}
            polygonOffset
            polygonOffsetFactor={1}
            polygonOffsetUnits={1}
          />
        </mesh>
      )}
      <lineSegments geometry={edges}>
        <lineBasicMaterial color={ghost ? look.colour : edgeColour} transparent opacity={ghost ? 0.7 : 0.55} />
      </lineSegments>
    </>
  );
}

/** One model at its place; only what is not hidden. */
export function ItemBodies({ item, edgeColour }: { item: StageItem; edgeColour: string }) {
  const matrix = useMemo(() => matrixOfMotion(item.stageFromModel), [item.stageFromModel]);
  return (
    <group matrix={matrix} matrixAutoUpdate={false}>
      {item.model.bodies
        .filter((b) => !item.hidden.has(b.id))
        .map((b) => (
          <Body key={b.id} body={b} role={item.roles[b.id] ?? 'tool body'} edgeColour={edgeColour} colour={item.colours?.[b.id]} />
        ))}
      {(item.faceColours ?? []).map((c) => {
        const body = item.model.bodies.find((b) => b.id === c.body);
        return body && !item.hidden.has(body.id) ? (
          <TintedFaces key={`${c.body} ${c.colour} ${c.faces.join()}`} body={body} faces={c.faces} colour={c.colour} />
        ) : null;
      })}
    </group>
  );
}

/** A model to be seen through, with its edges: laid over what it was made of. */
export function ItemOver({ item, colour }: { item: StageItem; colour: string }) {
  const matrix = useMemo(() => matrixOfMotion(item.stageFromModel), [item.stageFromModel]);
  return (
    <group matrix={matrix} matrixAutoUpdate={false}>
      {item.model.bodies.map((b) => (
        <BodyOver key={b.id} body={b} colour={colour} />
      ))}
    </group>
  );
}

function BodyOver({ body, colour }: { body: BodyGeometry; colour: string }) {
  const { surface, edges } = useGpuBody(body);
  return (
    <>
      <mesh geometry={surface} renderOrder={2}>
        <meshBasicMaterial color={colour} transparent opacity={0.22} depthWrite={false} side={FrontSide} />
      </mesh>
      <lineSegments geometry={edges} renderOrder={3}>
        <lineBasicMaterial color={colour} />
      </lineSegments>
    </>
  );
}

/** A face, an edge or a corner, lit up. */
export function Highlight({ items, pick, colour, size }: { items: readonly StageItem[]; pick: PickRef; colour: string; size: number }) {
  const found = bodyOf(items, pick);
  if (!found) return null;
  const { item, body } = found;
  return (
    <group matrix={matrixOfMotion(item.stageFromModel)} matrixAutoUpdate={false}>
      {pick.kind === 'face' ? (
        <LitFaces body={body} faces={[pick.index]} colour={colour} />
      ) : pick.kind === 'edge' ? (
        <FatLine points={pointsOf(edgePolyline(body, pick.index))} colour={colour} width={4} renderOrder={3} />
      ) : (
        <mesh position={cornerOf(body, pick.index)} renderOrder={3}>
          <sphereGeometry args={[size * 0.03, 16, 12]} />
          <meshBasicMaterial color={colour} depthTest={false} />
        </mesh>
      )}
    </group>
  );
}

function useFaceGeometry(body: BodyGeometry, faces: readonly number[]) {
  const key = faces.join();
  // biome-ignore lint: the faces are their numbers
  const geometry = useMemo(() => faceGeometry(body, key === '' ? [] : key.split(',').map(Number)), [body, key]);
  // Only the index is its own; the corners belong to the body.
  useEffect(() => () => geometry.dispose(), [geometry]);
  return geometry;
}

/** Faces lit up over the body. */
export function LitFaces({ body, faces, colour, opacity = 0.55 }: { body: BodyGeometry; faces: readonly number[]; colour: string; opacity?: number }) {
  const geometry = useFaceGeometry(body, faces);
  return (
    <mesh geometry={geometry} renderOrder={2}>
      <meshBasicMaterial color={colour} transparent opacity={opacity} polygonOffset polygonOffsetFactor={-2} polygonOffsetUnits={-2} side={DoubleSide} />
    </mesh>
  );
}

// Faces in a colour of their own, with the body's finish.
function TintedFaces({ body, faces, colour }: { body: BodyGeometry; faces: readonly number[]; colour: string }) {
  const geometry = useFaceGeometry(body, faces);
  return (
    <mesh geometry={geometry} renderOrder={1}>
      <meshStandardMaterial color={colour} metalness={0.2} roughness={0.5} side={FrontSide} />
    </mesh>
  );
}

/** The faces of an item that something rests on. */
export function Evidence({ item, faces }: { item: StageItem; faces: readonly { readonly body: string; readonly face: number }[] }) {
  const bodies = [...new Set(faces.map((f) => f.body))];
  return (
    <group matrix={matrixOfMotion(item.stageFromModel)} matrixAutoUpdate={false}>
      {bodies.map((id) => {
        const body = item.model.bodies.find((b) => b.id === id);
        return body ? <LitFaces key={id} body={body} faces={faces.filter((f) => f.body === id).map((f) => f.face)} colour="#1c9a8c" opacity={0.42} /> : null;
      })}
    </group>
  );
}

function pointsOf(packed: Float64Array): Vec3[] {
  return Array.from({ length: packed.length / 3 }, (_, i): Vec3 => [packed[3 * i], packed[3 * i + 1], packed[3 * i + 2]]);
}
