import { carve } from '../carve/index.ts';
import { damaged, DAMAGES } from '../mend/index.ts';
import { meshFromFaces, sizeOf, transformMesh, triangulateMesh, type PolyMesh } from '../mesh/index.ts';
import { box, cylinder, seededRandom } from '../shapes/index.ts';

/** Times that each kind of damage is done to it. */
const TIMES = 2;

/** The casting as it was poured: a flanged seat with a bore, in triangles as a scan has it. */
export function soundCasting(): PolyMesh {
  const moved = (m: PolyMesh, z: number) => transformMesh(m, [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, z]);
  const body = carve(box(120, 90, 16, [6, 5, 2]), {
    cutters: [moved(cylinder(32, 50, 32, 5), 24)],
    operation: 'union',
  }).mesh;
  const bored = carve(body, { cutters: [cylinder(18, 160, 24)], operation: 'subtract' }).mesh;
  const { triangles } = triangulateMesh(bored);
  const corners = [...triangles].map((c) => bored.corners[c]!);
  return meshFromFaces(
    [...bored.positions],
    Array.from({ length: corners.length / 3 }, (_, i) => corners.slice(3 * i, 3 * i + 3)),
  );
}

/** The salvaged casting: the same after years in a shed and a careless scan, with every kind of damage. */
export function salvagedCasting(): PolyMesh {
  const sound = soundCasting();
  const random = seededRandom(1907);
  const kinds = DAMAGES.filter((k) => k !== 'insideOut' && k !== 'soup' && k !== 'inside');
  const list = Array.from({ length: TIMES }, () => kinds).flat();
  return damaged(sound, [...list, 'inside', 'soup'], random, sizeOf(sound));
}
