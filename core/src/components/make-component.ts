import { addScaled, IDENTITY_FRAME } from '#core/math';
import { faultsOfShape, type HalfProfile, boxOfPath } from '#core/outline';
import { type Designation, isInsertCode, LONG_SHAPES, readDesignation } from '#core/standards';
import { Filling } from './filling.ts';
import { insertForm } from './kinds/insert.ts';
import { groovingBar, groovingHolder, groovingInsert, partingBlade } from './kinds/grooving.ts';
import { solidBar } from './kinds/solid-bar.ts';
import { threadingInsert, threadingTool } from './kinds/threading.ts';
import { usualTeeth } from './kinds/teeth.ts';
import { arborForm, colletForm, type Holding, sleeveForm } from './kinds/holding.ts';
import { ROTATING } from './kinds/rotating.ts';
import type { Rotating } from './kinds/rotating-form.ts';
import { type TurningForm, turningForm } from './kinds/turning.ts';
import type { MadePart, PlacedTip, Unmade } from './made-part.ts';
import type { ComponentSpec } from './spec-schema.ts';
import { turnedShape } from './turned.ts';
import { type ValueName, VALUES, type Values } from './values.ts';
import { threadIn } from './words/threads.ts';

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
  return { ok: true, part: { ...drawn, values: f.values, derived: f.derived, assumed: f.assumed, confirmed: f.confirmed, warnings: f.notes } };
}

type Drawn = Omit<MadePart, 'values' | 'derived' | 'assumed' | 'confirmed' | 'warnings'>;

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
    case 'grooving insert': {
      const made = groovingInsert(f);
      return made && { ...made, role: 'insert', seats: [], without: 'its clearance, and what is ground behind its edge' };
    }
    case 'threading insert': {
      const made = threadingInsert(f, spec.inside);
      return made && { name: made.name, role: 'insert', shape: made.shape, mount: made.mount, seats: [], tips: made.tips, without: made.without };
    }
    case 'grooving holder':
    case 'grooving bar':
    case 'parting blade': {
      const isBar = spec.kind === 'grooving bar';
      const made = isBar ? groovingBar(f, spec.hand) : spec.kind === 'parting blade' ? partingBlade(f) : groovingHolder(f, spec.hand);
      return made && { ...made, role: isBar ? 'boring bar' : 'turning tool', seats: [] };
    }
    case 'threading holder': {
      const made = threadingTool(f, spec.hand, spec.inside);
      return made && oneTip(made, spec.inside ? 'boring bar' : 'turning tool');
    }
    case 'solid bar': {
      const made = solidBar(f, spec.hand);
      return made && oneTip(made, 'boring bar');
    }
    case 'arbor':
      return held(arborForm(f), 'holder');
    case 'collet':
      return held(colletForm(f, spec.size), 'holder');
    case 'sleeve':
      return held(sleeveForm(f), 'adapter');
    case 'turning holder':
    case 'boring bar':
      return turningOf(spec, code, f);
    default: {
      const form = ROTATING[spec.kind]?.(f);
      const teeth = usualTeeth(spec.kind, f.get('DC') ?? 0);
      if (form && teeth !== undefined) f.assume('NOF', teeth, 'usual for its diameter');
      return form && cutterOf({ ...form, name: threadName(spec, f.values) ?? form.name }, f.values);
    }
  }
}

const oneTip = ({ tip, ...rest }: TurningForm & { readonly name: string }, role: Drawn['role']): Drawn => ({ ...rest, role, seats: [], tips: [tip] });

// Other threads than metric ones are called by their names, as long as their numbers are theirs.
function threadName({ kind, thread }: ComponentSpec, { TD = 0, TP = 0 }: Values): string | undefined {
  const named = thread === '' ? undefined : threadIn(thread.toLowerCase());
  const isIt = named && Math.abs(named.diameter - TD) < 0.01 && Math.abs((named.pitch ?? TP) - TP) < 0.01;
  return isIt ? `${kind === 'tap' ? 'Tap' : 'Thread mill'} ${named.name}` : undefined;
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

function cutterOf({ profile, cutting, name, without, mount, tip }: Rotating, values: Values): Drawn {
  const connection = mount ?? { standard: 'cylindrical' as const, size: values.DCON ?? 0 };
  return {
    name,
    role: 'cutter',
    shape: turnedShape(profile, cutting, name),
    mount: { connection, frame: IDENTITY_FRAME, evidence: mount ? 'its seat on the arbor' : `its shank of ${connection.size}, at the end` },
    seats: [],
    tips: [tip ? besideTip(tip) : axisTip(profile)],
    without,
  };
}

// At its largest diameter in front, in the plane that a spinning tool is measured in.
const besideTip = ({ noseRadius, z, r }: NonNullable<Rotating['tip']>): PlacedTip => ({
  noseRadius,
  noseCentre: [r - noseRadius, 0, z - noseRadius],
  towards: [Math.SQRT1_2, 0, Math.SQRT1_2],
  rake: [0, 1, 0],
  evidence: 'its corner, where it is as wide as it cuts',
});

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
  if (LONG_SHAPES.has(d.insertShape) && isInsertCode(d)) set('L', d.edgeLength);
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
