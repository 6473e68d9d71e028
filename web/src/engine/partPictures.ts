import {
  bounds,
  renderBuffers,
  renderTransfer,
  topologyOf,
  triangleTree,
  type Bounds,
  type PolyMesh,
} from '@dusky-mason/core/mesh';
import type { PartPicture } from './protocol.ts';

/** The middle of the box round a mesh, mm. */
export const middle = (m: PolyMesh): [number, number, number] => middleOf(bounds(m));

const middleOf = ({ min, max }: Bounds): [number, number, number] =>
  [0, 1, 2].map((k) => (min[k]! + max[k]!) / 2) as [number, number, number];

/** What the page draws of a mesh. */
export function pictureOf(m: PolyMesh): PartPicture {
  const box = bounds(m);
  const r = renderBuffers(m, middleOf(box));
  const courseOfTriangle = new Int32Array(r.faceOfTriangle.length);
  const { source } = m.layers;
  if (source)
    for (let t = 0; t < courseOfTriangle.length; t++) courseOfTriangle[t] = source[3 * r.faceOfTriangle[t]! + 2]!;
  let furthest = 0;
  for (let i = 0; i < r.positions.length; i += 3)
    furthest = Math.max(furthest, r.positions[i]! ** 2 + r.positions[i + 1]! ** 2 + r.positions[i + 2]! ** 2);
  const half = [0, 1, 2].map((k) => (box.max[k]! - box.min[k]!) / 2) as [number, number, number];
  const tree = triangleTree(r.positions);
  return { ...r, slots: m.slots, courseOfTriangle, tree, half, radius: Math.sqrt(furthest) };
}

/** The arrays of a picture, for handing it to the page without a copy. */
export const pictureTransfer = (p: PartPicture): ArrayBuffer[] => [
  ...renderTransfer(p),
  p.courseOfTriangle.buffer as ArrayBuffer,
  ...(p.tree ? [p.tree.boxes, p.tree.items, p.tree.nodes, p.tree.link, p.tree.count] : []).map(
    (a) => a.buffer as ArrayBuffer,
  ),
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
