import {
  faceNormals,
  placementAffine,
  SmoothSurface,
  transformMesh,
  type PolyMesh,
  type Vec3,
} from '../../mesh/index.ts';
import { roundedRun } from '../../shapes/index.ts';
import type { Intended } from '../../survey/index.ts';
import { instancesOf } from '../base/repeat.ts';
import { type MeshStore, pivotPlace, shapeMesh } from '../base/shapeMesh.ts';
import { Shape } from '../base/shapeSpec.ts';
import type { Part } from '../document/document.ts';
import { solve3 } from './placed.ts';

/** A face that leans to the axis by less than this (cosine) belongs to a wall round it; else to an end. */
const END = 0.999;

/** The smooth surface that the faces of a body approximate. */
interface Surface {
  /** The normal near a point, any length; `flat` is that of the face there, which is the body's face of this number. */
  normal(p: Vec3, flat: Vec3, face: number): Vec3;
  /** How far a point is from it, mm. */
  off(p: Vec3, flat: Vec3, face: number): number;
}

/** Round the z axis through a place of the plane: as steep as the face, in the direction of the point. */
const round = (p: Vec3, flat: Vec3, cx = 0, cy = 0): Vec3 => {
  const [x, y] = [p[0] - cx, p[1] - cy];
  const r = Math.hypot(x, y);
  const lean = Math.hypot(flat[0], flat[1]);
  if (!(r > 0) || Math.abs(flat[2]) > END) return flat;
  const sign = flat[0] * x + flat[1] * y < 0 ? -1 : 1;
  return [(sign * lean * x) / r, (sign * lean * y) / r, flat[2]];
};

/** The corners of a body's face. */
type Corners = (face: number) => Vec3[];

/** How far a point is from the plane of a face. */
const offPlane = (p: Vec3, flat: Vec3, on: Vec3 | undefined): number =>
  on ? Math.abs(flat[0] * (p[0] - on[0]) + flat[1] * (p[1] - on[1]) + flat[2] * (p[2] - on[2])) : 0;

/** A body turned round the z axis: each face is a piece of the ring that its profile sweeps. */
const turned = (corners: Corners): Surface => ({
  normal: (p, flat) => round(p, flat),
  off(p, flat, face) {
    const list = corners(face);
    if (!list.length || Math.abs(flat[2]) > END) return offPlane(p, flat, list[0]);
    const profile = list.map(([x, y, z]) => [Math.hypot(x, y), z] as const);
    const [a, b] = [profile[0]!, profile.reduce((m, q) => (gap(q, profile[0]!) > gap(m, profile[0]!) ? q : m))];
    const [er, ez] = [b[0] - a[0], b[1] - a[1]];
    const [wr, wz] = [Math.hypot(p[0], p[1]) - a[0], p[2] - a[1]];
    // From the whole line: a cutter that goes through is longer than it was made.
    return Math.abs(er * wz - ez * wr) / (Math.hypot(er, ez) || 1);
  },
});
const gap = (a: readonly [number, number], b: readonly [number, number]) => Math.hypot(a[0] - b[0], a[1] - b[1]);

/** An arc of a prism's outline, in its plane, mm and radians. */
interface Arc {
  at: readonly [number, number];
  radius: number;
  /** Where it begins, and how far it goes round, counter-clockwise. */
  from: number;
  span: number;
}

/** A prism whose outline has arcs: on their flats the round surface is meant, elsewhere the flat one. */
function prismOf(arcs: readonly Arc[], corners: Corners): Surface {
  const known = new Map<number, Arc | null>();
  const arcOf = (flat: Vec3, face: number): Arc | null => {
    if (Math.abs(flat[2]) > END) return null;
    if (known.has(face)) return known.get(face)!;
    // All corners of a flat lie on its arc.
    const list = corners(face);
    const arc = arcs.find((a) => list.length > 0 && list.every((p) => onArc(a, p))) ?? null;
    known.set(face, arc);
    return arc;
  };
  return {
    normal: (p, flat, face) => {
      const arc = arcOf(flat, face);
      return arc ? round(p, flat, ...arc.at) : flat;
    },
    off: (p, flat, face) => {
      const arc = arcOf(flat, face);
      return arc
        ? Math.abs(Math.hypot(p[0] - arc.at[0], p[1] - arc.at[1]) - arc.radius)
        : offPlane(p, flat, corners(face)[0]);
    },
  };
}

/** Corners within this share of the radius of an arc are on it. */
const ON_ARC = 1e-9;

function onArc({ at, radius, from, span }: Arc, p: Vec3): boolean {
  const [x, y] = [p[0] - at[0], p[1] - at[1]];
  if (Math.abs(Math.hypot(x, y) - radius) > ON_ARC * radius) return false;
  const turn = 2 * Math.PI;
  const along = (((Math.atan2(y, x) - from) % turn) + turn) % turn;
  return along <= span + ON_ARC || along >= turn - ON_ARC;
}

