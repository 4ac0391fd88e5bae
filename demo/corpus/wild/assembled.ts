// A model as an assembly of parts: each drawn in coordinates and units of its own, used once or several times, some under a group of their own.
import { exportSTEP, type Shape3D } from 'replicad';
import { compose, IDENTITY, invert, type Motion, rotationAbout, translation, turn, type Vec3 } from '#core/math';
import type { Random } from '../random.ts';
import { part21 } from './written.ts';

/** A part in the file's coordinates as it is used first, and the motions that bring it from there to all its uses, this one among them. */
export interface Part {
  readonly name: string;
  readonly shape: Shape3D;
  readonly uses: readonly Motion[];
}

interface Definition {
  readonly definition: number;
  readonly representation: number;
  readonly inch: boolean;
}

const AXES: readonly Vec3[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
  [0.6, 0, 0.8],
];

/** The text of a STEP file with these parts below one assembly; all but the first may stand in a group of their own. */
export async function assembledText(parts: readonly Part[], r: Random, asRead: (text: string) => string): Promise<string> {
  const lines: string[] = [];
  let last = 0;
  const add = (entity: string): number => {
    last++;
    lines.push(`#${last}=${entity};`);
    return last;
  };
  const context = add("APPLICATION_CONTEXT('configuration controlled 3d designs of mechanical parts and assemblies')");
  const productContext = add(`PRODUCT_CONTEXT('',#${context},'mechanical')`);
  const definitionContext = add(`PRODUCT_DEFINITION_CONTEXT('part definition',#${context},'design')`);
  const point = (p: Vec3, unit: number) => add(`CARTESIAN_POINT('',(${p.map((v) => real(v / unit)).join(',')}))`);
  const direction = (p: Vec3) => add(`DIRECTION('',(${p.map(real).join(',')}))`);
  const placement = (m: Motion, inch: boolean): number => {
    const [at, z, x] = [point(m.t, inch ? 25.4 : 1), direction(turn(m, [0, 0, 1])), direction(turn(m, [1, 0, 0]))];
    return add(`AXIS2_PLACEMENT_3D('',#${at},#${z},#${x})`);
  };
  const units = (inch: boolean): number => {
    const mm = add('(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))');
    let length = mm;
    if (inch) {
      const measure = add(`LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#${mm})`);
      const exponents = add('DIMENSIONAL_EXPONENTS(1.,0.,0.,0.,0.,0.,0.)');
      length = add(`(CONVERSION_BASED_UNIT('INCH',#${measure})LENGTH_UNIT()NAMED_UNIT(#${exponents}))`);
    }
    const angle = add('(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.))');
    const solid = add('(NAMED_UNIT(*)SI_UNIT($,.STERADIAN.)SOLID_ANGLE_UNIT())');
    const off = add(`UNCERTAINTY_MEASURE_WITH_UNIT(LENGTH_MEASURE(1.E-05),#${length},'distance_accuracy_value','')`);
    return add(
      `(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT((#${off}))GLOBAL_UNIT_ASSIGNED_CONTEXT((#${length},#${angle},#${solid}))REPRESENTATION_CONTEXT('',''))`,
    );
  };
  // A part drawn by itself, with the numbers of its lines shifted.
  const drawn = async (part: Part, partFromFile: (s: Shape3D) => Shape3D, inch: boolean): Promise<Definition> => {
    const shape = partFromFile(part.shape.clone());
    const text = asRead(await exportSTEP([{ shape, name: 'PART', color: '#8a8f96' }], { unit: inch ? 'INCH' : 'MM', modelUnit: 'MM' }).text());
    const data = text.slice(text.indexOf('DATA;') + 5, text.lastIndexOf('ENDSEC;')).replaceAll("'PART'", `'${part21(part.name)}'`);
    const shift = last;
    const moved = data.replace(/#(\d+)/g, (_, id: string) => {
      last = Math.max(last, Number(id) + shift);
      return `#${Number(id) + shift}`;
    });
    lines.push(moved.trim());
    const found = /SHAPE_DEFINITION_REPRESENTATION\(#(\d+),#(\d+)\)/.exec(moved);
    const definition = /#(\d+)\s*=\s*PRODUCT_DEFINITION\('/.exec(moved);
    if (!found || !definition) throw new Error('a part without a definition');
    return { definition: Number(definition[1]), representation: Number(found[2]), inch };
  };
  const group = (name: string, inch: boolean): Definition => {
    const product = add(`PRODUCT('${part21(name)}','${part21(name)}','',(#${productContext}))`);
    const formation = add(`PRODUCT_DEFINITION_FORMATION('','',#${product})`);
    const definition = add(`PRODUCT_DEFINITION('design','',#${formation},#${definitionContext})`);
    const shape = add(`PRODUCT_DEFINITION_SHAPE('','',#${definition})`);
    const own = placement(IDENTITY, inch);
    const representation = add(`SHAPE_REPRESENTATION('',(#${own}),#${units(inch)})`);
    add(`SHAPE_DEFINITION_REPRESENTATION(#${shape},#${representation})`);
    return { definition, representation, inch };
  };
  let count = 0;
  const use = (child: Definition, parent: Definition, parentFromChild: Motion): void => {
    count++;
    const usage = add(`NEXT_ASSEMBLY_USAGE_OCCURRENCE('${count}','use ${count}','',#${parent.definition},#${child.definition},$)`);
    const shape = add(`PRODUCT_DEFINITION_SHAPE('Placement','',#${usage})`);
    const by = add(`ITEM_DEFINED_TRANSFORMATION('','',#${placement(IDENTITY, child.inch)},#${placement(parentFromChild, parent.inch)})`);
    const related = add(
      `(REPRESENTATION_RELATIONSHIP('','',#${child.representation},#${parent.representation})REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(#${by})SHAPE_REPRESENTATION_RELATIONSHIP())`,
    );
    add(`CONTEXT_DEPENDENT_SHAPE_REPRESENTATION(#${related},#${shape})`);
  };

  const somewhere = () => ({ axis: r.pick(AXES), deg: r.round(-180, 180), by: [r.round(-200, 200), r.round(-200, 200), r.round(-200, 200)] as Vec3 });
  const motionOf = (p: ReturnType<typeof somewhere>): Motion => compose(translation(p.by), rotationAbout([0, 0, 0], p.axis, (p.deg * Math.PI) / 180));
  const root = group('Assembly', r.chance(0.3));
  const grouped = parts.length > 1 && r.chance(0.6) ? group('Group', r.chance(0.4)) : undefined;
  const fileFromGroup = grouped ? motionOf(somewhere()) : IDENTITY;
  for (const [i, part] of parts.entries()) {
    const own = somewhere();
    const back = (s: Shape3D) => s.translate([-own.by[0], -own.by[1], -own.by[2]]).rotate(-own.deg, [0, 0, 0], [...own.axis] as [number, number, number]);
    const definition = await drawn(part, back, r.chance(0.4));
    for (const motion of part.uses) {
      const fileFromPart = compose(motion, motionOf(own));
      if (grouped && i > 0) use(definition, grouped, compose(invert(fileFromGroup), fileFromPart));
      else use(definition, root, fileFromPart);
    }
  }
  if (grouped) use(grouped, root, fileFromGroup);
  return [
    'ISO-10303-21;',
    'HEADER;',
    "FILE_DESCRIPTION((''),'2;1');",
    "FILE_NAME('','2026-05-02T08:00:00',(''),(''),'','','');",
    "FILE_SCHEMA(('AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF {1 0 10303 442 1 1 4 }'));",
    'ENDSEC;',
    'DATA;',
    ...lines,
    'ENDSEC;',
    'END-ISO-10303-21;',
    '',
  ].join('\n');
}

const real = (v: number): string => {
  const text = String(Number((Math.abs(v) < 1e-14 ? 0 : v).toPrecision(15)));
  return /e/i.test(text) ? text.toUpperCase().replace(/^(-?\d+)E/, '$1.E') : text.includes('.') ? text : `${text}.`;
};
