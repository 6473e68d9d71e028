import {
  Bvh,
  checkCancelled,
  eachMeeting,
  faceCount,
  MOST_MEETINGS,
  shareArea,
  triangulateMesh,
} from '../mesh/index.ts';
import { Places, type Looked } from './look.ts';

/** Triangles between two reports of progress and looks at the signal. */
const ASK_EVERY = 2048;

/**
 * Pairs of faces that cut through each other, or lie over each other in one plane: each by its earlier face, with the
 * other as the value. Found once for both.
 */
function pairs(l: Looked): { cross: Places; overlap: Places } {
  const known = l.known.get('pairs') as ReturnType<typeof pairs> | undefined;
  if (known) return known;
  const out = { cross: new Places('face'), overlap: new Places('face') };
  let count = 0;
  eachMeeting(l.mesh, { overlaps: true, ctx: l.ctx }, (kind, f, g) => {
    out[kind].add(f, g);
    return ++count >= MOST_MEETINGS;
  });
  l.known.set('pairs', out);
  return out;
}

/** Pairs of faces that cut through each other. */
export const crossingFaces = (l: Looked): Places => pairs(l).cross;

/** Pairs of faces that lie over each other in one plane, those over the very same vertices left out. */
export function overlappingFaces(l: Looked): Places {
  const { mesh: m } = l;
  const out = new Places('face');
  const vertices = (f: number) =>
    [...m.corners.slice(m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!)].sort((a, b) => a - b).join();
  const { ids, values } = pairs(l).overlap;
  ids.forEach((f, i) => vertices(f) !== vertices(values[i]!) && out.add(f, values[i]!));
  return out;
}

/** Pairs of faces that lie over each other in UV: a texture painted on the one shows on the other. */
export function uvOverlapping({ mesh: m, ctx }: Looked): Places {
  const out = new Places('face');
  const { uv } = m.layers;
  if (!uv) return out;
  const { triangles, face } = triangulateMesh(m);
  const n = face.length;
  const boxes = new Float64Array(6 * n);
  /** U and V of each corner of a triangle. */
  const at = (t: number): number[] =>
    [0, 1, 2].flatMap((j) => [uv[2 * triangles[3 * t + j]!]!, uv[2 * triangles[3 * t + j]! + 1]!]);
  for (let t = 0; t < n; t++)
    for (let k = 0; k < 2; k++) {
      const xs = at(t).filter((_, i) => i % 2 === k);
      boxes[6 * t + k] = Math.min(...xs);
      boxes[6 * t + 3 + k] = Math.max(...xs);
    }
  const tree = new Bvh(
    boxes,
    Int32Array.from({ length: n }, (_, t) => t),
  );
  const reported = new Set<number>();
  const faces = faceCount(m);
  for (let t = 0; t < n; t++) {
    if (t % ASK_EVERY === 0) {
      checkCancelled(ctx);
      ctx?.progress?.(t / n, 'looking for UVs that lie over each other');
    }
    const own = at(t);
    tree.overlaps(boxes, 6 * t, 0, (u) => {
      const [f, g] = [face[t]!, face[u]!];
      if (u <= t || f === g || reported.has(f * faces + g) || !shareArea(own, at(u))) return;
      reported.add(f * faces + g);
      out.add(f, g);
    });
  }
  return out;
}
