import { beforeAll, describe, expect, it } from '@jest/globals';
import { hasBrep, type Kernel, loadKernel, NO_WORK, OpenModel, readModelFile } from './index.ts';
import type { Model } from '#core/mesh';

// A file as a system may write it: entities one by one, of a hexagonal bar (corners on a circle of 10, 30 long) and of a wedge.
class Text {
  private readonly lines: string[] = [];
  add(entity: string): number {
    this.lines.push(`#${this.lines.length + 1}=${entity};`);
    return this.lines.length;
  }
  get bytes(): Uint8Array {
    const head = "ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('','',(''),(''),'','','');\n";
    const schema = "FILE_SCHEMA(('AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF'));\nENDSEC;\nDATA;\n";
    return new TextEncoder().encode(`${head}${schema}${this.lines.join('\n')}\nENDSEC;\nEND-ISO-10303-21;\n`);
  }
}
type Lists = readonly (readonly number[])[];
const list = (of: Lists) => `(${of.map((l) => `(${l.join(',')})`).join(',')})`;
const refs = (ids: readonly number[]) => `(${ids.map((id) => `#${id}`).join(',')})`;

const RING = [0, 1, 2, 3, 4, 5].map((k) => [Math.cos((k * Math.PI) / 3), Math.sin((k * Math.PI) / 3)]);
const HEXAGON: Lists = [0, 30].flatMap((z) => RING.map(([x, y]) => [10 * x, 10 * y, z]));
const HEXAGON_AREA = 1.5 * Math.sqrt(3) * 100;
const coordinates = (text: Text, of: Lists) => text.add(`COORDINATES_LIST('',${of.length},${list(of)})`);

