import { checkCancelled, type OpContext } from './operation.ts';

/** Places between two reports of progress and looks at the signal. */
const ASK_EVERY = 1 << 18;

/**
 * Makes one of places with the very same coordinates (three numbers each, none of them −0): the different places in the
 * order in which they first come, and for each place which of them it is. A hash table with open addressing over the
 * bits of the numbers; without strings or boxed numbers, n on average.
 */
export function samePlaces(
  coordinates: Float64Array,
  ctx?: OpContext,
  from = 0,
): { positions: Float64Array; of: Int32Array } {
  const n = coordinates.length / 3;
  const of = new Int32Array(n);
  const positions = new Float64Array(coordinates.length);
  const bits = new Int32Array(coordinates.buffer, coordinates.byteOffset, 2 * coordinates.length);
  const size = 2 ** Math.ceil(Math.log2(Math.max(16, 2 * n)));
  const table = new Int32Array(size).fill(-1);
  let count = 0;
  for (let i = 0; i < n; i++) {
    if (i % ASK_EVERY === 0) {
      checkCancelled(ctx);
      ctx?.progress?.(from + ((1 - from) * i) / n, 'joining equal vertices');
    }
    const [x, y, z] = [coordinates[3 * i]!, coordinates[3 * i + 1]!, coordinates[3 * i + 2]!];
    let h = 0;
    for (let k = 6 * i; k < 6 * i + 6; k++) h = Math.imul(h ^ bits[k]!, 0x9e3779b1) ^ (h >>> 15);
    let slot = (h ^ (h >>> 13)) & (size - 1);
    for (;;) {
      const v = table[slot]!;
      if (v < 0) {
        table[slot] = count;
        positions[3 * count] = x;
        positions[3 * count + 1] = y;
        positions[3 * count + 2] = z;
        of[i] = count++;
        break;
      }
      if (positions[3 * v] === x && positions[3 * v + 1] === y && positions[3 * v + 2] === z) {
        of[i] = v;
        break;
      }
      slot = (slot + 1) & (size - 1);
    }
  }
  return { positions: positions.slice(0, 3 * count), of };
}
