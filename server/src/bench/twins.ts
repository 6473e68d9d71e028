import { carve, OPERATIONS } from '@dusky-mason/core/carve';
import {
  faceCount,
  isClosed,
  MasonError,
  sizeOf,
  transformMesh,
  areaAndVolume,
  type Affine,
  type PolyMesh,
} from '@dusky-mason/core/mesh';
import { randomTurn, seededRandom } from '@dusky-mason/core/shapes';
import { ownBodies, placed, realBodies } from './bodies.ts';

/** A result of less than this share of the volume is crumbs: it should have been nothing. */
const CRUMBS = 1e-10;

/**
 * `npm run suite -- twins [each] [seed]`: bodies against themselves, hardly shifted, turned or mirrored: by 1e-12 to
 * 1e-3 of the size. Each operation is done, closed and of a volume that fits, or says that nothing is left.
 */
export function twinsSuite(each: number, seed: number): void {
  const random = seededRandom(seed);
  const bodies = [...realBodies().filter((b) => faceCount(b.mesh) < 6000), ...ownBodies()];
  console.log(`seed ${seed}; ${bodies.length} bodies`);
  for (const { name, mesh } of bodies) {
    const row = { ok: 0, nothing: 0, refused: 0, wrong: 0, crumbs: 0 };
    const rungs: Record<number, number> = {};
    let worst = '';
    for (let i = 0; i < each; i++) {
      const a = placed(mesh, randomTurn(random), 1, [0, 0, 0]);
      const by = 10 ** (-12 + 9 * random());
      const b = twinOf(a, by, Math.floor(3 * random()), random);
      const [va, vb] = [areaAndVolume(a).volume, areaAndVolume(b).volume];
      const got: number[] = [];
      for (const operation of OPERATIONS) {
        try {
          const { mesh: m, report } = carve(a, { cutters: [b], operation });
          rungs[report.rung] = (rungs[report.rung] ?? 0) + 1;
          got.push(areaAndVolume(m).volume);
          if (!isClosed(m)) row.wrong++;
          else if (got.at(-1)! < CRUMBS * va) row.crumbs++;
          else row.ok++;
        } catch (e) {
          if (!(e instanceof MasonError)) throw e;
          if (e.code === 'bad-input') {
            row.nothing++;
            got.push(0);
          } else {
            row.refused++;
            got.push(NaN);
            worst ||= `${operation} ${by.toExponential(1)}: ${e.message}`;
          }
        }
      }
      const [s, u, x] = OPERATIONS.map((_, k) => got[k]!);
      const off = Math.max(Math.abs(s! + x! - va), Math.abs(u! + x! - va - vb)) / (va + vb);
      if (off > 1e-6) {
        row.wrong++;
        worst ||= `${by.toExponential(1)}: volumes off by ${off.toExponential(1)}`;
      }
    }
    console.log(`  ${name}: ${JSON.stringify(row)}, rungs ${JSON.stringify(rungs)} ${worst}`);
  }
}

/** A body shifted (0), turned about its middle (1), or mirrored and shifted (2) by a share of its size. */
function twinOf(m: PolyMesh, by: number, how: number, random: () => number): PolyMesh {
  const way = randomTurn(random);
  const d = by * sizeOf(m);
  const shift = way.slice(0, 3).map((x) => x * d);
  if (how === 0) return transformMesh(m, [1, 0, 0, shift[0]!, 0, 1, 0, shift[1]!, 0, 0, 1, shift[2]!]);
  if (how === 2) return transformMesh(m, [-1, 0, 0, shift[0]!, 0, 1, 0, shift[1]!, 0, 0, 1, shift[2]!]);
  const [c, s] = [Math.cos(by), Math.sin(by)];
  return transformMesh(m, [c, -s, 0, 0, s, c, 0, 0, 0, 0, 1, 0] as unknown as Affine);
}
