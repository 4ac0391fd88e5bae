import { unwrap } from '#core/issues';
import { readDesignation } from '#core/standards';
import type { CommandOutput } from '../request.ts';
import { table } from '../table.ts';

// The words of a designation's fields, with their units.
const FIELD_WORDS: Record<string, [words: string, unit: '' | 'mm' | 'deg']> = {
  standard: ['standard', ''],
  insertShape: ['insert shape', ''],
  includedAngle: ['included angle EPSR', 'deg'],
  clearance: ['clearance', 'deg'],
  inscribedCircle: ['inscribed circle IC', 'mm'],
  edgeLength: ['edge length', 'mm'],
  thickness: ['thickness S', 'mm'],
  noseRadius: ['nose radius RE', 'mm'],
  enteringAngle: ['entering angle KAPR', 'deg'],
  facing: ['for facing', ''],
  hand: ['hand', ''],
  shankHeight: ['shank height', 'mm'],
  shankWidth: ['shank width', 'mm'],
  shankDiameter: ['shank diameter', 'mm'],
  toolLength: ['tool length', 'mm'],
  functionalWidth: ['usual functional width WF', 'mm'],
};

export function designation(code: string): CommandOutput {
  const said = unwrap(readDesignation(code));
  const rows = Object.entries(FIELD_WORDS).flatMap(([key, [words, unit]]) => {
    const value = said[key as keyof typeof said];
    return value === undefined ? [] : [[words, `${typeof value === 'boolean' ? (value ? 'yes' : 'no') : value}${unit ? ` ${unit}` : ''}`]];
  });
  return { json: said, text: `${said.code}\n${table(['field', 'value'], rows)}`, warnings: [], checkFailed: false };
}
