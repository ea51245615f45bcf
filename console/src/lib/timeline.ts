/** Place moments on a line to scale, in percent, but never closer than a least distance. */
export function spread(moments: number[], least: number): number[] {
  const [first = 0, last = 0] = [Math.min(...moments), Math.max(...moments)];
  const room = last - first || 1;
  const placed = moments.map((moment) => (100 * (moment - first)) / room);
  const gap = Math.min(least, 100 / Math.max(1, moments.length - 1));
  const order = placed
    .map((_, index) => index)
    .sort((left, right) => (placed[left] ?? 0) - (placed[right] ?? 0));
  for (let at = 1; at < order.length; at += 1) push(placed, order[at - 1], order[at], gap);
  // What was pushed over the end goes back, and pushes what stands before it.
  for (let at = order.length - 1; at >= 0; at -= 1) {
    const limit = 100 - gap * (order.length - 1 - at);
    const index = order[at] ?? 0;
    placed[index] = Math.min(placed[index] ?? 0, limit);
  }
  return placed;
}

function push(
  placed: number[],
  before: number | undefined,
  index: number | undefined,
  gap: number,
) {
  if (before === undefined || index === undefined) return;
  placed[index] = Math.max(placed[index] ?? 0, (placed[before] ?? 0) + gap);
}
