import { bounds, renderBuffers, renderTransfer, topologyOf, type PolyMesh } from '@dusky-mason/core/mesh';
import type { PartPicture } from './protocol.ts';

/** The middle of the box round a mesh, mm. */
export function middle(m: PolyMesh): [number, number, number] {
  const { min, max } = bounds(m);
  return [0, 1, 2].map((k) => (min[k]! + max[k]!) / 2) as [number, number, number];
}

/** What the page draws of a mesh. */
export function pictureOf(m: PolyMesh): PartPicture {
  const r = renderBuffers(m, middle(m));
  const source = m.layers.source;
  return { ...r, slots: m.slots, courseOfTriangle: Int32Array.from(r.faceOfTriangle, (f) => source?.[3 * f + 2] ?? 0) };
}

/** The arrays of a picture, for handing it to the page without a copy. */
export const pictureTransfer = (p: PartPicture): ArrayBuffer[] => [
  ...renderTransfer(p),
  p.courseOfTriangle.buffer as ArrayBuffer,
];

/** A picture with the edges that leave along some corners as its only lines. */
export function withLines(p: PartPicture, m: PolyMesh, corners: Int32Array): PartPicture {
  const { next } = topologyOf(m);
  const lines = new Float32Array(6 * corners.length);
  corners.forEach((c, i) => {
    for (let k = 0; k < 3; k++) {
      lines[6 * i + k] = m.positions[3 * m.corners[c]! + k]! - p.origin[k]!;
      lines[6 * i + 3 + k] = m.positions[3 * m.corners[next[c]!]! + k]! - p.origin[k]!;
    }
  });
  return { ...p, lines, lineStart: Uint32Array.from(p.lineStart, (_, i) => (i === 0 ? 0 : corners.length)) };
}
