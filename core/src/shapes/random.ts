/**
 * Numbers in 0 … 1 from a seed, the same on every machine. Source: "mulberry32", a 32-bit generator in the public
 * domain.
 */
export function seededRandom(seed: number): () => number {
  let state = seed | 0;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/**
 * A turn drawn evenly from all turns, as a 3 × 3 matrix row by row. Source: Shoemake, "Uniform Random Rotations", 1992.
 */
export function randomTurn(random: () => number): number[] {
  const u = random();
  const p = 2 * Math.PI * random();
  const q = 2 * Math.PI * random();
  const [x, y] = [Math.sqrt(1 - u) * Math.sin(p), Math.sqrt(1 - u) * Math.cos(p)];
  const [z, w] = [Math.sqrt(u) * Math.sin(q), Math.sqrt(u) * Math.cos(q)];
  return [
    1 - 2 * (y * y + z * z),
    2 * (x * y - z * w),
    2 * (x * z + y * w),
    2 * (x * y + z * w),
    1 - 2 * (x * x + z * z),
    2 * (y * z - x * w),
    2 * (x * z - y * w),
    2 * (y * z + x * w),
    1 - 2 * (x * x + y * y),
  ];
}
