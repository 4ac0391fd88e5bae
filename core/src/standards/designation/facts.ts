import { cornerDimension, type Designation } from './read-designation.ts';

/** What a designation says by the names of ISO 13399: mm and degrees, words for shape and hand. */
export function factsOfDesignation(d: Designation): Record<string, string | number> {
  const isInsert = d.standard === 'ISO 1832' || d.standard === 'ANSI B212.4';
  const { inscribedCircle: ic, noseRadius: re } = d;
  const m = isInsert && ic !== undefined && re !== undefined ? cornerDimension(d.insertShape, ic, re) : undefined;
  const facts: Record<string, string | number | undefined> = {
    shape: d.insertShape,
    EPSR: d.includedAngle,
    AN: d.clearance,
    IC: ic,
    S: d.thickness,
    RE: re,
    L: d.edgeLength,
    M: m && Math.round(m * 1000) / 1000,
    KAPR: d.enteringAngle ?? d.wiperAngle,
    HAND: d.hand,
    H: d.shankHeight,
    B: d.shankWidth,
    DCON: d.shankDiameter,
    LF: d.toolLength,
    WF: d.functionalWidth,
  };
  return Object.fromEntries(Object.entries(facts).filter((f): f is [string, string | number] => f[1] !== undefined));
}
