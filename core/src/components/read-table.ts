// Tables of tools (CSV, TSV, pasted cells) as specifications: delimiter, decimal comma, header, units and kinds are found out.
import Papa from 'papaparse';
import { COOLANTS, CUTTING_MATERIALS, type ToolUse } from '#core/cutting';
import { done, failed, type Result } from '#core/issues';
import { roundTo } from '#core/math';
import { MM_PER_INCH } from '#core/units';
import { type Made, makeComponent, sayUnmade } from './make-component.ts';
import { readWords } from './words/read-words.ts';
import type { ComponentSpec, SpecKind } from './spec-schema.ts';
import { VALUE_NAMES, type ValueName, VALUES } from './values.ts';

/** What a column is: a number by its ISO 13399 name, words, or nothing that is used. */
export type ColumnUse =
  | ValueName
  | 'kind'
  | 'designation'
  | 'name'
  | 'thread'
  | 'size'
  | 'side'
  | 'hand'
  | 'maker'
  | 'tags'
  | 'cutting material'
  | 'coolant'
  | null;
export const COLUMN_USES = [
  ...VALUE_NAMES,
  'kind',
  'designation',
  'name',
  'thread',
  'size',
  'side',
  'hand',
  'maker',
  'tags',
  'cutting material',
  'coolant',
] as const;

export interface TableColumn {
  readonly header: string;
  readonly use: ColumnUse;
  /** mm of 1 in it; of angles 1. */
  readonly scale: number;
}

export interface TableTool {
  /** Line of the table, from 1. */
  readonly row: number;
  readonly name: string;
  readonly spec: ComponentSpec;
  readonly maker: string;
  readonly tags: readonly string[];
  readonly use: ToolUse;
  readonly made: Extract<Made, { ok: true }>;
}

export interface TableError {
  readonly row: number;
  readonly column: string;
  readonly message: string;
}

export interface ReadTable {
  readonly delimiter: string;
  readonly columns: readonly TableColumn[];
  /** Lines that are tools, good or bad. */
  readonly rows: number;
  readonly tools: readonly TableTool[];
  readonly errors: readonly TableError[];
}

export interface TableOptions {
  /** What columns are, by their headers, where it is known. */
  readonly map?: Readonly<Record<string, ColumnUse>>;
  /** What all rows are that do not say it themselves. */
  readonly kind?: SpecKind;
  /** Cells that were mended, by `cellKey`. */
  readonly edits?: Readonly<Record<string, string>>;
}

/** Which cell is meant. */
export const cellKey = (row: number, header: string): string => `${row} ${header}`;

// Headers as people write them, in lower case, without units: English, German, French, Italian.
const HEADERS: ReadonlyMap<string, ColumnUse> = new Map(
  (
    [
      ['kind', 'kind|type|tool type|category|art|werkzeugart|werkzeugtyp|typ|gattung|genre|type d’outil|tipo'],
      ['designation', 'designation|iso|iso code|code|order code|iso-bezeichnung|code iso|codice iso'],
      ['name', 'name|description|tool|benennung|beschreibung|bezeichnung|werkzeug|nom|désignation|descrizione|nome'],
      ['thread', 'thread|gewinde|filetage|filettatura|thread size'],
      ['size', 'collet size|er|collet|spannzange|taille'],
      ['side', 'side|inside or outside|seite|innen/aussen|innen/außen'],
      ['hand', 'hand|ausführung|main|mano'],
      ['maker', 'maker|manufacturer|vendor|brand|supplier|hersteller|fabricant|fabbricante|produttore'],
      ['tags', 'tags|tag|labels|schlagworte'],
      ['cutting material', 'cutting material|tool material|material|substrate|schneidstoff|matière de coupe|materiale'],
      ['coolant', 'coolant|coolant supply|csp|kühlung|kühlmittel|arrosage|refrigerante'],
      ['NOF', 'nof|z|teeth|flutes|number of teeth|number of flutes|zähne|zähnezahl|dents|denti'],
      ['DC', 'dc|d|d1|ø|⌀|dia|dia.|diameter|cutting diameter|durchmesser|schneidendurchmesser|diamètre|diametro'],
      ['OAL', 'oal|l|l1|length|overall length|total length|gesamtlänge|länge|longueur totale|longueur|lunghezza totale'],
      ['LCF', 'lcf|l2|apmx|cutting length|flute length|schneidenlänge|spannutlänge|longueur de coupe|lunghezza tagliente'],
      ['LU', 'lu|l3|usable length|reach|nutzlänge|longueur utile|lunghezza utile'],
      ['DCON', 'dcon|d2|shank|shank diameter|shank dia|schaft|schaftdurchmesser|ø schaft|queue|gambo'],
      ['DN', 'dn|d3|neck|neck diameter|hals|halsdurchmesser'],
      ['LS', 'ls|shank length|schaftlänge'],
      ['RE', 're|r|radius|corner radius|eckenradius|eckradius|rayon|raggio'],
      ['SIG', 'sig|point angle|spitzenwinkel|angle|winkel|angle de pointe'],
      ['TD', 'td|thread diameter|nenndurchmesser'],
      ['TP', 'tp|p|pitch|steigung|pas|passo'],
      ['CW', 'cw|w|width|breite|largeur|larghezza'],
      ['DCN', 'dcn|small diameter|tip diameter'],
      ['DCONWS', 'dconws|bore|bohrung|alésage|foro'],
      ['BDX', 'bdx|flange|flange diameter|bund'],
      ['IC', 'ic|inscribed circle|inkreis'],
      ['S', 's|thickness|dicke|épaisseur|spessore'],
    ] as const
  ).flatMap(([use, words]) => words.split('|').map((w) => [w, use] as const)),
);
const MOST_ROWS = 100_000;
const MOST_BYTES = 50e6;

