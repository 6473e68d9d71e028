import { describe, expect, it } from 'vitest';
import { carve, uncross } from '../../carve/index.ts';
import {
  areaAndVolume,
  components,
  faceBegin,
  faceBend,
  faceCount,
  faceEnd,
  isClosed,
  joinMeshes,
  sub,
  transformMesh,
  triangulateMesh,
  type PolyMesh,
  type Vec3,
  pairsThatMeet,
} from '../../mesh/index.ts';
import { ballFromPatches, ballFromRings, box, cylinder, seededRandom } from '../../shapes/index.ts';
import { inTriangles } from '../testMeshes.ts';
import { isWithin } from './steps.ts';
import { uncrossPieces } from './uncrossPieces.ts';

const resolved = (m: PolyMesh) => uncrossPieces(m, pairsThatMeet(m), (x, pairs) => uncross(x, pairs, 1));
const meet = (m: PolyMesh) => pairsThatMeet(m).length;
const moved = (m: PolyMesh, move: (p: Vec3) => Vec3): PolyMesh => {
  const positions = m.positions.slice();
  for (let i = 0; i < positions.length; i += 3)
    positions.set(move([...positions.subarray(i, i + 3)] as unknown as Vec3), i);
  return { ...m, positions };
};

/**
 * How often a closed mesh winds round a place: triangles that a line from it meets, those that it leaves by less those
 * that it comes in by.
 */
function windsRound(m: PolyMesh, p: Vec3): number {
  const way: Vec3 = [0.5377, 0.6124, 0.5797];
  const { triangles } = triangulateMesh(m);
  const volume = (a: readonly number[], b: readonly number[], c: readonly number[]) =>
    a[0]! * (b[1]! * c[2]! - b[2]! * c[1]!) +
    a[1]! * (b[2]! * c[0]! - b[0]! * c[2]!) +
    a[2]! * (b[0]! * c[1]! - b[1]! * c[0]!);
  let sum = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((j) =>
      sub(
        [
          ...m.positions.slice(3 * m.corners[triangles[t + j]!]!, 3 * m.corners[triangles[t + j]!]! + 3),
        ] as unknown as Vec3,
        p,
      ),
    ) as unknown as [Vec3, Vec3, Vec3];
    const [x, y, z] = [volume(way, a, b), volume(way, b, c), volume(way, c, a)].map(Math.sign);
    // The line goes through the triangle; before the place where it begins, or after it.
    if (x === y && y === z && volume(a, b, c) * x! > 0) sum += x!;
  }
  return sum;
}

