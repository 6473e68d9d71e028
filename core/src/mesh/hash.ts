/**
 * A 106-bit hash of bytes as 27 hexadecimal digits: tells contents apart, protects against nothing.
 * Source: two runs of "cyrb53", a hash in the public domain, with different seeds.
 */
export function hashBytes(data: Uint8Array): string {
  return halves(data).join('');
}

/** Two seeds give the two halves of a 128-bit hash. */
const SEED = 0;
const OTHER_SEED = 0x5bd1e995;

/** As `hashBytes`, for text. */
export const hashText = (text: string): string => hashBytes(new TextEncoder().encode(text));

/** Both halves in one pass: of a large mesh this is what takes long. */
function halves(data: Uint8Array): [string, string] {
  let a = 0xdeadbeef ^ SEED;
  let b = 0x41c6ce57 ^ SEED;
  let c = 0xdeadbeef ^ OTHER_SEED;
  let d = 0x41c6ce57 ^ OTHER_SEED;
  for (let i = 0; i < data.length; i++) {
    const x = data[i]!;
    a = Math.imul(a ^ x, 2654435761);
    b = Math.imul(b ^ x, 1597334677);
    c = Math.imul(c ^ x, 2654435761);
    d = Math.imul(d ^ x, 1597334677);
  }
  return [half(a, b), half(c, d)];
}

function half(p: number, q: number): string {
  const a = Math.imul(p ^ (p >>> 16), 2246822507) ^ Math.imul(q ^ (q >>> 13), 3266489909);
  const b = Math.imul(q ^ (q >>> 16), 2246822507) ^ Math.imul(a ^ (a >>> 13), 3266489909);
  return (4294967296 * (2097151 & b) + (a >>> 0)).toString(16).padStart(14, '0');
}
