import { meshFromFaces, topologyOf, triangulateMesh, type PolyMesh } from '@dusky-mason/core/mesh';
import { ballFromRings } from '@dusky-mason/core/shapes';
import { findings, RULE_NAMES, ruleOf, surveyCounts } from '@dusky-mason/core/survey';
import { median, timed } from './timing.ts';

/** A ball of about so many triangles, as an import would bring it. */
function triangles(n: number): PolyMesh {
  const rings = Math.round(Math.sqrt(n / 4));
  const b = ballFromRings(10, 2 * rings, rings + 1);
  const t = triangulateMesh(b).triangles;
  return meshFromFaces(
    [...b.positions],
    Array.from({ length: t.length / 3 }, (_, i) => [0, 1, 2].map((k) => b.corners[t[3 * i + k]!]!)),
  );
}

/** `npm run bench -- survey`: the survey against the time to build the topology, in one run, on meshes of triangles. */
export function surveyRatios(): void {
  const quick = RULE_NAMES.filter((r) => !ruleOf(r).deep);
  const rows = [10_000, 100_000, 1_000_000].map((n) => {
    const mesh = triangles(n);
    const fresh = () => ({ ...mesh, positions: mesh.positions.slice() });
    const runs = Array.from({ length: n < 1e6 ? 7 : 3 }, () => {
      const m = fresh();
      const topology = timed(() => topologyOf(m));
      return { topology, counts: timed(() => surveyCounts(m)), findings: timed(() => findings(m, { rules: quick })) };
    });
    const [topology, counts, all] = (['topology', 'counts', 'findings'] as const).map((k) =>
      median(runs.map((r) => r[k])),
    );
    const m = fresh();
    const crossing = n <= 100_000 ? timed(() => findings(m, { rules: ['crossingFaces'] })) : NaN;
    return {
      triangles: mesh.faceLoops.length - 1,
      'topology ms': +topology!.toFixed(1),
      'counts ratio': +(counts! / topology!).toFixed(2),
      'findings ratio': +(all! / topology!).toFixed(2),
      'crossing faces ms': +crossing.toFixed(0),
    };
  });
  console.log('survey: all quick findings, and the counts, against building the topology');
  console.table(rows);
}
