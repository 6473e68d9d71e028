import { faceNormals, placementAffine, type PolyMesh, type Vec3 } from '../mesh/index.ts';
import type { Intended } from '../survey/index.ts';
import { solve3 } from './placed.ts';
import type { Part } from './document.ts';
import { instancesOf } from './repeat.ts';
import { pivotPlace } from './shapeMesh.ts';
import type { Shape } from './shapeSpec.ts';

/** A face that leans to the axis by less than this (cosine) belongs to a wall round it; else to an end. */
const END = 0.999;

/** The normal of a shape's own surface near a point of it, in the frame that the shape is made in; `flat` is that of the face there. */
type Surface = (p: Vec3, flat: Vec3) => Vec3;

/** Round the z axis through a place of the plane: as steep as the face, in the direction of the point. */
const round = (p: Vec3, flat: Vec3, cx = 0, cy = 0): Vec3 => {
  const [x, y] = [p[0] - cx, p[1] - cy];
  const r = Math.hypot(x, y);
  const lean = Math.hypot(flat[0], flat[1]);
  if (!(r > 0) || Math.abs(flat[2]) > END) return flat;
  const sign = flat[0] * x + flat[1] * y < 0 ? -1 : 1;
  return [(sign * lean * x) / r, (sign * lean * y) / r, flat[2]];
};

/** The surface that a shape's facets stand for; null where they stand for themselves. */
function surfaceOf(s: Shape): Surface | null {
  switch (s.kind) {
    case 'cylinder':
    case 'tube':
    case 'cone':
    case 'turned':
      return (p, flat) => round(p, flat);
    case 'ball':
    case 'patchBall':
      return (p) => p;
    case 'torus': {
      const ring = s.diameter / 2;
      return (p) => {
        const r = Math.hypot(p[0], p[1]) || 1;
        return [p[0] - (ring * p[0]) / r, p[1] - (ring * p[1]) / r, p[2]];
      };
    }
    case 'slot':
    case 'plate': {
      const corner = s.kind === 'slot' ? s.y / 2 : Math.min(s.corner, s.x / 2, s.y / 2);
      const [hx, hy] = [s.x / 2 - corner, s.y / 2 - corner];
      return (p, flat) => {
        const bent =
          Math.abs(p[0]) > hx && Math.abs(p[1]) >= hy && Math.abs(flat[0]) > 1e-9 && Math.abs(flat[1]) > 1e-9;
        return bent ? round(p, flat, Math.sign(p[0]) * hx, Math.sign(p[1]) * hy) : flat;
      };
    }
    default:
      return null;
  }
}

/** Where a body stands, with its surface. */
interface Stand {
  surface: Surface;
  matrix: number[];
  position: Vec3;
  pivot: Vec3;
}

/**
 * The normals that a part's faces are meant to have: of a face that comes from a shape of ours those of the exact surface that the shape stands for, of
 * all others their own. Cutters that are stretched unevenly, imported meshes and drawn outlines count as they are.
 */
export function intendedOf(part: Part, m: PolyMesh): Intended {
  const stands = new Map<number, Stand[]>();
  for (const c of part.courses) {
    if (!c.on) continue;
    if (c.kind === 'shape') stands.set(c.id, standsOf(c.params.shape, [c.params.placement]));
    else if (c.kind === 'cut')
      for (const k of c.params.cutters)
        stands.set(k.id, standsOf(k.shape, instancesOf(k.placement, k.repeat).filter((i) => !i.off).map((i) => i.placement))); // prettier-ignore
  }
  const flat = faceNormals(m);
  const { source } = m.layers;
  return (face, point) => {
    const own: Vec3 = [flat[3 * face]!, flat[3 * face + 1]!, flat[3 * face + 2]!];
    const all = stands.get(source?.[3 * face] ?? -1);
    if (!all?.length) return own;
    // Of a repeated cutter the nearest instance made the face.
    const far = (s: Stand) => Math.hypot(...([0, 1, 2] as const).map((k) => s.position[k] - point[k]));
    const at = all.reduce((a, b) => (far(b) < far(a) ? b : a));
    const local = solve3(at.matrix, [point[0] - at.position[0], point[1] - at.position[1], point[2] - at.position[2]]);
    const turned = solve3(at.matrix, own);
    const length = Math.hypot(...turned) || 1;
    const n = at.surface([local[0] + at.pivot[0], local[1] + at.pivot[1], local[2] + at.pivot[2]], turned.map((x) => x / length) as unknown as Vec3); // prettier-ignore
    return [0, 1, 2].map((i) => at.matrix[3 * i]! * n[0] + at.matrix[3 * i + 1]! * n[1] + at.matrix[3 * i + 2]! * n[2]) as unknown as Vec3; // prettier-ignore
  };
}

type Placements = Parameters<typeof placementAffine>[0][];

function standsOf(shape: Shape, placements: Placements): Stand[] {
  const surface = surfaceOf(shape);
  if (!surface) return [];
  return placements.flatMap((p): Stand[] => {
    const [x, y, z] = (p.scale ?? [1, 1, 1]).map(Math.abs) as [number, number, number];
    // A surface that is stretched along its own axis alone stays the same round it; else it is another one.
    if (Math.abs(x - y) > 1e-12 * x || (Math.abs(x - z) > 1e-12 * x && !['cylinder', 'tube', 'slot', 'plate'].includes(shape.kind))) return []; // prettier-ignore
    const a = placementAffine(p);
    const matrix = [a[0]!, a[1]!, a[2]!, a[4]!, a[5]!, a[6]!, a[8]!, a[9]!, a[10]!];
    return [{ surface, matrix, position: p.position, pivot: pivotPlace(shape, () => undefined) }];
  });
}
