import { done, issue, type Issue, type Result } from '#core/issues';
import type { PathPiece } from '#core/outline';
import type { Feed, LoadedTool, ProgramSetting, Side, SpindleState, Step, WorkZero } from './moves.ts';
import { WORK_ZEROS } from './moves.ts';
import { type Block, type ProgramText, readProgramText } from './words.ts';

const INCH = 25.4;
// m.
const FOOT = 0.3048;
// Calls within calls.
const DEEPEST_CALL = 12;
// Blocks that are run, subprograms as often as they are.
const MOST_BLOCKS = 2_000_000;
// mm. Ends of an arc that are not on one circle by more than that are a fault (rounding of a program: 0.001 twice).
const ARC_FAULT = 0.005;

// Cycles that belong to one control or another.
const CYCLES = new Set([34, 70, 71, 72, 73, 74, 75, 76, 77, 78, 79, 80, 81, 82, 83, 84, 85, 86, 87, 88, 89, 93, 112, 113, 107]);
const ADDRESSES = new Set('GMTSFXZYUWVHIJKRPLNDQ'.split(''));
const MOVED = ['X', 'Z', 'U', 'W'];
// Of M: what a trial needs nothing of.
const PASSED_OVER = new Set([2, 7, 8, 9, 30]);

interface State {
  motion: 0 | 1 | 2 | 3 | 33;
  incremental: boolean;
  scale: number;
  zero: WorkZero;
  tool: number;
  offset: number | undefined;
  /** Undefined before the first tool: nothing says which carrier moves. */
  loaded: LoadedTool | undefined;
  point: [number, number];
  feedPer: Feed['per'];
  feed: number | undefined;
  spindle: SpindleState;
  side: Side | undefined;
}

/**
 * Reads a program (ISO 6983) as the steps that it makes: subprograms run, incremental and modal words worked out, arcs with their centres. What is not understood
 * ends it with the line; nothing is guessed.
 */
export function readProgram(
  text: string,
  file: string,
  setting: ProgramSetting,
): Result<{ readonly steps: readonly Step[]; readonly warnings: readonly Issue[] }> {
  const read = readProgramText(text, file);
  if (!read.ok) return read;
  const runner = new Runner(read.value, setting);
  const fault = runner.run(read.value.main, 0);
  return fault && fault !== 'end' ? { ok: false, issues: [fault] } : done({ steps: runner.steps, warnings: runner.warnings });
}

class Runner {
  readonly steps: Step[] = [];
  readonly warnings: Issue[] = [];
  private readonly said = new Set<string>();
  private ran = 0;
  private readonly state: State;

  private readonly text: ProgramText;
  private readonly setting: ProgramSetting;

  constructor(text: ProgramText, setting: ProgramSetting) {
    this.text = text;
    this.setting = setting;
    this.state = {
      motion: 0,
      incremental: false,
      scale: setting.unit === 'inch' ? INCH : 1,
      zero: 'G54',
      tool: 0,
      offset: undefined,
      loaded: undefined,
      point: [0, 0],
      feedPer: 'turn',
      feed: undefined,
      spindle: { sense: null, mode: 'speed', value: 0, limit: undefined },
      side: undefined,
    };
  }

  /** Runs a program; gives a fault, `end` where the whole program ended, or nothing where it returned. */
  run(number: number, depth: number): Issue | 'end' | undefined {
    for (const block of this.text.blocks.get(number) ?? []) {
      if (++this.ran > MOST_BLOCKS) return this.fault('program.endless', block, { limit: MOST_BLOCKS });
      const after = this.block(block, depth);
      if (after === 'return') return undefined;
      if (after) return after;
    }
    return undefined;
  }

  private fault(code: Parameters<typeof issue>[0], { line }: Pick<Block, 'line'>, values: Record<string, string | number> = {}): Issue {
    return issue(code, { file: this.text.file, line, ...values });
  }

  private warn(code: Parameters<typeof issue>[0], block: Block, key: string, values: Record<string, string | number> = {}): void {
    if (this.said.has(key)) return;
    this.said.add(key);
    this.warnings.push(this.fault(code, block, values));
  }