/** The text of a table's file: UTF-8, or what older programs write where it is none. */
export function tableText(bytes: Uint8Array): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}

/** Reads a table of tools; each row that cannot be made is listed with its column and why, and the others stand. */
export function readTable(text: string, file: string, { map = {}, kind, edits = {} }: TableOptions = {}): Result<ReadTable> {
  if (text.length > MOST_BYTES) return failed('table.too-large', { file, text: `${Math.round(text.length / 1e6)} MB; at most ${MOST_BYTES / 1e6}` });
  const parsed = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: false, delimitersToGuess: [';', '\t', ',', '|'] });
  const lines = parsed.data.map((cells, i) => ({ row: i + 1, cells: cells.map((c) => c.trim()) })).filter(({ cells }) => cells.some((c) => c !== ''));
  if (lines.length > MOST_ROWS) return failed('table.too-large', { file, text: `${lines.length} rows; at most ${MOST_ROWS}` });
  const [head] = lines;
  if (!head) return failed('table.empty', { file });
  const known = withIsoNames(head.cells.map((h) => columnOf(h, map)));
  const hasHeader = known.filter((c) => c.use !== null).length >= Math.min(2, head.cells.length) || head.cells.some((h) => Object.hasOwn(map, h));
  const columns: TableColumn[] = hasHeader ? known : head.cells.map((_, i) => ({ header: `column ${i + 1}`, use: null, scale: 1 }));
  if (hasHeader && columns.every((c) => c.use === null)) return failed('table.no-columns', { file, text: head.cells.join(', ').slice(0, 200) });
  const isComma = usesComma(lines.slice(hasHeader ? 1 : 0).flatMap(({ cells }) => cells.filter((_, i) => typeof columns[i]?.use === 'string')));
  const tools: TableTool[] = [];
  const errors: TableError[] = [];
  const body = hasHeader ? lines.slice(1) : lines;
  // What the words of the kind's column mean: a few, in many rows.
  const said = new Map<string, ComponentSpec | null>();
  for (const { row, cells: given } of body) {
    const cells = columns.map(({ header }, i) => edits[cellKey(row, header)] ?? given[i] ?? '');
    const found = hasHeader ? toolOf(cells, columns, isComma, kind, said) : fromLine(cells.join(' ').trim());
    if ('errors' in found) errors.push(...found.errors.map((e) => ({ row, ...e })));
    else tools.push({ row, ...found });
  }
  return done({ delimiter: parsed.meta.delimiter, columns, rows: body.length, tools, errors });
}

type Found = Omit<TableTool, 'row'> | { readonly errors: readonly Omit<TableError, 'row'>[] };

