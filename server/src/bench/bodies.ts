import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { isSolid } from '@dusky-mason/core/carve';
import { twistedBar } from '@dusky-mason/core/carve/suite';
import { subdivide } from '@dusky-mason/core/dress';
import { readObj } from '@dusky-mason/core/formats';
import { faceBend, faceCount, sizeOf, transformMesh, type Affine, type PolyMesh } from '@dusky-mason/core/mesh';
import {
  ballFromPatches,
  ballFromRings,
  box,
  cylinder,
  prism,
  torus,
  tube,
  type Point2,
} from '@dusky-mason/core/shapes';

/** A body for long runs: what it is called, and whether some of its faces are not flat. */
export interface Body {
  name: string;
  mesh: PolyMesh;
  bent: boolean;
}

/** Faces that bend by more than this share of the size are bent. */
const BENT = 1e-9;

/** Where real meshes are looked for; without them the runs go on our own bodies alone. */
const MESHES = path.join(path.dirname(fileURLToPath(import.meta.url)), '../../../../shared/meshes');

export function isBent(m: PolyMesh): boolean {
  const least = BENT * sizeOf(m);
  for (let f = 0; f < faceCount(m); f++) if (faceBend(m, f) > least) return true;
  return false;
}

const bodyOf = (name: string, mesh: PolyMesh): Body => ({ name, mesh, bent: isBent(mesh) });

/** Our own bodies, about 100 mm across: flat, bent, turned and pierced ones. */
export function ownBodies(): Body[] {
  const ell: Point2[] = [
    [-50, -40],
    [50, -40],
    [50, -10],
    [-10, -10],
    [-10, 40],
    [-50, 40],
  ];
  return Object.entries({
    box: box(100, 60, 40),
    cylinder: cylinder(40, 90, 48),
    tube: tube(50, 30, 60, 48),
    'ball of rings': ballFromRings(50, 32, 16),
    'ball of patches': ballFromPatches(50, 6),
    ring: torus(40, 12, 48, 24),
    angle: prism({ points: ell }, 30),
    'twisted bar': twistedBar(60, 90, 0.5),
  }).map(([name, mesh]) => bodyOf(name, mesh));
}

/** The real meshes that are there, scaled to 100 mm; those that a cut would refuse are left out. */
export function realBodies(): Body[] {
  return damagedOrNot().filter((b) => isSolid(b.mesh));
}

/** All real meshes that are there, scaled to 100 mm. */
export function damagedOrNot(): Body[] {
  if (!existsSync(MESHES)) return [];
  return readdirSync(MESHES)
    .filter((f) => f.endsWith('.obj'))
    .sort()
    .map((f) => {
      const { mesh } = readObj(new Uint8Array(readFileSync(path.join(MESHES, f))));
      const k = 100 / sizeOf(mesh);
      return bodyOf(path.basename(f, '.obj'), transformMesh(mesh, [k, 0, 0, 0, 0, k, 0, 0, 0, 0, k, 0]));
    });
}

/** Bodies of bent quads: those that were given, subdivided once. */
export const subdivided = (bodies: readonly Body[]): Body[] =>
  bodies.map(({ name, mesh }) => bodyOf(`${name}, subdivided`, subdivide(mesh, { levels: 1 }).mesh));

/** A body turned, scaled to a size and moved, as a mesh that nothing is known of. */
export function placed(m: PolyMesh, turn: readonly number[], scale: number, to: readonly number[]): PolyMesh {
  const affine = [0, 1, 2].flatMap((i) => [
    scale * turn[3 * i]!,
    scale * turn[3 * i + 1]!,
    scale * turn[3 * i + 2]!,
    to[i]!,
  ]) as unknown as Affine;
  return transformMesh(m, affine);
}
