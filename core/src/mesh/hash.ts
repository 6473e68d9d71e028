/**
 * A 106-bit hash of bytes as 27 hexadecimal digits: tells contents apart, protects against nothing.
 * Source: two runs of "cyrb53", a hash in the public domain, with different seeds.
 */
export function hashBytes(data: Uint8Array): string {
  return half(data, 0) + half(data, 0x5bd1e995);
}

/** As `hashBytes`, for text. */
export const hashText = (text: string): string => hashBytes(new TextEncoder().encode(text));

function half(data: Uint8Array, seed: number): string {
  let a = 0xdeadbeef ^ seed;
  let b = 0x41c6ce57 ^ seed;
  for (const x of data) {
    a = Math.imul(a ^ x, 2654435761);
    b = Math.imul(b ^ x, 1597334677);
  }
  a = Math.imul(a ^ (a >>> 16), 2246822507) ^ Math.imul(b ^ (b >>> 13), 3266489909);
  b = Math.imul(b ^ (b >>> 16), 2246822507) ^ Math.imul(a ^ (a >>> 13), 3266489909);
  return (4294967296 * (2097151 & b) + (a >>> 0)).toString(16).padStart(14, '0');
}