function columnOf(header: string, map: TableOptions['map'] = {}): TableColumn {
  const bare = header
    .toLowerCase()
    .replace(/[[(].*?[\])]/g, '')
    .replace(/[_]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  const inches = /[[(]\s*(?:in|inch|")\s*[\])]/i.test(header);
  const use = Object.hasOwn(map, header) ? map[header] : (HEADERS.get(bare) ?? isoName(header) ?? null);
  const isAngle = use !== null && use in VALUES && VALUES[use as ValueName].unit === 'deg';
  return { header, use, scale: inches && !isAngle ? MM_PER_INCH : 1 };
}

const isoName = (header: string): ValueName | undefined => VALUE_NAMES.find((n) => n === header.trim());

// L is an overall length to most people; beside a column of that it is what ISO 13399 calls so.
const withIsoNames = (columns: readonly TableColumn[]): TableColumn[] =>
  columns.map((c, i) => {
    const iso = isoName(c.header);
    return iso && iso !== c.use && columns.some((o, k) => k !== i && o.use === c.use && c.use !== null) ? { ...c, use: iso } : c;
  });

// Whether numbers have a comma where others have a point: where any has one and none has both in the other order.
function usesComma(cells: readonly string[]): boolean {
  const comma = cells.filter((c) => /^[-+]?\d+,\d+$/.test(c)).length;
  return comma > cells.filter((c) => /^[-+]?\d+\.\d+$/.test(c)).length;
}

// A number of a cell, in mm or degrees; undefined for what is none.
function numberIn(cell: string, isComma: boolean, scale: number): number | undefined {
  const m = /^([-+]?[\d.,\s']*\d)\s*(mm|in|inch|"|°|deg)?$/i.exec(cell);
  if (!m) return undefined;
  const plain = m[1].replace(/[\s']/g, '');
  const text = isComma ? plain.replace(/\./g, '').replace(',', '.') : plain.includes('.') ? plain.replace(/,/g, '') : plain.replace(',', '.');
  const value = Number(text);
  if (!Number.isFinite(value)) return undefined;
  const unit = m[2]?.toLowerCase();
  return roundTo(value * (unit === 'mm' || unit === '°' || unit === 'deg' ? 1 : unit ? MM_PER_INCH : scale), 6);
}

function toolOf(
  cells: readonly string[],
  columns: readonly TableColumn[],
  isComma: boolean,
  kind: SpecKind | undefined,
  said: Map<string, ComponentSpec | null>,
): Found {
  const errors: Omit<TableError, 'row'>[] = [];
  const cellOf = (use: ColumnUse): string => cells[columns.findIndex((c) => c.use === use)] ?? '';
  const headerOf = (use: ColumnUse): string => columns.find((c) => c.use === use)?.header ?? '';
  const bad = (column: string, message: string) => void errors.push({ column, message });
  const values: Partial<Record<ValueName, number>> = {};
  for (const [i, { use, scale, header }] of columns.entries()) {
    const cell = cells[i] ?? '';
    if (cell === '' || use === null || !(use in VALUES)) continue;
    const value = numberIn(cell, isComma, scale);
    if (value === undefined) bad(header, `“${cell.slice(0, 40)}” is no number`);
    else values[use as ValueName] = value;
  }
  const [kindCell, codeCell, nameCell] = [cellOf('kind'), cellOf('designation'), cellOf('name')];
  const kindSaid = kindCell === '' ? undefined : (said.get(kindCell) ?? readWords(kindCell).spec ?? null);
  if (kindSaid !== undefined) said.set(kindCell, kindSaid);
  const code = codeCell === '' ? undefined : readWords(codeCell).spec;
  // A name is read only where nothing else says what it is.
  const known = kindSaid?.kind ?? code?.kind ?? kind;
  const named = nameCell !== '' && (known === undefined || known === 'collet') ? readWords(nameCell).spec : undefined;
  const what = known ?? named?.kind;
  if (kindSaid === null) bad(headerOf('kind'), `“${cellOf('kind').slice(0, 40)}” is no kind of tool that is known`);
  const name = nameCell;
  // What a spreadsheet would run when the list goes back to it.
  if (/^[=+@]|^-(?!\d)/.test(name)) bad(headerOf('name'), 'a name does not begin with =, +, - or @');
  const thread = cellOf('thread');
  const threaded = thread === '' ? undefined : readWords(`tap ${thread}`).spec;
  if (thread !== '' && threaded?.values.TD === undefined) bad(headerOf('thread'), `“${thread.slice(0, 40)}” is no thread that is known`);
  const use = useIn(cellOf('cutting material'), cellOf('coolant'), (column, message) => bad(headerOf(column), message));
  if (errors.length > 0) return { errors };
  if (!what) return { errors: [{ column: headerOf('kind') || headerOf('name'), message: 'no cell says what it is' }] };
  const isThreaded = what === 'tap' || what === 'thread mill';
  const spec: ComponentSpec = {
    kind: what,
    designation: code?.designation ?? '',
    values: { ...(code?.values ?? {}), ...(threaded && isThreaded ? threaded.values : {}), ...values },
    shape: '',
    hand: code?.hand ?? handIn(cellOf('hand')),
    inside: /^(i|inside|internal|innen)/i.test(cellOf('side')) || (kindSaid?.inside ?? named?.inside ?? false),
    thread: isThreaded ? (threaded?.thread ?? '') : '',
    size: cellOf('size').replace(/^ER\s*/i, '') || (named?.size ?? ''),
  };
  // One column of diameters may serve taps and collets too.
  const { DC, ...others } = spec.values;
  const tidy =
    what === 'tap' && DC !== undefined
      ? { ...spec, values: { TD: DC, ...others } }
      : what === 'collet' && DC !== undefined
        ? { ...spec, values: { DCONWS: DC, ...others } }
        : spec;
  return madeOf(tidy, { name, maker: cellOf('maker').slice(0, 100), tags: tagsIn(cellOf('tags')), use }, headerOf);
}

function fromLine(text: string): Found {
  const { spec, use, unknown } = readWords(text);
  if (unknown.length > 0) return { errors: unknown.map((u) => ({ column: '', message: `“${u.text}”: ${u.why}` })) };
  return spec ? madeOf(spec, { name: '', maker: '', tags: [], use }, () => '') : { errors: [{ column: '', message: 'no word says what it is' }] };
}

// What two cells say of a tool's use: as it is called here, or in words of the trade.
function useIn(material: string, coolant: string, bad: (column: 'cutting material' | 'coolant', message: string) => void): ToolUse {
  const cuttingMaterial =
    CUTTING_MATERIALS.find((m) => m === material.toUpperCase()) ?? (material === '' ? undefined : readWords(material).use.cuttingMaterial);
  const text = coolant.toLowerCase();
  const cooled = COOLANTS.find((c) => c === text) ?? (coolant === '' ? undefined : coolantIn(text));
  if (material !== '' && !cuttingMaterial) bad('cutting material', `“${material.slice(0, 40)}” is no cutting material that is known`);
  if (coolant !== '' && !cooled) bad('coolant', `“${coolant.slice(0, 40)}” is no way of cooling that is known`);
  return { groups: {}, ...(cuttingMaterial ? { cuttingMaterial } : {}), ...(cooled ? { coolant: cooled } : {}) };
}

const coolantIn = (text: string): ToolUse['coolant'] =>
  /^(?:yes|y|1|true|ja|oui|si|sì|through|internal|inner|innen)$/.test(text)
    ? 'through the tool'
    : /^(?:no|n|0|false|nein|non|external|outer|aussen|außen|flood)$/.test(text)
      ? 'outside'
      : readWords(text).use.coolant;

const handIn = (cell: string): ComponentSpec['hand'] =>
  /^(l|lh|left|links|gauche|sinistra)/i.test(cell) ? 'left' : /^(n|neutral)/i.test(cell) ? 'neutral' : 'right';

const tagsIn = (cell: string): string[] => [
  ...new Set(
    cell
      .split(/[,;]/)
      .map((t) => t.trim().slice(0, 40))
      .filter(Boolean),
  ),
];

function madeOf(
  spec: ComponentSpec,
  { name, maker, tags, use }: Pick<TableTool, 'name' | 'maker' | 'tags' | 'use'>,
  headerOf: (use: ColumnUse) => string,
): Found {
  const made = makeComponent(spec);
  if (made.ok) {
    // What follows anyway is not kept as given: it changes with what it follows from.
    const values = Object.fromEntries(Object.entries(spec.values).filter(([n]) => !made.part.confirmed.includes(n as ValueName)));
    return { name: name.slice(0, 120) || made.part.name, maker, tags: tags.slice(0, 20), use, spec: { ...spec, values }, made };
  }
  const [first] = made.conflicts;
  return { errors: sayUnmade(made).map((message, i) => ({ column: headerOf(made.conflicts[i]?.name ?? first?.name ?? made.missing[0] ?? null), message })) };
}