/** The arcs of an outline, its rounded corners too. */
function arcsOf(s: Extract<Shape, { kind: 'outline' }>): Arc[] {
  const { points, bows } = roundedRun(s.points, s.bows, s.radii);
  return points.flatMap((p, i): Arc[] => {
    const q = points[(i + 1) % points.length]!;
    const bow = bows[i] ?? 0;
    const chord = gap(p, q);
    if (!bow || !chord) return [];
    const radius = (chord * chord) / (8 * Math.abs(bow)) + Math.abs(bow) / 2;
    // The middle of the arc lies to the right of its chord where it bows outward.
    const back = (radius - Math.abs(bow)) * Math.sign(bow);
    const at = [
      (p[0] + q[0]) / 2 - (back * (q[1] - p[1])) / chord,
      (p[1] + q[1]) / 2 + (back * (q[0] - p[0])) / chord,
    ] as const;
    const [first] = bow > 0 ? [p] : [q];
    const span = 4 * Math.atan2(2 * Math.abs(bow), chord);
    return [{ at, radius, from: Math.atan2(first[1] - at[1], first[0] - at[0]), span }];
  });
}

/** The four round corners of a rectangle, or the two round ends of a slot. */
function cornerArcs(x: number, y: number, corner: number): Arc[] {
  const [hx, hy] = [x / 2 - corner, y / 2 - corner];
  if (!(corner > 0)) return [];
  return [
    [1, 1],
    [-1, 1],
    [-1, -1],
    [1, -1],
  ].map(([i, j], k): Arc => ({ at: [i! * hx, j! * hy], radius: corner, from: (k * Math.PI) / 2, span: Math.PI / 2 }));
}

/**
 * The exact surface of a shape, in the frame that it is made in; null where its faces stand for no more than a mesh
 * does.
 */
function surfaceOf(s: Shape, corners: Corners): Surface | null {
  switch (s.kind) {
    case 'cylinder':
    case 'tube':
    case 'cone':
    case 'turned':
      return turned(corners);
    case 'ball':
    case 'patchBall':
      return { normal: (p) => p, off: (p) => Math.abs(Math.hypot(...p) - s.diameter / 2) };
    case 'torus': {
      const ring = s.diameter / 2;
      const out = (p: Vec3): Vec3 => {
        const r = Math.hypot(p[0], p[1]) || 1;
        return [p[0] - (ring * p[0]) / r, p[1] - (ring * p[1]) / r, p[2]];
      };
      return { normal: out, off: (p) => Math.abs(Math.hypot(...out(p)) - s.thickness / 2) };
    }
    case 'slot':
      return prismOf(cornerArcs(s.x, s.y, s.y / 2), corners);
    case 'plate':
      return prismOf(cornerArcs(s.x, s.y, Math.min(s.corner, s.x / 2, s.y / 2)), corners);
    case 'outline':
      return prismOf(arcsOf(s), corners);
    default:
      return null;
  }
}

/** Where a body stands, with its surface in its own frame. */
interface Stand {
  surface: Surface;
  matrix: number[];
  position: Vec3;
  pivot: Vec3;
  /** Lengths in the part's frame for one in its own. */
  scale: number;
  /**
   * Normals of the body's own faces in its frame: whether a face is of a wall or of an end follows from what it was.
   * Null where its surface is a mesh.
   */
  normals: Float64Array | null;
}

/** The intended shape of a part: the undisturbed surfaces that its faces come from. */
export interface Guide {
  /** The normal that is meant at a point of a face. */
  normal: Intended;
  /** How far a point of a face is from the surface that the face comes from, mm. */
  off(face: number, point: Vec3): number;
  /** Whether a face comes from a body of the part. */
  knows(face: number): boolean;
}

/**
 * The guide surface of a part: of a face that comes from a shape of ours the exact surface that the shape stands for;
 * of one that comes from an imported mesh, or a shape that is stretched out of its kind, the smooth surface of that
 * mesh as it was before the first cut; of all others that of the mesh itself.
 */