  private block(block: Block, depth: number): Issue | 'end' | 'return' | undefined {
    const { state } = this;
    const words = new Map<string, number>();
    const gs: number[] = [];
    const ms: number[] = [];
    for (const { letter, value } of block.words) {
      if (!ADDRESSES.has(letter)) return this.fault('program.unknown', block, { text: `${letter}${value}` });
      if (letter === 'G') gs.push(value);
      else if (letter === 'M') ms.push(value);
      else if (words.has(letter)) return this.fault('program.twice', block, { text: letter });
      else words.set(letter, value);
    }
    if (block.isOptional) this.warn('program.optional', block, 'optional');
    for (const letter of ['Y', 'V', 'H', 'J']) if (words.has(letter)) return this.fault('program.axis', block, { text: letter });
    let once: 'home' | 'dwell' | 'limit' | undefined;
    for (const g of gs) {
      const other = this.code(g, block);
      if (typeof other === 'object') return other;
      if (other) once = other;
    }
    if (state.side !== undefined && gs.some((g) => g === 28)) return this.fault('program.compensated-home', block);
    const s = words.get('S');
    if (once === 'limit') {
      if (s === undefined || MOVED.some((l) => words.has(l))) return this.fault('program.shift', block);
      state.spindle = { ...state.spindle, limit: s };
    } else if (s !== undefined) state.spindle = { ...state.spindle, value: s };
    const f = words.get('F');
    if (f !== undefined) {
      if (!(f > 0)) return this.fault('program.bad-value', block, { text: `F${f}` });
      state.feed = f * state.scale;
    }
    const t = block.words.find((w) => w.letter === 'T');
    if (t) {
      const fault = this.toolWord(t.text, block);
      if (fault) return fault;
    }
    const d = words.get('D');
    if (d !== undefined && state.tool !== 0) {
      const fault = this.changeTool(state.tool, d === 0 ? undefined : d, block);
      if (fault) return fault;
    }
    for (const m of ms) {
      if (m === 3 || m === 4) state.spindle = { ...state.spindle, sense: m === 3 ? 'M3' : 'M4' };
      else if (m === 5) state.spindle = { ...state.spindle, sense: null };
      else if (m === 0 || m === 1) this.steps.push({ kind: 'stop', line: block.line, code: m === 0 ? 'M0' : 'M1' });
      else if (m !== 98 && m !== 99 && !PASSED_OVER.has(m) && !this.isWait(m)) this.warn('program.other-m', block, `M${m}`, { text: `M${m}` });
    }
    if (once === 'dwell') {
      const seconds = words.get('X') ?? words.get('U') ?? (words.has('P') ? (words.get('P') ?? 0) / 1000 : 0);
      this.steps.push({ kind: 'dwell', line: block.line, seconds });
    } else if (!ms.includes(98)) {
      const fault = once === 'home' ? this.home(words, block) : this.move(words, block);
      if (fault) return fault;
    }
    for (const mark of ms) if (this.isWait(mark)) this.steps.push({ kind: 'wait', line: block.line, mark, spindle: this.spindle });
    if (ms.includes(98)) return this.call(words, block, depth);
    if (ms.includes(99)) {
      if (depth > 0) return 'return';
      this.warn('program.over-again', block, 'again');
      return 'end';
    }
    return ms.includes(30) || ms.includes(2) ? 'end' : undefined;
  }

  // A preparatory function; those that hold for one block are given back.
  private code(g: number, block: Block): Issue | 'home' | 'dwell' | 'limit' | undefined {
    const { state } = this;
    switch (g) {
      case 0:
      case 1:
      case 2:
      case 3:
        state.motion = g;
        return undefined;
      // A thread of constant lead (ISO 6983-1); some controls say G32.
      case 32:
      case 33:
        state.motion = 33;
        return undefined;
      case 4:
        return 'dwell';
      case 18:
      case 40:
        if (g === 40) state.side = undefined;
        return undefined;
      case 17:
      case 19:
        return this.fault('program.plane', block, { text: `G${g}` });
      case 20:
      case 21:
        state.scale = g === 20 ? INCH : 1;
        return undefined;
      case 28:
        return 'home';
      case 41:
      case 42:
        state.side = g === 41 ? 'left' : 'right';
        return undefined;
      case 50:
      case 92:
        return 'limit';
      case 90:
      case 91:
        state.incremental = g === 91;
        return undefined;
      case 94:
      case 95:
        state.feedPer = g === 94 ? 'minute' : 'turn';
        return undefined;
      case 96:
      case 97:
        state.spindle = { ...state.spindle, mode: g === 96 ? 'surface' : 'speed' };
        return undefined;
    }
    const zero = WORK_ZEROS.find((z) => z === `G${g}`);
    if (zero) {
      if (zero !== 'G54' && this.setting.zeros[zero] === undefined) return this.fault('program.zero', block, { text: zero });
      state.zero = zero;
      return undefined;
    }
    return this.fault(CYCLES.has(g) ? 'program.cycle' : 'program.unknown', block, { text: `G${g}` });
  }

