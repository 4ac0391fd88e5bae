import { describe, expect, it } from '@jest/globals';
import { sampleComponent } from '#core/records';
import { paintPart } from './paint.ts';

// Four triangles of two faces.
const mesh = { positions: new Float64Array(18), triangles: Uint32Array.from([0, 1, 2, 1, 2, 3, 2, 3, 4, 3, 4, 5]) };
const part = { bodies: ['b1'], mode: 'exact' as const, mesh, faceStart: Uint32Array.of(0, 1, 4) };
const plain = sampleComponent('c');
const painted = (record: typeof plain, over = {}) =>
  paintPart({ ...part, ...over }, record, '#59626b', 'holder').map((m) => [m.colour, [...m.mesh.triangles].length / 3]);

describe('colours of exported geometry', () => {
  it('are those of the role, of the body, of the faces: each triangle once', () => {
    expect(painted(plain)).toEqual([['#59626b', 4]]);
    const body = { ...plain, bodies: [{ ...plain.bodies[0], ownColour: '#112233' }] };
    expect(painted(body)).toEqual([['#112233', 4]]);
    const face = { ...body, faceColours: [{ id: 'f', body: 'b1', faces: [1], colour: '#aabbcc' }] };
    expect(painted(face)).toEqual([
      ['#112233', 1],
      ['#aabbcc', 3],
    ]);
  });
  it('of faces hold only where the part follows the faces of that body', () => {
    const face = { ...plain, faceColours: [{ id: 'f', body: 'b1', faces: [1], colour: '#aabbcc' }] };
    expect(painted(face, { mode: 'wrap', faceStart: undefined })).toEqual([['#59626b', 4]]);
    expect(painted(face, { bodies: ['b1', 'b2'], mode: 'revolved' })).toEqual([['#59626b', 4]]);
    expect(painted({ ...face, faceColours: [{ ...face.faceColours[0], body: 'b2' }] })).toEqual([['#59626b', 4]]);
  });
});
