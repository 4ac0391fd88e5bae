import type { Coolant, CuttingMaterial } from '#core/cutting';
import type { SpecKind } from '../spec-schema.ts';
import type { ValueName } from '../values.ts';

/** Words by kind; of several that fit the longest counts. Small letters, plural too, English and German. */
export const KIND_WORDS: readonly (readonly [RegExp, SpecKind])[] = [
  [/^(?:step|stufen)[ -]?(?:drills?|bohrer)\b/, 'step drill'],
  [/^(?:spot(?:ting)?|nc)[ -]?drills?\b|^(?:nc-)?anbohrer\b/, 'spot drill'],
  [/^(?:centre|center|zentrier)[ -]?(?:drills?|bohrer)\b/, 'centre drill'],
  [/^(?:counter ?sinks?|kegelsenker|senker)\b/, 'countersink'],
  [/^(?:ball[ -]?(?:nosed?|end)?[ -]?(?:end )?mills?|ball[ -]nosed?(?: cutters?)?|ball cutters?|kugelfräser)\b/, 'ball end mill'],
  [/^(?:chamfer(?:ing)?[ -]?(?:mills?|cutters?|tools?)|fasenfräser)\b/, 'chamfer mill'],
  [/^(?:taper(?:ed)?[ -]?(?:end[ -]?)?mills?|konische[rn]? fräser)\b/, 'tapered mill'],
  [/^(?:dovetail[ -]?(?:mills?|cutters?)?|schwalbenschwanzfräser)\b/, 'dovetail mill'],
  [/^(?:woodruff[ -]?(?:key[ -]?)?(?:cutters?)?|scheibenfederfräser)\b/, 'woodruff cutter'],
  [/^(?:t[ -]?slot[ -]?(?:cutters?|mills?)?|t-?nutenfräser)\b/, 'T-slot cutter'],
  [/^(?:thread(?:ing)?[ -]?mills?|gewindefräser)\b/, 'thread mill'],
  [/^(?:face|shell|shoulder)[ -]?mills?\b|^(?:planfräser|messerkopf)\b/, 'face mill'],
  [/^(?:boring[ -]?heads?|ausdrehköpfe|ausdrehkopf)\b/, 'boring head'],
  [/^(?:slot[ -]?cutters?|slitting[ -]?saws?|saws?|scheibenfräser|nutenfräser)\b/, 'slot cutter'],
  [/^(?:bull[ -]?nose(?:[ -]?(?:end )?mills?)?|end ?mills?|schaftfräser|fräser|torusfräser)\b/, 'end mill'],
  [/^(?:twist[ -]?drills?|drills?|spiralbohrer|bohrer)\b/, 'drill'],
  [/^(?:reamers?|reibahlen?)\b/, 'reamer'],
  [/^(?:taps?|gewindebohrer)\b/, 'tap'],
  [/^(?:solid[ -](?:carbide[ -])?(?:boring[ -])?bars?|mini(?:ature)?[ -](?:boring[ -])?bars?|small[ -](?:boring[ -])?bars?)\b/, 'solid bar'],
  [/^(?:groov(?:e|ing)[ -]?bars?|internal groov(?:e|ing) (?:tools?|holders?|bars?)|innenstechhalter)\b/, 'grooving bar'],
  [/^(?:groov(?:e|ing)[ -]?(?:tool[ -]?)?holders?|groov(?:e|ing)[ -]?tools?|stechhalter|parting[ -](?:tool[ -]?)?holders?)\b/, 'grooving holder'],
  [/^(?:part(?:ing)?(?:[ -]?off)?[ -]?blades?|stechschwert(?:er)?)\b/, 'parting blade'],
  [/^(?:groov(?:e|ing)[ -]?inserts?|part(?:ing)?(?:[ -]?off)?[ -]?inserts?|stechplatten?)\b/, 'grooving insert'],
  [/^(?:thread(?:ing)?[ -]?inserts?|gewindeplatten?)\b/, 'threading insert'],
  [/^(?:thread(?:ing)?[ -]?(?:tool[ -]?)?(?:holders?|bars?|tools?)|gewindehalter)\b/, 'threading holder'],
  [/^(?:turning (?:tool )?holders?|turning tools?|klemmhalter|drehhalter)\b/, 'turning holder'],
  [/^(?:boring bars?|bohrstangen?)\b/, 'boring bar'],
  [/^(?:collets?|spannzangen?)\b/, 'collet'],
  [/^(?:sleeves?|reducers?|reduzierhülsen?|hülsen?)\b/, 'sleeve'],
  [/^(?:arbou?rs?|aufsteckdorne?|fräserdorne?)\b/, 'arbor'],
  [/^(?:inserts?|wendeplatten?)\b/, 'insert'],
];