  private toolWord(text: string, block: Block): Issue | undefined {
    const { toolDigits, offsetDigits } = this.setting;
    const value = Number(text);
    if (!Number.isInteger(value) || value < 0) return this.fault('program.bad-value', block, { text: `T${text}` });
    const both = text.length > toolDigits || value >= 10 ** toolDigits;
    const tool = both ? Math.floor(value / 10 ** offsetDigits) : value;
    const offset = both ? value % 10 ** offsetDigits : undefined;
    // T0100 puts the offset away; the tool stays.
    return this.changeTool(tool, offset === 0 ? undefined : offset, block);
  }

  private changeTool(tool: number, offset: number | undefined, block: Block): Issue | undefined {
    const { state, setting } = this;
    if (tool === 0) return undefined;
    const next = setting.toolOf(tool, offset);
    if (!next) return this.fault('program.no-tool', block, { text: offset === undefined ? `T${tool}` : `tool ${tool} with offset ${offset}` });
    if (next.standsOn.length > 1) return this.fault('program.whose-tool', block, { text: `T${tool}`, carriers: next.standsOn.join(' and ') });
    const { loaded } = state;
    if (loaded && loaded.carrier !== next.carrier)
      return this.fault('program.other-carrier', block, { text: `T${tool}`, carrier: next.carrier, first: loaded.carrier });
    // The carrier stays where it is: the point of the new tool stands elsewhere.
    const [z, x] = loaded ? [state.point[0] - loaded.point[0], state.point[1] - loaded.point[1]] : next.home;
    state.point = [z + next.point[0], x + next.point[1]];
    state.loaded = next;
    if (tool !== state.tool) this.steps.push({ kind: 'tool', line: block.line, tool, offset });
    state.tool = tool;
    state.offset = offset;
    return undefined;
  }

  private target(words: ReadonlyMap<string, number>): [number, number] {
    const { state, setting } = this;
    const perX = state.scale * (setting.diameters ? 0.5 : 1);
    const zero = state.zero === 'G54' ? 0 : (setting.zeros[state.zero] ?? 0);
    const [z0, x0] = state.point;
    const [x, z, u, w] = ['X', 'Z', 'U', 'W'].map((l) => words.get(l));
    const atX = u !== undefined ? x0 + u * perX : x === undefined ? x0 : state.incremental ? x0 + x * perX : x * perX;
    const atZ = w !== undefined ? z0 + w * state.scale : z === undefined ? z0 : state.incremental ? z0 + z * state.scale : z * state.scale + zero;
    return [atZ, atX];
  }

  private isWait(m: number): boolean {
    const [first, last] = this.setting.waits;
    return m >= first && m <= last && m !== 98 && m !== 99;
  }

  // In inches the speed of a surface is feet a minute.
  private get spindle(): SpindleState {
    const { scale, spindle } = this.state;
    return scale !== 1 && spindle.mode === 'surface' ? { ...spindle, value: spindle.value * FOOT } : spindle;
  }

  private push(block: Block, path: PathPiece, isRapid: boolean, pitch?: number): void {
    const { tool, offset, feed, feedPer, side } = this.state;
    const { spindle } = this;
    this.steps.push({
      kind: 'move',
      line: block.line,
      isRapid,
      path,
      tool,
      offset,
      feed: pitch !== undefined ? { value: pitch, per: 'turn' } : isRapid || feed === undefined ? undefined : { value: feed, per: feedPer },
      spindle,
      side,
      ...(pitch === undefined ? {} : { pitch }),
    });
    this.state.point = [path.to[0], path.to[1]];
  }

  private home(words: ReadonlyMap<string, number>, block: Block): Issue | undefined {
    const { state } = this;
    if (!state.loaded) return this.fault('program.tool-first', block);
    const { home, point } = state.loaded;
    const axes = [words.has('Z') || words.has('W'), words.has('X') || words.has('U')];
    if (!axes[0] && !axes[1]) return this.fault('program.home-axes', block);
    const via = this.target(words);
    if (via[0] !== state.point[0] || via[1] !== state.point[1]) this.push(block, { kind: 'line', from: state.point, to: via }, true);
    const to: [number, number] = [axes[0] ? home[0] + point[0] : via[0], axes[1] ? home[1] + point[1] : via[1]];
    this.push(block, { kind: 'line', from: state.point, to }, true);
    return undefined;
  }

