/** The first place in a sorted list whose value is not less than x; its length where all are. */
export function lowerBound(sorted: ArrayLike<number>, x: number): number {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle]! < x) low = middle + 1;
    else high = middle;
  }
  return low;
}
