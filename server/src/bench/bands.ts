import { carve } from '@dusky-mason/core/carve';
import { bevel } from '@dusky-mason/core/dress';
import { keptEdges, layBands } from '@dusky-mason/core/mend';
import {
  faceCount,
  isClosed,
  MasonError,
  sizeOf,
  topologyOf,
  withSource,
  type PolyMesh,
  pairsThatMeet,
} from '@dusky-mason/core/mesh';
import { randomTurn, seededRandom } from '@dusky-mason/core/shapes';
import { ownBodies, placed, realBodies } from './bodies.ts';

/** The band's width as a share of the size, and how much of it a bevel takes. */
const [WIDTH, OF_BAND] = [0.02, 0.9];
/** Bodies with more faces are left to the bench. */
const MOST_FACES = 6000;

const ends = (a: number, b: number): string => (a < b ? `${a},${b}` : `${b},${a}`);

/**
 * `npm run suite -- bands [runs] [seed]`: two bodies cut at random, bands along the seam, and a bevel of nine tenths of
 * them, against the bevel without: each closed and uncrossed.
 */
export function bandsSuite(runs: number, seed: number): void {
  const random = seededRandom(seed);
  const bodies = [...ownBodies(), ...realBodies().filter((b) => faceCount(b.mesh) < MOST_FACES)];
  const one = () => bodies[Math.floor(random() * bodies.length)]!;
  const at = (): [number, number, number] => [30 * (random() - 0.5), 30 * (random() - 0.5), 30 * (random() - 0.5)];
  const sum = { runs: 0, open: 0, cross: 0, bare: 0, full: 0, wider: 0, none: 0, sides: 0, quads: 0, others: 0 };
  const times: number[] = [];
  console.log(`seed ${seed}; ${bodies.length} bodies`);
  while (sum.runs < runs) {
    const [x, y] = [one(), one()];
    const [a, b] = [x, y].map((z) => placed(z.mesh, randomTurn(random), 100 / sizeOf(z.mesh), at())) as [
      PolyMesh,
      PolyMesh,
    ];
    const operation = random() < 0.5 ? 'union' : 'subtract';
    let m: PolyMesh;
    try {
      m = carve(withSource(a, 1, 1), { cutters: [withSource(b, 2, 3)], operation, course: 3 }).mesh;
    } catch (e) {
      if (e instanceof MasonError) continue;
      throw e;
    }
    const t = topologyOf(m);
    const seam = [...t.edgeCorner].filter((c) => m.layers.seam?.[c] || m.layers.seam?.[t.opposite[c]!]);
    if (!seam.length || !isClosed(m)) continue;
    sum.runs++;
    const name = `${x.name} ${operation} ${y.name}`;
    const width = WIDTH * sizeOf(m);
    const isKept = keptEdges(m);
    const own = new Set(seam.flatMap((c) => [c, t.opposite[c]!]));
    try {
      const t0 = performance.now();
      const made = layBands(m, {
        seam,
        width,
        rows: 1,
        shift: 0,
        aim: 'square',
        isWanted: () => true,
        isCrease: (c) => !own.has(c) && isKept(c),
      });
      times.push((performance.now() - t0) / seam.length);
      sum.sides += made.bands;
      sum.none += made.none.length;
      sum.quads += made.quads;
      sum.others += made.others;
      const u = topologyOf(made.mesh);
      const keys = new Set(made.seam.map(([p, q]) => ends(p, q)));
      const edges = [...u.edgeCorner]
        .filter((c) => keys.has(ends(made.mesh.corners[c]!, made.mesh.corners[u.next[c]!]!)))
        .map((c) => u.edge[c]!);
      const wish = { width: OF_BAND * width, segments: 2, profile: 1 };
      const over = bevel(made.mesh, { ...wish, edges });
      const bare = bevel(m, { ...wish, edges: seam.map((c) => t.edge[c]!) });
      for (const [what, mesh] of [
        ['band', made.mesh],
        ['bevel', over.mesh],
      ] as const) {
        const [open, cross] = [!isClosed(mesh), pairsThatMeet(mesh).length];
        if (open) sum.open++;
        if (cross) sum.cross++;
        if (open || cross) console.log(`  ${name}: ${what} ${open ? 'open' : `crosses at ${cross}`}`);
      }
      sum.bare += bare.report.full;
      sum.full += over.report.full;
      if (over.report.full > bare.report.full + 1e-3) sum.wider++;
    } catch (e) {
      if (!(e instanceof MasonError)) throw e;
      console.log(`  ${name}: ${e.message}`);
    }
  }
  times.sort((p, q) => p - q);
  const share = (n: number) => `${((100 * n) / sum.runs).toFixed(1)} %`;
  console.log(
    `${sum.runs} seams: ${sum.open} open, ${sum.cross} crossing; ${sum.sides} bands, ${sum.none} sides without; ` +
      `${((100 * sum.quads) / (sum.quads + sum.others)).toFixed(1)} % quads; a bevel of nine tenths is full on ${share(sum.full)} of the length, ` +
      `without bands on ${share(sum.bare)}, wider on bands in ${sum.wider}; ${times[times.length >> 1]!.toFixed(1)} ms for each edge of the seam`,
  );
}