const NUMBER = '(\\d+(?:[.,]\\d+)?(?:\\s*\\d+/\\d+)?|\\d+/\\d+|[.,]\\d+)';
const UNIT = '(?:\\s*(mm|in(?:ch)?|"))?(?![\\w/])';
const named = (words: string): RegExp => new RegExp(`^(?:${words})\\s*=?\\s*${NUMBER}${UNIT}`);
/** A letter or a word before a number, and which value it is. */
export const NAMED: readonly (readonly [RegExp, ValueName])[] = [
  [named('corner radius|corner r|re|radius|r'), 'RE'],
  [named('bs|wiper'), 'BS'],
  [named('dmin|min(?:imum)? bore|least bore'), 'DMIN'],
  [named('dc2|second diameter|step diameter'), 'DC2'],
  [named('sdl|step length'), 'SDL'],
  [named('dc|d|ø|⌀|dia(?:meter)?'), 'DC'],
  [named('oal|l1|overall'), 'OAL'],
  [named('lcf|l2|flutes?|cutting length'), 'LCF'],
  [named('lu|l3|usable|reach'), 'LU'],
  [named('shank|dcon|d2'), 'DCON'],
  [named('neck|dn|d3'), 'DN'],
  [named('width|cw|w'), 'CW'],
  [named('deep|depth|cdx|t'), 'CDX'],
  [named('pitch|tp|p'), 'TP'],
  [named('flange|bdx'), 'BDX'],
  [named('bore|dconws'), 'DCONWS'],
  [named('lf'), 'LF'],
  [named('wf|f'), 'WF'],
  [named('ap|apmx'), 'APMX'],
  [named('thick(?:ness)?|s'), 'S'],
];
const namedAngle = (words: string): RegExp => new RegExp(`^(?:${words})\\s*=?\\s*([-+−]?)\\s*(\\d+(?:[.,]\\d+)?)\\s*(?:°|deg(?:rees?)?)?(?![\\w/]|[.,]\\d)`);
/** A word before an angle, which may be below 0, and which value it is. */
export const NAMED_ANGLES: readonly (readonly [RegExp, ValueName])[] = [
  [namedAngle('gamo|rake(?: angle)?|spanwinkel'), 'GAMO'],
  [namedAngle('lams|inclination(?: angle)?|inclined|neigungswinkel'), 'LAMS'],
  [namedAngle('kapr|entering(?: angle)?|approach(?: angle)?|einstellwinkel'), 'KAPR'],
  [namedAngle('epsr|included(?: angle)?|eckenwinkel'), 'EPSR'],
];
export const ANGLE = new RegExp(`^${NUMBER}\\s*(?:°|deg(?:rees?)?)`);
export const PLAIN = new RegExp(`^${NUMBER}${UNIT}`);
export const SIZE = /^er\s*-?\s*(11|16|20|25|32|40)(?!\d)/;
export const SHANK = /^(\d{2})(\d{2})(?![\w.,/])|^(\d{1,2})\s*x\s*(\d{1,2})(?![\w.,/])/;
/** A fit beside a number: "10H7". */
export const FIT = /^([a-z]{1,2}\d{1,2})(?![\w/])/;
export const HAND = /^(right|left|rh|lh|neutral|rechts|links)(?![\w])/;
export const SIDE = /^(inside|internal|outside|external|innen|aussen|außen)(?![\w])/;
/** How many teeth: "z4", "4 flutes". */
export const TEETH = /^z\s*(\d{1,2})(?![\w.,/])|^(\d{1,2})[ -]?(?:flutes?|teeth|tooth|fl|schneider|schneiden)(?![\w])/;
/** What it is made of (ISO 513; high-speed steel), longest first. */
export const CUTTING_MATERIAL_WORDS_IN: readonly (readonly [RegExp, CuttingMaterial])[] = [
  [/^(?:uncoated(?: solid)? carbide|carbide uncoated)(?![\w])/, 'HW'],
  [/^(?:coated(?: solid)? carbide|carbide coated|(?:solid )?carbide|vhm|hartmetall)(?![\w])/, 'HC'],
  [/^(?:hss(?:-?(?:e|co|pm))?|high[ -]speed steel)(?![\w])/, 'HSS'],
  [/^cermet(?![\w])/, 'HT'],
  [/^ceramics?(?![\w])/, 'CA'],
  [/^(?:p?cbn)(?![\w])/, 'BN'],
  [/^(?:pcd|diamond)(?![\w])/, 'DP'],
];
export const COOLANT_WORDS: readonly (readonly [RegExp, Coolant])[] = [
  [/^(?:(?:through|internal|inner|with) coolant|coolant through|through[ -]coolant|mit ik|ik)(?![\w])/, 'through the tool'],
  [/^(?:external coolant|coolant outside|flood)(?![\w])/, 'outside'],
  [/^dry(?![\w])/, 'dry'],
];
/** Words that only join others, or say what is so anyway. */
export const IDLE = /^(?:x|×|to|by|-|\/|,|;|for|of|with|and|solid|hand|straight|shank|metric|inch|iso|usual|length|hole|mm|full profile)(?![\w])/;

