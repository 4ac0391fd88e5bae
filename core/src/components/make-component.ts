import { addScaled, IDENTITY_FRAME } from '#core/math';
import { faultsOfShape, type HalfProfile, boxOfPath } from '#core/outline';
import { type Designation, readDesignation } from '#core/standards';
import { Filling } from './filling.ts';
import { insertForm } from './kinds/insert.ts';
import { colletForm, type Holding, sleeveForm } from './kinds/holding.ts';
import { ROTATING, type Rotating } from './kinds/rotating.ts';
import { turningForm } from './kinds/turning.ts';
import type { MadePart, PlacedTip, Unmade } from './made-part.ts';
import type { ComponentSpec } from './spec-schema.ts';
import { turnedShape } from './turned.ts';
import { type ValueName, VALUES, type Values } from './values.ts';

export type Made = { readonly ok: true; readonly part: MadePart } | ({ readonly ok: false; readonly open: readonly string[] } & Unmade);

/** Makes what a specification says: fills its numbers, finds contradictions, and draws it. */
export function makeComponent(spec: ComponentSpec): Made {
  const code = spec.designation ? readDesignation(spec.designation) : undefined;
  const read = code?.ok ? code.value : undefined;
  const f = new Filling({ ...(read ? valuesOfDesignation(read) : {}), ...spec.values });
  const drawn = draw(spec, read, f);
  const isWhole = f.missing.length === 0 && f.conflicts.length === 0 && f.open.length === 0;
  if (!drawn || !isWhole) return { ok: false, missing: [...new Set(f.missing)], conflicts: f.conflicts, open: f.open };
  const [fault] = faultsOfShape(drawn.shape);
  if (fault !== undefined) return { ok: false, missing: [], conflicts: [], open: [`numbers that make a shape: ${fault}`] };
  return { ok: true, part: { ...drawn, values: f.values, derived: f.derived, assumed: f.assumed, warnings: f.notes } };
}

type Drawn = Omit<MadePart, 'values' | 'derived' | 'assumed' | 'warnings'>;

function draw(spec: ComponentSpec, code: Designation | undefined, f: Filling): Drawn | undefined {
  switch (spec.kind) {
    case 'insert': {
      const shape = spec.shape || code?.insertShape || '';
      if (!shape) return void f.unsaid('the letter of its shape');
      const form = insertForm(f, shape, code);
      return (
        form && {
          name: code?.code ?? `Insert ${shape}`,
          role: 'insert',
          shape: form.shape,
          mount: form.mount,
          seats: [],
          tips: form.tips,
          without: form.without,
        }
      );
    }
    case 'collet':
      return held(colletForm(f, spec.size), 'holder');
    case 'sleeve':
      return held(sleeveForm(f), 'adapter');
    case 'turning holder':
    case 'boring bar':
      return turningOf(spec, code, f);
    default: {
      const form = ROTATING[spec.kind]?.(f);
      return form && cutterOf(form, f.values);
    }
  }
}

function turningOf(spec: ComponentSpec, code: Designation | undefined, f: Filling): Drawn | undefined {
  const isInside = spec.kind === 'boring bar';
  const form = turningForm(f, code, code?.hand ?? spec.hand, isInside);
  return (
    form && {
      name: code?.code ?? spec.kind,
      role: isInside ? 'boring bar' : 'turning tool',
      shape: form.shape,
      mount: form.mount,
      seats: [],
      tips: [form.tip],
      without: form.without,
    }
  );
}

const held = (form: Holding | undefined, role: 'holder' | 'adapter'): Drawn | undefined =>
  form && {
    name: form.name,
    role,
    shape: turnedShape(form.profile, 0, 'Body'),
    mount: form.mount,
    seats: [form.seat],
    tips: [],
    without: form.without,
  };

function cutterOf({ profile, cutting, name, without }: Rotating, values: Values): Drawn {
  const size = values.DCON ?? 0;
  return {
    name,
    role: 'cutter',
    shape: turnedShape(profile, cutting, name),
    mount: { connection: { standard: 'cylindrical', size }, frame: IDENTITY_FRAME, evidence: `its shank of ${size}, at the end` },
    seats: [],
    tips: [axisTip(profile)],
    without,
  };
}

const axisTip = (profile: HalfProfile): PlacedTip => ({
  noseRadius: 0,
  noseCentre: addScaled([0, 0, 0], [0, 0, 1], boxOfPath(profile.flat())[2]),
  evidence: 'where it ends on its axis',
});

// What a designation says, by the names of ISO 13399.
function valuesOfDesignation(d: Designation): Values {
  const out: Partial<Record<ValueName, number>> = {};
  const set = (name: ValueName, value: number | undefined) => {
    if (value !== undefined) out[name] = value;
  };
  set('IC', d.inscribedCircle);
  set('S', d.thickness);
  set('AN', d.clearance);
  // Of a round insert it follows.
  if (d.insertShape !== 'R') set('RE', d.noseRadius);
  set('KAPR', d.enteringAngle);
  set('H', d.shankHeight);
  set('B', d.shankWidth);
  set('DCON', d.shankDiameter);
  set('LF', d.toolLength);
  set('WF', d.functionalWidth);
  return out;
}

/** Why nothing can be made, in sentences. */
export const sayUnmade = ({ missing, conflicts, open }: Extract<Made, { ok: false }>): string[] => [
  ...conflicts.map((c) => `${c.name}: ${c.message}`),
  ...missing.map((name) => `${name} is missing: ${VALUES[name].meaning}`),
  ...open.map((text) => `${text} is not said`),
];
