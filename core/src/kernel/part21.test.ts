import { describe, expect, it } from '@jest/globals';
import { argumentsOf, scanPart21, stringOf } from './part21.ts';
import { matchSolids, readStepFacts } from './step-facts.ts';
import { part21String } from './step-write.ts';

const file = (data: string, end = 'ENDSEC;\nEND-ISO-10303-21;') =>
  `ISO-10303-21;\nHEADER;\nFILE_SCHEMA(('AUTOMOTIVE_DESIGN'));\nENDSEC;\nDATA;\n${data}\n${end}`;
const codeOf = (text: string) => {
  const r = scanPart21(text, 'x.step');
  return r.ok ? 'ok' : r.issues[0].code;
};

describe('scanPart21', () => {
  it('finds instances, types and arguments, past comments, strings and line breaks', () => {
    const r = scanPart21(file("#1=PRODUCT('a, (b) ''c''','d',\n '',(#2));/* #9=X(#10); */ #2 = CARTESIAN_POINT('',(1.,-2.5E-3,3.));"), 'x');
    if (!r.ok) throw new Error('scan failed');
    expect(r.value.schema).toBe('AUTOMOTIVE_DESIGN');
    expect([...r.value.entities.keys()]).toEqual([1, 2]);
    const product = r.value.entities.get(1);
    expect(product && argumentsOf(r.value, product)).toEqual(["'a, (b) ''c'''", "'d'", "''", '(#2)']);
  });
  it.each([
    ['a reference to nothing', file('#1=A(#2);'), 'step.dangling'],
    ['a number that no double holds', file('#1=A(1.E400);'), 'step.bad-number'],
    ['an absurdly long number', file(`#1=A(${'9'.repeat(400)});`), 'step.bad-number'],
    ['a missing end', file('#1=A(1);', ''), 'step.truncated'],
    ['an end within an instance', file('#1=A((1,2', ''), 'step.truncated'],
    ['an end within a string', file("#1=A('abc", ''), 'step.truncated'],
    ['no data section', 'ISO-10303-21;\nHEADER;\nENDSEC;', 'step.no-data'],
    ['brackets that do not close', file('#1=A((1,2);'), 'step.syntax'],
    ['the same instance twice', file('#1=A(1);#1=B(2);'), 'step.syntax'],
    ['control bytes', file('#1=A(\u0000);'), 'step.syntax'],
  ])('refuses %s', (_, text, code) => expect(codeOf(text)).toBe(code));

  it('says the line of what is wrong', () => {
    const r = scanPart21(file('#1=A(1.);\n#2=A(#7);'), 'x');
    expect(!r.ok && r.issues[0].values).toMatchObject({ line: 7, from: 2, to: 7 });
  });
});

describe('stringOf', () => {
  it('resolves the escapes of the standard', () => {
    expect(stringOf("'it''s'")).toBe("it's");
    expect(stringOf("'\\X2\\00E900DF\\X0\\'")).toBe('éß');
    expect(stringOf("'\\X\\E9'")).toBe('é');
    expect(stringOf('$')).toBe('');
  });
  it('reads back what is written, whatever the name', () => {
    for (const name of ["O'Ring", 'Hülse 32→16', '<b>&', 'a\\b', '𝛼', '']) expect(stringOf(part21String(name))).toBe(name);
  });
});

describe('readStepFacts', () => {
  const units = (unit: string) =>
    `#90=(GEOMETRIC_REPRESENTATION_CONTEXT(3) GLOBAL_UNIT_ASSIGNED_CONTEXT((#91,#94)) REPRESENTATION_CONTEXT('',''));#94=(NAMED_UNIT(*) PLANE_ANGLE_UNIT() SI_UNIT($,.RADIAN.));${unit}`;
  const factsOf = (data: string) => {
    const r = scanPart21(file(data), 'x');
    if (!r.ok) throw new Error(JSON.stringify(r.issues));
    return readStepFacts(r.value);
  };
  it('reads the unit: mm, m and inch', () => {
    expect(factsOf(units('#91=(LENGTH_UNIT() NAMED_UNIT(*) SI_UNIT(.MILLI.,.METRE.));'))).toMatchObject({ unit: 'mm', unitScale: 1 });
    expect(factsOf(units('#91=(LENGTH_UNIT() NAMED_UNIT(*) SI_UNIT($,.METRE.));'))).toMatchObject({ unit: 'm', unitScale: 1000 });
    expect(
      factsOf(
        units(
          "#91=(CONVERSION_BASED_UNIT('INCH',#92) LENGTH_UNIT() NAMED_UNIT(#95));#92=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#93);#93=(LENGTH_UNIT() NAMED_UNIT(*) SI_UNIT(.MILLI.,.METRE.));#95=DIMENSIONAL_EXPONENTS(1.,0.,0.,0.,0.,0.,0.);",
        ),
      ),
    ).toMatchObject({ unit: 'inch', unitScale: 25.4 });
  });
  it('takes the name of the product where the solid has none, over a related representation', () => {
    const facts = factsOf(
      "#1=PRODUCT('id','Holder','',());#2=PRODUCT_DEFINITION_FORMATION('','',#1);#3=PRODUCT_DEFINITION('','',#2,$);#4=PRODUCT_DEFINITION_SHAPE('','',#3);#5=SHAPE_REPRESENTATION('',(#20),$);#6=SHAPE_DEFINITION_REPRESENTATION(#4,#5);#7=ADVANCED_BREP_SHAPE_REPRESENTATION('',(#10),$);#8=SHAPE_REPRESENTATION_RELATIONSHIP('','',#5,#7);#10=MANIFOLD_SOLID_BREP('',#11);#11=CLOSED_SHELL('',(#12));#12=ADVANCED_FACE('',(),$,.T.);#20=AXIS2_PLACEMENT_3D('',$,$,$);#30=STYLED_ITEM('',(#31),#12);#31=PRESENTATION_STYLE_ASSIGNMENT((#32));#32=SURFACE_STYLE_USAGE(.BOTH.,#33);#33=COLOUR_RGB('',1.,0.5,0.);",
    );
    expect(facts.solids).toMatchObject([{ name: 'Holder', colour: '#ff8000', faceCount: 1 }]);
  });
});

describe('matchSolids', () => {
  const solid = (entity: number, faceCount: number, gyration: number) => ({ entity, name: `s${entity}`, faceCount, gyration });
  it('matches by shape, whatever the order', () => {
    const found = matchSolids(
      [
        { faceCount: 6, gyration: 20 },
        { faceCount: 6, gyration: 5 },
      ],
      [solid(1, 6, 5), solid(2, 6, 20)],
    );
    expect(found.map((s) => s?.entity)).toEqual([2, 1]);
  });
  it('keeps the order of the file for equal bodies', () => {
    const found = matchSolids(
      [
        { faceCount: 6, gyration: 5 },
        { faceCount: 6, gyration: 5 },
      ],
      [solid(1, 6, 5), solid(2, 6, 5)],
    );
    expect(found.map((s) => s?.entity)).toEqual([1, 2]);
  });
  it('uses a solid twice only where an assembly does', () => {
    expect(
      matchSolids(
        [
          { faceCount: 6, gyration: 5 },
          { faceCount: 6, gyration: 5 },
        ],
        [solid(1, 6, 5)],
      ).map((s) => s?.entity),
    ).toEqual([1, 1]);
  });
  it('gives no name rather than a wrong one', () => {
    expect(matchSolids([{ faceCount: 9, gyration: 50 }], [solid(1, 6, 5), solid(2, 7, 6)])).toEqual([undefined]);
  });
});
