import { describe, expect, it } from '@jest/globals';
import { scanPart21 } from './part21.ts';
import { readStepFacts } from './step-facts.ts';

// An assembly in mm holds a group in mm, which holds a holder drawn in inches, once, and an insert, twice.
const UNITS = [
  "#1=(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNIT_ASSIGNED_CONTEXT((#3))REPRESENTATION_CONTEXT('',''));",
  "#2=(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNIT_ASSIGNED_CONTEXT((#4))REPRESENTATION_CONTEXT('',''));",
  '#3=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.));',
  "#4=(CONVERSION_BASED_UNIT('INCH',#5)LENGTH_UNIT()NAMED_UNIT($));",
  '#5=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#3);',
];
let last = 100;
const lines: string[] = [];
const add = (entity: string): number => {
  last++;
  lines.push(`#${last}=${entity};`);
  return last;
};
const placement = (name: string, at: string, z: string, x: string): number => {
  const [o, a, r] = [add(`CARTESIAN_POINT('',(${at}))`), add(`DIRECTION('',(${z}))`), add(`DIRECTION('',(${x}))`)];
  return add(`AXIS2_PLACEMENT_3D('${name}',#${o},#${a},#${r})`);
};
const own = () => placement('', '0.,0.,0.', '0.,0.,1.', '1.,0.,0.');
interface Part {
  readonly definition: number;
  readonly representation: number;
  readonly origin: number;
}
function part(name: string, context: 1 | 2, named: readonly number[] = [], more: readonly number[] = []): Part {
  const origin = own();
  const product = add(`PRODUCT('${name}','${name}','',())`);
  const definition = add(`PRODUCT_DEFINITION('','',#${add(`PRODUCT_DEFINITION_FORMATION('','',#${product})`)},$)`);
  const representation = add(`SHAPE_REPRESENTATION('',(${[origin, ...named, ...more].map((id) => `#${id}`).join(',')}),#${context})`);
  add(`SHAPE_DEFINITION_REPRESENTATION(#${add(`PRODUCT_DEFINITION_SHAPE('','',#${definition})`)},#${representation})`);
  return { definition, representation, origin };
}
// `swapped`: the second representation is the child's, as some systems write it.
function use(child: Part, parent: Part, at: number, swapped = false): void {
  const usage = add(`NEXT_ASSEMBLY_USAGE_OCCURRENCE('','','',#${parent.definition},#${child.definition},$)`);
  const shape = add(`PRODUCT_DEFINITION_SHAPE('','',#${usage})`);
  const [first, second] = swapped ? [at, child.origin] : [child.origin, at];
  const by = add(`ITEM_DEFINED_TRANSFORMATION('','',#${first},#${second})`);
  const [a, b] = swapped ? [parent, child] : [child, parent];
  const related = add(
    `(REPRESENTATION_RELATIONSHIP('','',#${a.representation},#${b.representation})REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(#${by})SHAPE_REPRESENTATION_RELATIONSHIP())`,
  );
  add(`CONTEXT_DEPENDENT_SHAPE_REPRESENTATION(#${related},#${shape})`);
}

function factsOf(make: () => void) {
  lines.length = 0;
  last = 100;
  make();
  const text = `ISO-10303-21;HEADER;FILE_SCHEMA(('X'));ENDSEC;DATA;${[...UNITS, ...lines].join('\n')}ENDSEC;END-ISO-10303-21;`;
  const scanned = scanPart21(text, 'x.step');
  if (!scanned.ok) throw new Error(JSON.stringify(scanned.issues));
  return readStepFacts(scanned.value);
}

describe('parts of an assembly', () => {
  it.each([false, true])(
    'coordinate systems by name of a part are told where the assembly has it, whatever its unit (written the other way round: %s)',
    (swapped) => {
      const { placements, unit } = factsOf(() => {
        const [inRoot, inGroup] = [placement('', '0.,0.,100.', '0.,0.,1.', '1.,0.,0.'), placement('', '10.,0.,0.', '0.,0.,1.', '0.,1.,0.')];
        const root = part('Tool', 1, [inRoot]);
        const group = part('Group', 1, [inGroup]);
        const holder = part('Holder', 2, [placement('MCS', '1.,0.,0.', '1.,0.,0.', '0.,0.,1.'), placement('CSW1', '0.,0.,2.', '0.,0.,1.', '1.,0.,0.')]);
        use(group, root, inRoot);
        use(holder, group, inGroup, swapped);
      });
      // One inch along the part's X is 25.4 along the group's Y, which stands 10 along X and 100 up.
      expect(unit).toBe('mm');
      expect(placements.map((p) => p.name)).toEqual(['MCS', 'CSW1']);
      const [mcs, csw] = placements.map((p) => p.frame);
      expect(mcs.origin.map((v) => Number(v.toFixed(9)))).toEqual([10, 25.4, 100]);
      expect(mcs.z.map((v) => Math.round(v * 1e9) / 1e9 + 0)).toEqual([0, 1, 0]);
      expect(mcs.x.map((v) => Math.round(v * 1e9) / 1e9 + 0)).toEqual([0, 0, 1]);
      expect(csw.origin.map((v) => Number(v.toFixed(9)))).toEqual([10, 0, 150.8]);
    },
  );
  it('an insert that is used twice has no one place, and its own mounting system is not the tool’s', () => {
    const { placements } = factsOf(() => {
      const places = [0, 1, 2].map((k) => placement('', `${10 * k}.,0.,0.`, '0.,0.,1.', '1.,0.,0.'));
      const root = part('Tool', 1, places);
      const holder = part('Holder', 1, [placement('MCS', '0.,0.,5.', '0.,0.,1.', '1.,0.,0.'), placement('CSW', '0.,0.,9.', '0.,0.,1.', '1.,0.,0.')]);
      const insert = part('Insert', 1, [placement('MCS', '0.,0.,1.', '0.,0.,1.', '1.,0.,0.'), placement('CRP', '3.,0.,0.', '0.,0.,1.', '1.,0.,0.')]);
      use(holder, root, places[0]);
      use(insert, root, places[1]);
      use(insert, root, places[2]);
    });
    expect(placements.map(({ name, frame }) => `${name} ${frame.origin.join()}`)).toEqual(['MCS 0,0,5', 'CSW 0,0,9']);
  });
  it('an insert that is used once gives its cutting point, and an assembly’s own systems count before those of its parts', () => {
    const make = (atRoot: boolean) =>
      factsOf(() => {
        const places = [0, 1].map((k) => placement('', `${10 * k}.,0.,0.`, '0.,0.,1.', '1.,0.,0.'));
        const root = part('Tool', 1, places, atRoot ? [placement('PCS', '0.,0.,-3.', '0.,0.,1.', '1.,0.,0.')] : []);
        const holder = part('Holder', 1, [placement('MCS', '0.,0.,5.', '0.,0.,1.', '1.,0.,0.'), placement('CSW', '0.,0.,9.', '0.,0.,1.', '1.,0.,0.')]);
        const insert = part('Insert', 1, [placement('MCS', '0.,0.,1.', '0.,0.,1.', '1.,0.,0.'), placement('CRP', '3.,0.,0.', '0.,0.,1.', '1.,0.,0.')]);
        use(holder, root, places[0]);
        use(insert, root, places[1]);
      }).placements.map(({ name, frame }) => `${name} ${frame.origin.join()}`);
    expect(make(false)).toEqual(['MCS 0,0,5', 'CSW 0,0,9', 'CRP 13,0,0']);
    expect(make(true)).toEqual(['PCS 0,0,-3']);
  });
  it('parts that hold each other end, and a part that is nowhere placed has no place', () => {
    const { placements } = factsOf(() => {
      const places = [placement('', '1.,0.,0.', '0.,0.,1.', '1.,0.,0.')];
      const root = part('Tool', 1, places);
      const a = part('A', 1, [placement('MCS', '0.,0.,5.', '0.,0.,1.', '1.,0.,0.')]);
      use(a, root, places[0]);
      use(root, a, places[0]);
      const lost = part('Lost', 1, [placement('MCS', '0.,0.,7.', '0.,0.,1.', '1.,0.,0.')]);
      add(`NEXT_ASSEMBLY_USAGE_OCCURRENCE('','','',#${root.definition},#${lost.definition},$)`);
    });
    expect(placements).toEqual([]);
  });
  it('a coordinate system by which a part is placed stays in the text that the kernel reads, others go', () => {
    const read = (name: string) =>
      factsOf(() => {
        const at = placement(name, '1.,0.,0.', '0.,0.,1.', '1.,0.,0.');
        const root = part('Tool', 1, [at], [placement('PCS', '0.,0.,-3.', '0.,0.,1.', '1.,0.,0.')]);
        use(part('Holder', 1), root, at);
      }).toRead.text(new Set());
    const items = (text: string | undefined) => /SHAPE_REPRESENTATION\('',\(([^)]*)\),#1\)/.exec(text ?? '')?.[1].split(',').length;
    expect([items(read('')), items(read('MCS'))]).toEqual([2, 2]);
  });
  it('the file’s unit is that of the whole, not of the part that stands first in it', () => {
    const { unit } = factsOf(() => {
      const holder = part('Holder', 2);
      const at = placement('', '0.,0.,0.', '0.,0.,1.', '1.,0.,0.');
      use(holder, part('Tool', 1, [at]), at);
    });
    expect(unit).toBe('mm');
  });
});
