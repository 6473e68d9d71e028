import { faceCount, takeFaces, type PolyMesh } from '../mesh/index.ts';
import { isTrusted, trust } from './gate.ts';

/** The number of the body that a face belongs to. */
const bodyOf = (m: PolyMesh, f: number): number => m.layers.body?.[f] ?? 0;

/**
 * The bodies of a part that a split has parted, each as a mesh of its own: they touch at the cut, so that an
 * arrangement could not distinguish them. A part that was never split is one body, whatever number of pieces it has.
 */
export function bodiesOf(m: PolyMesh): PolyMesh[] {
  const numbers = [...new Set(m.layers.body ?? [0])];
  if (numbers.length < 2) return [m];
  return numbers.map((n) => {
    const body = takeFaces(m, (f) => bodyOf(m, f) === n);
    return isTrusted(m) ? trust(body) : body;
  });
}

/** The mesh with all its faces in the body of the given number. */
export function asBody(m: PolyMesh, number: number): PolyMesh {
  const body = { ...m, layers: { ...m.layers, body: new Int32Array(faceCount(m)).fill(number) } };
  return isTrusted(m) ? trust(body) : body;
}

/** The greatest number of a body in a part. */
export const lastBody = (m: PolyMesh): number => [...(m.layers.body ?? [])].reduce((a, b) => Math.max(a, b), 0);
