import { trust, trustAs, type Direction } from '../../carve/index.ts';
import {
  bounds,
  isClosed,
  MasonError,
  placementAffine,
  transformMesh,
  type Affine,
  type PolyMesh,
} from '../../mesh/index.ts';
import { formatLength, type LengthUnit } from '../../units/index.ts';
import { outlineRun } from '../base/runs.ts';
import { type MeshStore, shapeMesh } from '../base/shapeMesh.ts';
import { shapeSize } from '../base/shapeSize.ts';
import { Shape, shapeTitle } from '../base/shapeSpec.ts';
import type { Cutter } from '../settings/cutSettings.ts';

/**
 * The mesh of a placed shape, tagged; `through` stretches it along its own z axis until it clears a target on both
 * sides, `lean` slants it until its sides run along a direction (its outline in its own plane stays). A shape is looked
 * at once, where it is made; placing and tagging leave it as sound as it is.
 */
export function placedMesh(
  shape: Shape,
  placement: Cutter['placement'],
  store: MeshStore,
  tag: (m: PolyMesh) => PolyMesh = (m) => m,
  through: PolyMesh | null = null,
  lean: Direction | null = null,
): PolyMesh {
  const raw = shapeMesh(shape, store);
  const longer = through ? transformMesh(raw, stretchThrough(raw, placement, through)) : raw;
  const leaning = lean ? transformMesh(longer, leanTo(placement, lean)) : longer;
  const mesh = tag(transformMesh(leaning, placementAffine(placement)));
  // Shapes of our own are sound by construction; an imported one may be damaged, which is no fault until it is cut.
  if (shape.kind === 'mesh') return trustAs(mesh, raw);
  return isClosed(raw) ? trust(mesh) : mesh;
}

/** Width and depth of an outline, its arcs included, mm. */
function outlineSize(s: Extract<Shape, { kind: 'outline' }>): number[] {
  const run = outlineRun(s);
  return [0, 1].map(
    (k) => run.reduce((m, p) => Math.max(m, p[k]!), -Infinity) - run.reduce((m, p) => Math.min(m, p[k]!), Infinity),
  );
}

/** A shape's size in a few characters: `Ø 40 × 20`, `100 × 60 × 20`. */
export function sizeWords(shape: Shape, unit: LengthUnit): string {
  const n = (x: number) => formatLength(x, unit).replace(/ \S+$/, '');
  switch (shape.kind) {
    case 'cylinder':
    case 'tube':
    case 'polygon':
      return `Ø ${n(shape.diameter)} × ${n(shape.height)}`;
    case 'cone':
      return `Ø ${n(shape.foot)} to ${n(shape.top)} × ${n(shape.height)}`;
    case 'turned': {
      const [x, , z] = shapeSize(shape)!;
      return `Ø ${n(x)} × ${n(z)}`;
    }
    case 'ball':
    case 'patchBall':
      return `Ø ${n(shape.diameter)}`;
    case 'torus':
      return `Ø ${n(shape.diameter)}, ${n(shape.thickness)} thick`;
    case 'outline':
      return [...outlineSize(shape), shape.height].map(n).join(' × ');
    case 'fitted': {
      const reach = (k: 0 | 1) =>
        Math.max(...shape.points.map((p) => p[k])) - Math.min(...shape.points.map((p) => p[k]));
      return `${n(reach(0))} × ${n(reach(1))} × ${n(shape.thickness)}`;
    }
    case 'part':
    case 'mesh':
      return shape.title;
    default:
      return (shapeSize(shape) ?? [])
        .filter((x) => x > 0)
        .map(n)
        .join(' × ');
  }
}

/** A shape in words, with its size: `box 100 × 60 × 20 mm`; of a mesh or a part its title. */
export const shapeWords = (shape: Shape, unit: LengthUnit, between = ' '): string =>
  shape.kind === 'part' || shape.kind === 'mesh'
    ? shape.title
    : `${shapeTitle(shape.kind).toLowerCase()}${between}${sizeWords(shape, unit)} ${unit}`;

/** How far a stretched cutter stands out on either side, as a share of the part's length along it. */
const THROUGH_CLEAR = 0.02;

/** The change of a shape along its own z axis, in its own frame, by which it reaches past a target on both sides. */
function stretchThrough(raw: PolyMesh, placement: Cutter['placement'], target: PolyMesh): Affine {
  const [from, to] = alongOwnAxis(target, placement);
  const { min, max } = bounds(raw);
  const low = Math.min(min[2], from - THROUGH_CLEAR * (to - from));
  const high = Math.max(max[2], to + THROUGH_CLEAR * (to - from));
  const k = (high - low) / (max[2] - min[2]);
  return [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, k, low - k * min[2]];
}

/** A direction nearer to the outline's plane than this (sine) would project it to a line. */
const FLATTEST = 0.02;

/** The change of a shape, in its own frame, by which what was along its z axis runs along a direction of the part. */
function leanTo(placement: Cutter['placement'], along: Direction): Affine {
  const a = placementAffine(placement);
  // The direction in the shape's own frame: the placement undone, scales and all.
  const [x, y, z] = solve3([a[0]!, a[1]!, a[2]!, a[4]!, a[5]!, a[6]!, a[8]!, a[9]!, a[10]!], along);
  if (Math.abs(z) < FLATTEST * Math.hypot(x, y, z))
    throw new MasonError(
      'bad-input',
      'The direction lies in the plane of the cutter’s outline and would project it to a line. Turn the cutter, or choose another direction.',
    );
  return [1, 0, x / z, 0, 0, 1, y / z, 0, 0, 0, 1, 0];
}

/** Solves M u = v for a 3 × 3 matrix (row by row) by Cramer's rule. */
export function solve3(m: readonly number[], v: readonly number[]): [number, number, number] {
  const det = (q: readonly number[]) =>
    q[0]! * (q[4]! * q[8]! - q[5]! * q[7]!) -
    q[1]! * (q[3]! * q[8]! - q[5]! * q[6]!) +
    q[2]! * (q[3]! * q[7]! - q[4]! * q[6]!);
  const d = det(m);
  return [0, 1, 2].map((k) => det(m.map((x, i) => (i % 3 === k ? v[Math.floor(i / 3)]! : x))) / d) as [
    number,
    number,
    number,
  ];
}

/** The own z axis of a placement, unit, in the part's frame. */
export function ownAxis(placement: Cutter['placement']): [number, number, number] {
  const a = placementAffine(placement);
  const l = Math.hypot(a[2]!, a[6]!, a[10]!);
  return [a[2]! / l, a[6]! / l, a[10]! / l];
}

/**
 * From where to where a mesh reaches along the own z axis of a placement, in its own frame: from its origin, before its
 * scale, mm.
 */
export function alongOwnAxis(m: PolyMesh, placement: Cutter['placement']): [number, number] {
  const [x, y, z] = ownAxis(placement);
  const [px, py, pz] = placement.position;
  const scale = Math.abs(placement.scale?.[2] ?? 1);
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < m.positions.length; i += 3) {
    const d = x * (m.positions[i]! - px) + y * (m.positions[i + 1]! - py) + z * (m.positions[i + 2]! - pz);
    if (d < low) low = d;
    if (d > high) high = d;
  }
  return [low / scale, high / scale];
}