export function guideOf(part: Part, m: PolyMesh, store: MeshStore): Guide {
  const stands = new Map<number, Stand[]>();
  for (const c of part.courses) {
    if (!c.on) continue;
    if (c.kind === 'shape') stands.set(c.id, standsOf(c.params.shape, [c.params.placement], store));
    else if (c.kind === 'cut')
      for (const k of c.params.cutters)
        stands.set(
          k.id,
          standsOf(
            k.shape,
            instancesOf(k.placement, k.repeat)
              .filter((i) => !i.off)
              .map((i) => i.placement),
            store,
          ),
        );
  }
  const flat = faceNormals(m);
  const { source } = m.layers;
  const itself = new SmoothSurface(m);
  /** The body that a face comes from, and the point and the normal in its frame. */
  const seen = (face: number, point: Vec3) => {
    const all = stands.get(source?.[3 * face] ?? -1);
    if (!all?.length) return null;
    // For a repeated cutter, the nearest instance made the face.
    const far = (s: Stand) => Math.hypot(...([0, 1, 2] as const).map((k) => s.position[k] - point[k]));
    const at = all.reduce((a, b) => (far(b) < far(a) ? b : a));
    const local = solve3(at.matrix, [point[0] - at.position[0], point[1] - at.position[1], point[2] - at.position[2]]);
    const leaning = solve3(at.matrix, [flat[3 * face]!, flat[3 * face + 1]!, flat[3 * face + 2]!]);
    const index = source![3 * face + 1]!;
    const was =
      at.normals && index >= 0 && 3 * index < at.normals.length ? at.normals.subarray(3 * index, 3 * index + 3) : null;
    const side = was && was[0]! * leaning[0] + was[1]! * leaning[1] + was[2]! * leaning[2] < 0 ? -1 : 1;
    const own = was ? [side * was[0]!, side * was[1]!, side * was[2]!] : leaning;
    const length = Math.hypot(...own) || 1;
    const p: Vec3 = [local[0] + at.pivot[0], local[1] + at.pivot[1], local[2] + at.pivot[2]];
    return { at, p, flat: own.map((x) => x / length) as unknown as Vec3, face: index };
  };
  return {
    normal(face, point) {
      const s = seen(face, point);
      if (!s) return itself.normalAt(face, point)!;
      const n = s.at.surface.normal(s.p, s.flat, s.face);
      return [0, 1, 2].map(
        (i) => s.at.matrix[3 * i]! * n[0] + s.at.matrix[3 * i + 1]! * n[1] + s.at.matrix[3 * i + 2]! * n[2],
      ) as unknown as Vec3;
    },
    knows: (face) => (stands.get(source?.[3 * face] ?? -1)?.length ?? 0) > 0,
    off(face, point) {
      const s = seen(face, point);
      return s ? s.at.scale * s.at.surface.off(s.p, s.flat, s.face) : itself.off(point);
    },
  };
}

type Placements = Parameters<typeof placementAffine>[0][];

function standsOf(shape: Shape, placements: Placements, store: MeshStore): Stand[] {
  let mesh: PolyMesh;
  try {
    mesh = shapeMesh(shape, store);
  } catch {
    // A body that cannot be made left no faces in the part.
    return [];
  }
  const pivot: Vec3 = pivotPlace(shape, store);
  const surface = surfaceOf(shape, cornersOf(mesh, pivot));
  const normals = faceNormals(mesh);
  return placements.map((p): Stand => {
    const [x, y, z] = (p.scale ?? [1, 1, 1]).map(Math.abs) as [number, number, number];
    // A surface that is stretched along its own axis alone stays the same round it; else it is another one.
    const even = Math.abs(x - y) <= 1e-12 * x;
    const long = even && Math.abs(x - z) > 1e-12 * x;
    const exact = surface && even && (!long || ALONG_AXIS.includes(shape.kind));
    const a = placementAffine(p);
    if (!exact)
      return {
        surface: meshSurface(transformMesh(mesh, a)),
        matrix: [1, 0, 0, 0, 1, 0, 0, 0, 1],
        position: p.position,
        pivot: p.position,
        scale: 1,
        normals: null,
      };
    const matrix = [a[0]!, a[1]!, a[2]!, a[4]!, a[5]!, a[6]!, a[8]!, a[9]!, a[10]!];
    return { surface, matrix, position: p.position, pivot, scale: x, normals };
  });
}

/** Prisms: their sides run along their axis, whatever it is stretched by. */
const ALONG_AXIS = ['cylinder', 'tube', 'slot', 'plate', 'outline'];

/** The smooth surface of a mesh that stands in the part's frame. */
function meshSurface(m: PolyMesh): Surface {
  const smooth = new SmoothSurface(m);
  return { normal: (p, flat, face) => smooth.normalAt(face, p) ?? flat, off: (p) => smooth.off(p) };
}

const cornersOf =
  (m: PolyMesh, pivot: Vec3): Corners =>
  (face) => {
    if (!(face >= 0 && face + 1 < m.faceLoops.length)) return [];
    const out: Vec3[] = [];
    for (let c = m.loopStart[m.faceLoops[face]!]!; c < m.loopStart[m.faceLoops[face]! + 1]!; c++) {
      const v = 3 * m.corners[c]!;
      out.push([m.positions[v]! + pivot[0], m.positions[v + 1]! + pivot[1], m.positions[v + 2]! + pivot[2]]);
    }
    return out;
  };
