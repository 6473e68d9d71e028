import { faceBegin, faceCount, faceEnd, faceNormals } from '../mesh/index.ts';
import { Places, type Looked } from './look.ts';

/** A shading normal's length is 1 within this. */
const UNIT_WITHIN = 1e-3;

/**
 * Faces with an invalid shading normal, or one that looks away from them; none where the mesh has no normals of its
 * own, as each is made from its faces then.
 */
export function badNormals({ mesh: m }: Looked): Places {
  const out = new Places('face');
  const { normal } = m.layers;
  if (!normal) return out;
  const N = faceNormals(m);
  for (let f = 0; f < faceCount(m); f++)
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
      const [x, y, z] = [normal[3 * c]!, normal[3 * c + 1]!, normal[3 * c + 2]!];
      const away = N[3 * f]! * x + N[3 * f + 1]! * y + N[3 * f + 2]! * z < -UNIT_WITHIN;
      if (!away && Math.abs(Math.hypot(x, y, z) - 1) <= UNIT_WITHIN) continue;
      out.add(f);
      break;
    }
  return out;
}
