// A STEP file with every plane, cylinder, cone, ball and torus written as a spline, as some systems write them: on the text alone, exact.

type V = readonly [number, number, number];

const H = Math.SQRT1_2;
// A whole turn of rational quadratics: where its poles are about the axis, and what they weigh.
const TURN: readonly (readonly [number, number])[] = [
  [1, 0],
  [1, 1],
  [0, 1],
  [-1, 1],
  [-1, 0],
  [-1, -1],
  [0, -1],
  [1, -1],
  [1, 0],
];
const TURN_WEIGHTS = [1, H, 1, H, 1, H, 1, H, 1];
const TURN_KNOTS = '(3,2,2,2,3)';
const TURN_AT = '(0.,0.25,0.5,0.75,1.)';
// In the file's unit. As far as surfaces go on, where nothing else is asked for.
const FAR = 400;

interface Pole {
  readonly r: number;
  readonly z: number;
  readonly weight: number;
}

/** The same model with its faces on splines; how many there were of each kind. */
export function asSplines(step: string, far = FAR): { readonly text: string; readonly counts: Readonly<Record<string, number>> } {
  const entities = new Map<string, string>();
  for (const [, id, body] of step.matchAll(/#(\d+)\s*=\s*([^;]*);/g)) entities.set(id, body.trim());
  let next = Math.max(...[...entities.keys()].map(Number)) + 1;
  const added: string[] = [];
  const counts: Record<string, number> = {};
  const numbers = (id: string): V => {
    const found = /\(\s*([^()]*)\)\s*\)$/.exec(entities.get(id) ?? '');
    return (found?.[1] ?? '0,0,0').split(',').map(Number) as unknown as V;
  };
  const placement = (id: string): { origin: V; x: V; y: V; z: V } => {
    const refs = [...(entities.get(id) ?? '').matchAll(/#(\d+)/g)].map((m) => m[1]);
    const z = unit(numbers(refs[1]));
    const given = numbers(refs[2]);
    const along = given[0] * z[0] + given[1] * z[1] + given[2] * z[2];
    const x = unit([given[0] - along * z[0], given[1] - along * z[1], given[2] - along * z[2]]);
    return { origin: numbers(refs[0]), x, y: [z[1] * x[2] - z[2] * x[1], z[2] * x[0] - z[0] * x[2], z[0] * x[1] - z[1] * x[0]], z };
  };
  const point = ({ origin, x, y, z }: ReturnType<typeof placement>, a: number, b: number, c: number): string => {
    const p = [0, 1, 2].map((k) => origin[k] + a * x[k] + b * y[k] + c * z[k]);
    added.push(`#${next}=CARTESIAN_POINT('',(${p.map(real).join(',')}));`);
    return `#${next++}`;
  };
  const turned = (at: ReturnType<typeof placement>, profile: readonly Pole[], degree: number, knots: string, places: string): string => {
    const poles = TURN.map(([a, b]) => `(${profile.map((p) => point(at, p.r * a, p.r * b, p.z)).join(',')})`);
    const weights = TURN_WEIGHTS.map((w) => `(${profile.map((p) => real(w * p.weight)).join(',')})`);
    return `(BOUNDED_SURFACE()B_SPLINE_SURFACE(2,${degree},(${poles.join(',')}),.UNSPECIFIED.,.F.,.F.,.F.)B_SPLINE_SURFACE_WITH_KNOTS(${TURN_KNOTS},${knots},${TURN_AT},${places},.UNSPECIFIED.)GEOMETRIC_REPRESENTATION_ITEM()RATIONAL_B_SPLINE_SURFACE((${weights.join(',')}))REPRESENTATION_ITEM('')SURFACE())`;
  };
  const line = (r0: number, z0: number, r1: number, z1: number): Pole[] => [
    { r: r0, z: z0, weight: 1 },
    { r: r1, z: z1, weight: 1 },
  ];
  const text = step.replace(
    /#(\d+)\s*=\s*(PLANE|CYLINDRICAL_SURFACE|CONICAL_SURFACE|SPHERICAL_SURFACE|TOROIDAL_SURFACE)\s*\(\s*'[^']*'\s*,\s*#(\d+)\s*,?([^)]*)\)\s*;/g,
    (_: string, id: string, kind: string, axis: string, rest: string) => {
      const at = placement(axis);
      const [a, b] = rest.split(',').map(Number);
      counts[kind] = (counts[kind] ?? 0) + 1;
      if (kind === 'PLANE') {
        const corner = (u: number, v: number) => point(at, u * far, v * far, 0);
        const poles = `((${corner(-1, -1)},${corner(-1, 1)}),(${corner(1, -1)},${corner(1, 1)}))`;
        return `#${id}=B_SPLINE_SURFACE_WITH_KNOTS('',1,1,${poles},.UNSPECIFIED.,.F.,.F.,.F.,(2,2),(2,2),(${real(-far)},${real(far)}),(${real(-far)},${real(far)}),.UNSPECIFIED.);`;
      }
      const straight = ['(2,2)', `(${real(-far)},${real(far)})`] as const;
      if (kind === 'CYLINDRICAL_SURFACE') return `#${id}=${turned(at, line(a, -far, a, far), 1, ...straight)};`;
      if (kind === 'CONICAL_SURFACE') {
        // From its tip.
        const slope = Math.tan(b);
        const low = slope > 0 ? Math.max(-far, -a / slope) : -far;
        const high = slope < 0 ? Math.min(far, -a / slope) : far;
        return `#${id}=${turned(at, line(Math.max(0, a + slope * low), low, Math.max(0, a + slope * high), high), 1, '(2,2)', `(${real(low)},${real(high)})`)};`;
      }
      if (kind === 'SPHERICAL_SURFACE') {
        const half: Pole[] = [
          { r: 0, z: -a, weight: 1 },
          { r: a, z: -a, weight: H },
          { r: a, z: 0, weight: 1 },
          { r: a, z: a, weight: H },
          { r: 0, z: a, weight: 1 },
        ];
        return `#${id}=${turned(at, half, 2, '(3,2,3)', '(0.,0.5,1.)')};`;
      }
      const ring = TURN.map(([c, s], i): Pole => ({ r: a + b * c, z: b * s, weight: TURN_WEIGHTS[i] }));
      return `#${id}=${turned(at, ring, 2, TURN_KNOTS, TURN_AT)};`;
    },
  );
  return { text: text.replace(/ENDSEC;\s*END-ISO/, `${added.join('\n')}\nENDSEC;\nEND-ISO`), counts };
}

const unit = (v: V): V => {
  const l = Math.hypot(...v) || 1;
  return [v[0] / l, v[1] / l, v[2] / l];
};
const real = (v: number): string => {
  const text = v.toPrecision(15);
  return /e/i.test(text) ? v.toFixed(18) : text.includes('.') ? text : `${text}.`;
};
