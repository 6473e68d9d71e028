import { faceBegin, faceCount } from '../mesh/index.ts';
import { allFaces, Places, type Looked } from './look.ts';

/** UV faces of less area than this share of the whole count as without area. */
const NO_UV_AREA = 1e-12;

/** Twice the signed area of each face in UV; null without UVs. */
function uvAreas({ mesh: m }: Looked): Float64Array | null {
  const { uv } = m.layers;
  if (!uv) return null;
  const out = new Float64Array(faceCount(m));
  for (let f = 0; f < out.length; f++) {
    const [begin, end] = [faceBegin(m, f), m.loopStart[m.faceLoops[f]! + 1]!];
    for (let c = begin; c < end; c++) {
      const d = c + 1 < end ? c + 1 : begin;
      out[f]! += uv[2 * c]! * uv[2 * d + 1]! - uv[2 * d]! * uv[2 * c + 1]!;
    }
  }
  return out;
}

/** Faces that have no UVs: all of them where the mesh has none, else those whose corners are all at 0, 0. */
export function uvMissing(l: Looked): Places {
  const out = new Places('face');
  const { mesh: m } = l;
  const { uv } = m.layers;
  if (!uv) return allFaces(l);
  for (let f = 0; f < faceCount(m); f++) {
    const end = m.loopStart[m.faceLoops[f + 1]!]!;
    let some = false;
    for (let c = faceBegin(m, f); c < end && !some; c++) some = uv[2 * c] !== 0 || uv[2 * c + 1] !== 0;
    if (!some) out.add(f);
  }
  return out;
}

/** Faces that are turned over in UV: the texture is mirrored on them. */
export function uvFlipped(l: Looked): Places {
  const out = new Places('face');
  const areas = uvAreas(l);
  const all = areas?.reduce((s, a) => s + Math.abs(a), 0) ?? 0;
  areas?.forEach((a, f) => a < -NO_UV_AREA * all && out.add(f));
  return out;
}

/** Faces that have UVs without area in them: the texture is drawn out to a line. */
export function uvZeroArea(l: Looked): Places {
  const out = new Places('face');
  const areas = uvAreas(l);
  if (!areas) return out;
  const all = areas.reduce((s, a) => s + Math.abs(a), 0);
  const missing = new Set(uvMissing(l).ids);
  areas.forEach((a, f) => Math.abs(a) <= NO_UV_AREA * all && !missing.has(f) && out.add(f));
  return out;
}
