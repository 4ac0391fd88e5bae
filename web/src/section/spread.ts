/**
 * Places labels along a line so that none lies on another: each as near to where it wants to be as that allows, in the order they are given, within the ends as
 * far as there is room. Widths and places in pixels; gives the middles.
 */
export function spread(wanted: readonly { readonly at: number; readonly size: number }[], ends: readonly [number, number], gap = 4): number[] {
  // Labels that touch move as one: the block stands where the mean of its wishes is (pool adjacent violators).
  interface Block {
    readonly members: number[];
    /** Where its first one's start wants to be, in the mean. */
    start: number;
    size: number;
  }
  const blocks: Block[] = [];
  const total = wanted.reduce((s, w) => s + w.size + gap, -gap);
  const [low, high] = [ends[0], Math.max(ends[1], ends[0] + total)];
  const clamp = (b: Block) => Math.min(high - b.size, Math.max(low, b.start));
  for (const [i, { at, size }] of wanted.entries()) {
    let block: Block = { members: [i], start: at - size / 2, size };
    for (let before = blocks.at(-1); before && clamp(before) + before.size + gap > clamp(block); before = blocks.at(-1)) {
      blocks.pop();
      const [n, m] = [before.members.length, block.members.length];
      const start = (before.start * n + (block.start - before.size - gap) * m) / (n + m);
      block = { members: [...before.members, ...block.members], start, size: before.size + gap + block.size };
    }
    blocks.push(block);
  }
  const middles: number[] = [];
  for (const block of blocks) {
    let from = clamp(block);
    for (const i of block.members) {
      middles[i] = from + wanted[i].size / 2;
      from += wanted[i].size + gap;
    }
  }
  return middles;
}