  private move(words: ReadonlyMap<string, number>, block: Block): Issue | undefined {
    const { state } = this;
    if (!MOVED.some((l) => words.has(l))) return undefined;
    if (!state.loaded) return this.fault('program.tool-first', block);
    const from = state.point;
    const to = this.target(words);
    if (state.motion === 33) return this.thread(from, to, words, block);
    if (state.motion < 2) {
      if (state.motion === 1 && state.feed === undefined) return this.fault('program.no-feed', block);
      this.push(block, { kind: 'line', from, to }, state.motion === 0);
      return undefined;
    }
    if (state.feed === undefined) return this.fault('program.no-feed', block);
    const centre = this.centre(words, from, to, block);
    if ('code' in centre) return centre;
    // Seen against Y (ISO 841), with Z to the right and X upwards, G3 runs counter-clockwise.
    this.push(block, { kind: 'arc', from, to, centre: centre.at, ccw: state.motion === 3 }, false);
    return undefined;
  }

  // Its lead is F, or K along Z.
  private thread(from: [number, number], to: [number, number], words: ReadonlyMap<string, number>, block: Block): Issue | undefined {
    const { state } = this;
    const k = words.get('K');
    const pitch = k === undefined ? state.feed : Math.abs(k) * state.scale;
    if (pitch === undefined || !(pitch > 0)) return this.fault('program.no-feed', block);
    if (Math.abs(to[0] - from[0]) < Math.abs(to[1] - from[1])) return this.fault('program.face-thread', block);
    if (state.side) return this.fault('program.compensation', block, { text: 'G33 while it holds; cancel it by G40 first' });
    if (state.spindle.mode === 'surface') this.warn('program.thread-speed', block, 'G33 G96');
    this.push(block, { kind: 'line', from, to }, false, pitch);
    return undefined;
  }

  private centre(words: ReadonlyMap<string, number>, from: [number, number], to: [number, number], block: Block): Issue | { at: [number, number] } {
    const { state } = this;
    const [i, k, r] = ['I', 'K', 'R'].map((l) => words.get(l));
    if (r !== undefined) {
      const radius = Math.abs(r) * state.scale;
      const [dz, dx] = [to[0] - from[0], to[1] - from[1]];
      const chord = Math.hypot(dz, dx);
      if (chord === 0) return this.fault('program.arc-nowhere', block);
      if (chord / 2 > radius + ARC_FAULT) return this.fault('program.arc-short', block, { radius: r, chord: Math.round(chord * 1000) / 1000 });
      const off = Math.sqrt(Math.max(0, radius * radius - (chord * chord) / 4));
      // Left of the way for a counter-clockwise arc of up to half a turn; a negative R is the longer one.
      const side = (state.motion === 3 ? 1 : -1) * (r < 0 ? -1 : 1);
      return { at: [(from[0] + to[0]) / 2 - (side * off * dx) / chord, (from[1] + to[1]) / 2 + (side * off * dz) / chord] };
    }
    if (i === undefined && k === undefined) return this.fault('program.arc-centre', block);
    const at: [number, number] = [from[0] + (k ?? 0) * state.scale, from[1] + (i ?? 0) * state.scale];
    const [a, b] = [Math.hypot(from[0] - at[0], from[1] - at[1]), Math.hypot(to[0] - at[0], to[1] - at[1])];
    if (Math.abs(a - b) > ARC_FAULT) return this.fault('program.arc-open', block, { start: Math.round(a * 1000) / 1000, end: Math.round(b * 1000) / 1000 });
    return { at };
  }

  private call(words: ReadonlyMap<string, number>, block: Block, depth: number): Issue | 'end' | undefined {
    const number = words.get('P');
    if (number === undefined || !this.text.blocks.has(number))
      return this.fault('program.no-sub', block, { text: number === undefined ? 'M98' : `O${number}` });
    if (depth >= DEEPEST_CALL) return this.fault('program.deep', block, { limit: DEEPEST_CALL });
    const times = words.get('L') ?? 1;
    for (let n = 0; n < times; n++) {
      // One that has no block costs its call.
      if (++this.ran > MOST_BLOCKS) return this.fault('program.endless', block, { limit: MOST_BLOCKS });
      const after = this.run(number, depth + 1);
      if (after) return after;
    }
    return undefined;
  }
}
