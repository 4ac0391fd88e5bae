/** Corners of the smallest convex polygon around points of a plane, counter-clockwise (Andrew's monotone chain). Fewer than three where they lie in a line. */
export function convexHull(points: readonly (readonly [number, number])[]): [number, number][] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const half = (list: readonly (readonly [number, number])[]) => {
    const out: [number, number][] = [];
    for (const [x, y] of list) {
      for (;;) {
        const [[ax, ay], [bx, by]] = [out.at(-2) ?? [0, 0], out.at(-1) ?? [0, 0]];
        if (out.length < 2 || (bx - ax) * (y - ay) - (by - ay) * (x - ax) > 0) break;
        out.pop();
      }
      out.push([x, y]);
    }
    return out.slice(0, -1);
  };
  return [...half(sorted), ...half(sorted.reverse())];
}