/** Which value a plain number is, in the order in which people say them. */
export const PLAIN_ORDER: Readonly<Partial<Record<SpecKind, readonly ValueName[]>>> = {
  drill: ['DC', 'OAL', 'LCF'],
  'step drill': ['DC', 'DC2', 'OAL'],
  'spot drill': ['DC', 'OAL'],
  'centre drill': ['DC', 'OAL'],
  countersink: ['DC', 'OAL'],
  reamer: ['DC', 'OAL', 'LCF'],
  tap: ['TD', 'TP', 'OAL'],
  'end mill': ['DC', 'OAL', 'LCF'],
  'ball end mill': ['DC', 'OAL', 'LCF'],
  'chamfer mill': ['DC', 'OAL'],
  'tapered mill': ['DC', 'OAL'],
  'dovetail mill': ['DC', 'LCF', 'OAL'],
  'woodruff cutter': ['DC', 'CW', 'OAL'],
  'T-slot cutter': ['DC', 'CW', 'OAL'],
  'thread mill': ['DC', 'OAL'],
  'face mill': ['DC', 'LF'],
  'boring head': ['DC', 'LU'],
  'slot cutter': ['DC', 'CW', 'OAL'],
  'solid bar': ['DCON', 'OAL'],
  'grooving insert': ['CW'],
  'grooving holder': ['CW', 'CDX'],
  'grooving bar': ['DCON', 'CW', 'CDX'],
  'parting blade': ['H', 'CW', 'LF'],
  'threading insert': ['TP'],
  'threading holder': ['TP'],
  collet: ['DCONWS'],
  sleeve: ['DCON', 'DCONWS', 'LS'],
  arbor: ['DCON', 'DCONWS'],
};

/** What an angle with a degree sign is of a kind; the point angle elsewhere. */
export const ANGLE_OF: Readonly<Partial<Record<SpecKind, ValueName>>> = {
  'tapered mill': 'TAPER',
  'dovetail mill': 'TAPER',
  'face mill': 'KAPR',
  'solid bar': 'KAPR',
  'threading insert': 'EPSR',
  'threading holder': 'EPSR',
};