describe('a piece that crosses itself', () => {
  it('has the volume of its parts united, where an arm of it stands in the other', () => {
    const at = (m: PolyMesh, x: number, y: number) => transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, 0]);
    const arm = box(8, 40, 8);
    const foot = carve(box(60, 10, 10), { cutters: [at(arm, -25, 15)], operation: 'union' }).mesh;
    const whole = carve(foot, { cutters: [at(arm, 25, 15)], operation: 'union' }).mesh;
    // The end of the right arm goes over into the left one: the arm is sheared from the foot on.
    const end = ([x, y, z]: Vec3): Vec3 => (y > 30 && x > 0 ? [x - 47, y + 3, 0.7 * z] : [x, y, z]);
    const bent = moved(whole, end);
    const sheared = moved(at(box(8, 30, 8), 25, 20), end);
    const witness = carve(foot, { cutters: [sheared], operation: 'union' }).mesh;
    expect(meet(bent)).toBeGreaterThan(0);
    const { mesh, done } = resolved(bent);
    expect([done, isClosed(mesh), meet(mesh), components(mesh).count]).toEqual([1, true, 0, 1]);
    expect(areaAndVolume(mesh).volume).toBeCloseTo(areaAndVolume(witness).volume, 6);
    expect(areaAndVolume(mesh).area).toBeCloseTo(areaAndVolume(witness).area, 6);
  });

  it.each([
    ['quads', (m: PolyMesh) => m],
    ['triangles', inTriangles],
  ] as const)('of %s is flat again where a vertex was drawn past its neighbours on a flat face', (_, as) => {
    for (const [dx, dy] of [
      [7, 0.7],
      [-7.5, -9],
      [12, 0.5],
    ] as const) {
      const m = moved(as(box(20, 20, 20, [3, 3, 3])), ([x, y, z]) =>
        x > 3 && x < 4 && y > 3 && y < 4 && z > 9 ? [x + dx, y + dy, z] : [x, y, z],
      );
      expect(meet(m)).toBeGreaterThan(0);
      const { mesh, done } = resolved(m);
      expect([done, isClosed(mesh), meet(mesh)]).toEqual([1, true, 0]);
      expect([areaAndVolume(mesh).volume, areaAndVolume(mesh).area]).toEqual([
        expect.closeTo(8000, 9),
        expect.closeTo(2400, 9),
      ]);
    }
  });

  it('has its bent faces resolved as triangles, its flat ones whole', () => {
    const given = (dx: number, dz: number) => {
      const m = moved(box(20, 20, 20, [3, 3, 3]), ([x, y, z]) =>
        x > 3 && x < 4 && y > 3 && y < 4 && z > 9 ? [x + dx, y, z + dz] : [x, y, z],
      );
      const pairs = pairsThatMeet(m);
      let [bent, triangles] = [-1, -1];
      uncrossPieces(m, pairs, (x, met) => {
        const faces = Array.from({ length: faceCount(x) }, (_, f) => f);
        if (bent < 0) {
          bent = faces.filter((f) => faceBend(x, f) > 1e-9).length;
          triangles = faces.filter((f) => faceEnd(x, f) - faceBegin(x, f) === 3).length;
        }
        return uncross(x, met, 1);
      });
      return [pairs.length > 0, bent, triangles];
    };
    // Drawn out below: the four faces round the vertex are bent, and go as eight triangles.
    expect(given(0.3, -25)).toEqual([true, 0, 8]);
    // An arm that leans into the other has flat faces only.
    const arm = (x: number) => transformMesh(box(8, 40, 8), [1, 0, 0, x, 0, 1, 0, 15, 0, 0, 1, 0]);
    const arms = carve(box(60, 10, 10), { cutters: [arm(-25), arm(25)], operation: 'union' }).mesh;
    const sheared = moved(arms, ([x, y, z]) => (y > 30 && x > 0 ? [x - 47, y, z] : [x, y, z]));
    expect(meet(sheared)).toBeGreaterThan(0);
    let first = 0;
    uncrossPieces(sheared, pairsThatMeet(sheared), (x, pairs) => {
      first ||= faceCount(x);
      return uncross(x, pairs, 1);
    });
    expect(first).toBe(faceCount(sheared));
  });

  it('loses the lobe that was turned inside out: a corner drawn through the far side leaves an opening there', () => {
    const m = moved(box(20, 20, 20, [3, 3, 3]), ([x, y, z]) =>
      x > 3 && x < 4 && y > 3 && y < 4 && z > 9 ? [x + 0.3, y + 0.1, -25] : [x, y, z],
    );
    const { mesh } = resolved(m);
    expect([isClosed(mesh), meet(mesh)]).toEqual([true, 0]);
    expect(Math.min(...mesh.positions)).toBeCloseTo(-10, 12);
    // Where it went through, a way leads from top to bottom.
    expect(isWithin(mesh, [3.6, 3.4, -9])).toBe(false);
    expect(isWithin(mesh, [-5, -5, -9])).toBe(true);
  });

  it.each([
    [0, 11],
    [20, 9],
    [40, 11],
  ])(
    'encloses what it wound round before: bodies with scattered vertices, from %i on, of which %i cross themselves, asked at places by lines',
    (first, crossing) => {
      let met = 0;
      for (let run = first; run < first + 20; run++) {
        const random = seededRandom(run + 1);
        const m = [
          ballFromPatches(20, 4),
          ballFromRings(20, 12, 6),
          cylinder(15, 40, 12, 3),
          inTriangles(box(20, 20, 20, [3, 3, 3])),
        ][run % 4]!;
        const amount = [8, 15, 25][run % 3]!;
        // Every vertex a little, so that nothing is flush, and some far.
        const far = Array.from({ length: m.positions.length / 3 }, () => (random() < 0.3 ? amount : 0.5));
        const positions = m.positions.map((x, i) => x + (random() - 0.5) * far[Math.floor(i / 3)]!);
        // Triangles all through: what a bent face encloses depends on how it is cut up.
        const hurt = inTriangles({ ...m, positions });
        const pairs = meet(hurt);
        const { mesh, done } = resolved(hurt);
        expect(done, `run ${run}`).toBe(pairs ? 1 : 0);
        if (!pairs) continue;
        met++;
        expect([isClosed(mesh), meet(mesh)], `run ${run}`).toEqual([true, 0]);
        for (let k = 0; k < 40; k++) {
          const p: Vec3 = [(random() - 0.5) * 40, (random() - 0.5) * 40, (random() - 0.5) * 40];
          expect(isWithin(mesh, p), `run ${run} at ${p.join()}`).toBe(windsRound(hurt, p) > 0);
        }
      }
      expect(met).toBe(crossing);
    },
  );

  it('stays as it is where it is open, or does not cross itself; others beside it are not touched', () => {
    const sound = box(10, 10, 10);
    expect(resolved(sound).mesh).toBe(sound);
    const crossing = moved(inTriangles(box(20, 20, 20, [3, 3, 3])), ([x, y, z]) =>
      x > 3 && x < 4 && y > 3 && y < 4 && z > 9 ? [x, y, -25.1] : [x, y, z],
    );
    const both = joinMeshes([crossing, transformMesh(sound, [1, 0, 0, 100, 0, 1, 0, 0, 0, 0, 1, 0])]);
    const { mesh, done } = resolved(both);
    expect([done, components(mesh).count, meet(mesh)]).toEqual([1, 2, 0]);
    expect(faceCount(mesh)).toBeGreaterThan(12);
  });
});