// One list of corners for all faces: the sides as a strip, by way of the face's own numbers, the ends as fans.
function hexagon(text: Text, name: string): number {
  const all = coordinates(text, HEXAGON);
  const side = '(7,1,8,2,9,3,10,4,11,5,12,6)';
  const strip = [...Array.from({ length: 12 }, (_, i) => i + 1), 1, 2].join(',');
  const sides = text.add(`COMPLEX_TRIANGULATED_FACE('',#${all},12,(),$,${side},((${strip})),())`);
  const bottom = text.add(`COMPLEX_TRIANGULATED_FACE('',#${all},6,((0.,0.,-1.)),$,(6,5,4,3,2,1),(),((1,2,3,4,5,6)))`);
  const top = text.add(`COMPLEX_TRIANGULATED_FACE('',#${all},6,((0.,0.,1.)),$,(),(),((7,8,9,10,11,12)))`);
  return text.add(`TESSELLATED_SOLID('${name}',${refs([sides, bottom, top])},$)`);
}
// A tetrahedron of plain triangles, each face with corners of its own; its right angle at the origin, legs of 3, 4 and 5.
function wedge(text: Text, name: string, corner = 3): number {
  const [o, a, b, c] = [
    [0, 0, 0],
    [3, 0, 0],
    [0, 4, 0],
    [0, 0, 5],
  ];
  const faces = [
    [o, b, a],
    [o, a, c],
    [o, c, b],
    [a, b, c],
  ].map((corners) => text.add(`TRIANGULATED_FACE('',#${coordinates(text, corners)},3,(),$,(),((1,2,${corner})))`));
  return text.add(`TESSELLATED_SOLID('${name}',${refs(faces)},$)`);
}
function context(text: Text, unit: 'mm' | 'inch'): number {
  const mm = text.add('(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))');
  const inch = () =>
    text.add(`(CONVERSION_BASED_UNIT('INCH',#${text.add(`LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#${mm})`)})LENGTH_UNIT()NAMED_UNIT($))`);
  const of = unit === 'mm' ? mm : inch();
  return text.add(`(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNIT_ASSIGNED_CONTEXT((#${of}))REPRESENTATION_CONTEXT('',''))`);
}
const placement = (text: Text, name: string, at: string, z: string, x: string) =>
  text.add(
    `AXIS2_PLACEMENT_3D('${name}',#${text.add(`CARTESIAN_POINT('',(${at}))`)},#${text.add(`DIRECTION('',(${z}))`)},#${text.add(`DIRECTION('',(${x}))`)})`,
  );
function product(text: Text, name: string, items: readonly number[], inContext: number, type = 'TESSELLATED_SHAPE_REPRESENTATION') {
  const formation = text.add(`PRODUCT_DEFINITION_FORMATION('','',#${text.add(`PRODUCT('${name}','${name}','',())`)})`);
  const definition = text.add(`PRODUCT_DEFINITION('','',#${formation},$)`);
  const representation = text.add(`${type}('',${refs(items)},#${inContext})`);
  text.add(`SHAPE_DEFINITION_REPRESENTATION(#${text.add(`PRODUCT_DEFINITION_SHAPE('','',#${definition})`)},#${representation})`);
  return { definition, representation };
}
const bare = (make: (text: Text) => void): Uint8Array => {
  const text = new Text();
  make(text);
  return text.bytes;
};

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
const open = async (bytes: Uint8Array, scale = 1): Promise<{ model: Model; said: string[] }> => {
  const r = await readModelFile(kernel, bytes, 'tool.stp', { work: { ...NO_WORK, scale } });
  if (!r.ok) throw new Error(r.issues[0].code);
  return { model: r.value.model, said: r.value.warnings.map((w) => w.code) };
};
const refusal = async (bytes: Uint8Array) => {
  const r = await readModelFile(kernel, bytes, 'tool.stp');
  return r.ok ? undefined : r.issues[0];
};
const boxOf = (model: Model, body: number) => [...model.bodies[body].bbox.min, ...model.bodies[body].bbox.max];
const expectBox = (model: Model, body: number, box: readonly number[]) => boxOf(model, body).forEach((v, i) => expect(v).toBeCloseTo(box[i], 9));

describe('a STEP file of triangles', () => {
  it('strips, fans and the numbers of a face’s own corners make the bodies that they say, with names and colours', async () => {
    const { model, said } = await open(
      bare((text) => {
        const [bar, tip] = [hexagon(text, 'Bar'), wedge(text, '')];
        product(text, 'Tip 3', [bar, tip], context(text, 'mm'));
        const style = text.add(`FILL_AREA_STYLE_COLOUR('',#${text.add("COLOUR_RGB('',0.,0.5,1.)")})`);
        text.add(`STYLED_ITEM('',(#${style}),#${bar})`);
      }),
    );
    expect(said).toEqual(['step.triangles']);
    expect(model).toMatchObject({ format: 'step', unit: 'mm', unitScale: 1, chordTolerance: 0 });
    expect(model.bodies.map((b) => [b.name, b.colour, b.closed, b.faces.length])).toEqual([
      ['Bar', '#0080ff', true, 8],
      ['Tip 3', undefined, true, 4],
    ]);
    expect(model.bodies[0].volume).toBeCloseTo(HEXAGON_AREA * 30, 9);
    expect(model.bodies[1].volume).toBeCloseTo((3 * 4 * 5) / 6, 9);
    expectBox(model, 1, [0, 0, 0, 3, 4, 5]);
  });

  it('shells of a solid are its own, a shell alone is a body; faces and layers tell colour and what cuts', async () => {
    const { model } = await open(
      bare((text) => {
        const faces = (of: number) => [of - 3, of - 2, of - 1];
        const bar = hexagon(text, '');
        const inShell = text.add(`TESSELLATED_SHELL('',${refs(faces(bar))},$)`);
        const solid = text.add(`TESSELLATED_SOLID('Insert',(#${inShell}),$)`);
        const alone = text.add(`TESSELLATED_SHELL('Holder',${refs(faces(hexagon(text, '')))},$)`);
        text.add(`PRESENTATION_LAYER_ASSIGNMENT('CUT','',(#${solid}))`);
        text.add(`PRESENTATION_LAYER_ASSIGNMENT('NOCUT','',(#${alone}))`);
        const yellow = text.add("DRAUGHTING_PRE_DEFINED_COLOUR('yellow')");
        for (const face of faces(bar)) text.add(`STYLED_ITEM('',(#${yellow}),#${face})`);
      }),
    );
    // The two bars that were written first are bodies too.
    expect(model.bodies.map((b) => [b.name, b.colour])).toEqual([
      ['Body 1', '#ffff00'],
      ['Insert CUT', '#ffff00'],
      ['Body 3', undefined],
      ['Holder NOCUT', undefined],
    ]);
    for (const { volume } of model.bodies) expect(volume).toBeCloseTo(HEXAGON_AREA * 30, 9);
  });

  it('inches are inches, an assembly has its parts where it puts them, and coordinate systems are found', async () => {
    const bytes = bare((text) => {
      const [inch, mm] = [context(text, 'inch'), context(text, 'mm')];
      const origin = placement(text, '', '0.,0.,0.', '0.,0.,1.', '1.,0.,0.');
      const tip = product(text, 'Tip', [wedge(text, ''), origin], inch);
      // Once as it is, 100 mm along, and once turned a quarter about Z.
      const places = [placement(text, '', '0.,0.,100.', '0.,0.,1.', '1.,0.,0.'), placement(text, '', '10.,0.,0.', '0.,0.,1.', '0.,1.,0.')];
      const whole = product(text, 'Whole', [origin, placement(text, 'MCS', '1.,2.,3.', '0.,0.,1.', '1.,0.,0.'), ...places], mm, 'SHAPE_REPRESENTATION');
      for (const at of places) {
        const usage = text.add(`NEXT_ASSEMBLY_USAGE_OCCURRENCE('','','',#${whole.definition},#${tip.definition},$)`);
        const by = text.add(`ITEM_DEFINED_TRANSFORMATION('','',#${origin},#${at})`);
        const with_ = `REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(#${by})SHAPE_REPRESENTATION_RELATIONSHIP()`;
        const relation = text.add(`(REPRESENTATION_RELATIONSHIP('','',#${tip.representation},#${whole.representation})${with_})`);
        text.add(`CONTEXT_DEPENDENT_SHAPE_REPRESENTATION(#${relation},#${text.add(`PRODUCT_DEFINITION_SHAPE('','',#${usage})`)})`);
      }
    });
    const { model } = await open(bytes);
    expect(model.unit).toBe('mm');
    expect(model.bodies.map((b) => b.name)).toEqual(['Tip 1', 'Tip 2']);
    expectBox(model, 0, [0, 0, 100, 3 * 25.4, 4 * 25.4, 100 + 5 * 25.4]);
    expectBox(model, 1, [10 - 4 * 25.4, 0, 0, 10, 3 * 25.4, 5 * 25.4]);
    for (const { volume } of model.bodies) expect(volume / 25.4 ** 3).toBeCloseTo(10, 9);
    expect(model.placements?.map((p) => [p.name, p.frame.origin])).toEqual([['MCS', [1, 2, 3]]]);
    // Taken as twice its size.
    const twice = await open(bytes, 2);
    expectBox(twice.model, 0, [0, 0, 200, 6 * 25.4, 8 * 25.4, 200 + 10 * 25.4]);
    expect(twice.model.placements?.[0].frame.origin).toEqual([2, 4, 6]);
  });

  it('is no B-rep: its triangles are what geometry is made of, and no STEP file is written of them', async () => {
    const bytes = bare((text) => product(text, 'Bar', [hexagon(text, '')], context(text, 'mm')));
    expect(hasBrep(bytes, 'tool.stp')).toBe(false);
    const opened = await OpenModel.open(kernel, bytes, 'tool.stp');
    if (!opened.ok) throw new Error(opened.issues[0].code);
    const sampled = opened.value.sample({ chordTolerance: 0.01 });
    expect(sampled.ok && sampled.value[0].chordTolerance).toBe(0);
    expect(sampled.ok && sampled.value[0].mesh.triangles.length / 3).toBe(20);
    opened.value.close();
  });

  it('a file that has true faces as well, or whose triangles are notes beside them, is read by these', () => {
    const withBrep = bare((text) => text.add(`MANIFOLD_SOLID_BREP('',#${hexagon(text, '')})`));
    expect(hasBrep(withBrep, 'tool.stp')).toBe(true);
    expect(
      hasBrep(
        bare((text) => text.add(`TESSELLATED_GEOMETRIC_SET('',(#${coordinates(text, [[0, 0, 0]])}))`)),
        'tool.stp',
      ),
    ).toBe(true);
  });

  it('what is damaged, of an unknown kind, or put elsewhere is refused with its place', async () => {
    expect(await refusal(bare((text) => wedge(text, '', 4)))).toMatchObject({ code: 'step.bad-triangles', values: { entity: '#2', index: '4', count: 3 } });
    expect(await refusal(bare((text) => wedge(text, '', 0)))).toMatchObject({ code: 'step.bad-triangles' });
    expect(await refusal(bare((text) => text.add(`TESSELLATED_SOLID('',(#${text.add("CUBIC_BEZIER_TRIANGULATED_FACE('')")}),$)`)))).toMatchObject({
      code: 'step.unknown-triangles',
      values: { entity: '#1', type: 'CUBIC_BEZIER_TRIANGULATED_FACE', line: 8 },
    });
    const mapped = (item: string) =>
      bare((text) => {
        const representation = text.add(`TESSELLATED_SHAPE_REPRESENTATION('',(${item === 'body' ? `#${wedge(text, '')}` : ''}),#${context(text, 'mm')})`);
        if (item !== 'body') wedge(text, '');
        text.add(`MAPPED_ITEM('',#${text.add(`REPRESENTATION_MAP(#1,#${representation})`)},#1)`);
      });
    expect(await refusal(mapped('body'))).toMatchObject({ code: 'step.moved-triangles' });
    // Notes may stand where they like.
    expect(await refusal(mapped('note'))).toBeUndefined();
    const repositioned = (text: Text) => text.add(`(REPOSITIONED_TESSELLATED_ITEM(#1)TESSELLATED_ITEM()TESSELLATED_SOLID((#${wedge(text, '')}),$))`);
    expect(await refusal(bare(repositioned))).toMatchObject({ code: 'step.moved-triangles', values: { line: expect.any(Number) } });
    expect(await refusal(bare((text) => text.add(`TESSELLATED_SOLID('',(#${text.add("TRIANGULATED_FACE('',#1,3,(),$,(),((1,2,3)))")}),$)`)))).toMatchObject({
      code: 'step.bad-triangles',
      values: { count: 0 },
    });
    const whole = bare((text) => wedge(text, ''));
    expect(await refusal(whole.subarray(0, whole.length - 60))).toMatchObject({ code: 'step.truncated' });
  });
});
