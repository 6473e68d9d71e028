/**
 * A monotone stand-in for the angle of (x, y), in 0 … 4: sorts directions as `atan2` does, without its cost.
 * Source: the "diamond angle".
 */
export function turnOf(x: number, y: number): number {
  if (y >= 0) return x >= 0 ? y / (x + y || 1) : 1 - x / (y - x);
  return x < 0 ? 2 - y / (-x - y) : 3 + x / (x - y);
}

/** Whether (x, y) is inside a closed run of points given as indices into coordinate arrays; even–odd rule. */
export function insideLoop(X: Float64Array, Y: Float64Array, loop: ArrayLike<number>, x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = loop.length - 1; i < loop.length; j = i++) {
    const yi = Y[loop[i]!]!;
    const yj = Y[loop[j]!]!;
    if (yi > y === yj > y) continue;
    const xi = X[loop[i]!]!;
    if (x < ((X[loop[j]!]! - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
  }
  return inside;
}

/** Sorts `list[from … to − 1]` by ascending key (the list's entries index the keys); short runs by insertion. */
export function sortRun(list: Int32Array, from: number, to: number, key: Float64Array): void {
  if (to - from > 24) {
    list.subarray(from, to).sort((a, b) => key[a]! - key[b]!);
    return;
  }
  for (let i = from + 1; i < to; i++) {
    const x = list[i]!;
    const k = key[x]!;
    let j = i - 1;
    for (; j >= from && key[list[j]!]! > k; j--) list[j + 1] = list[j]!;
    list[j + 1] = x;
  }
}
