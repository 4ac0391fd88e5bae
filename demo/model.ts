import type { Shape3D } from 'replicad';
import type { Frame, Vec3 } from '#core/math';
import type { BodyRole, ComponentRecord } from '#core/records';
import type { ConnectionSize } from '#core/standards';

interface Marked {
  readonly name: string;
  readonly connection: ConnectionSize;
  readonly frame: Frame;
}

/** A demo model in its own mount frame, the odd pose that its file has, and the truth about it. */
export interface DemoModel {
  readonly file: string;
  readonly unit: 'mm' | 'inch';
  readonly name: string;
  readonly kind: ComponentRecord['componentKind'];
  readonly bodies: readonly { shape: Shape3D; name: string; colour: string; role: BodyRole }[];
  readonly pose: { readonly rotate: readonly { axis: Vec3; deg: number }[]; readonly move: Vec3 };
  readonly mount: Marked;
  readonly seats: readonly (Marked & { readonly id: string })[];
  readonly tips: readonly { id: string; name: string; noseRadius: number; noseCentre: Vec3 }[];
  readonly geometry: readonly { target: 'cutting' | 'non-cutting'; mode: 'auto' | 'exact' | 'revolved'; tolerance: number }[];
}
