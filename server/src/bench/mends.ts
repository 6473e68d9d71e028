import { MEND_PARAMS, mendTrials, type MendKindName } from '@dusky-mason/core/courses';
import { faceCount, topologyOf, vertexCount, type PolyMesh } from '@dusky-mason/core/mesh';
import { dissolveEdges, pickAct, weld, type PickAct } from '@dusky-mason/core/mend';
import { ballFromPatches } from '@dusky-mason/core/shapes';

const timed = (run: () => void): number => {
  const t0 = performance.now();
  run();
  return performance.now() - t0;
};
const median = (x: number[]): number => x.sort((a, b) => a - b)[x.length >> 1]!;
const fresh = (m: PolyMesh): PolyMesh => ({ ...m, positions: m.positions.slice() });

/** `npm run bench -- mends`: weld and dissolve against the time to build the topology, and how long picks take, in one run. */
export function mendRatios(): void {
  const rows = [10_000, 100_000].map((n) => {
    const mesh = ballFromPatches(10, Math.round(Math.sqrt(n / 6)));
    const runs = Array.from({ length: 3 }, () => {
      const m = fresh(mesh);
      const topology = timed(() => topologyOf(m));
      const all = Array.from({ length: vertexCount(m) }, (_, v) => v);
      // A hundredth of the edges, none beside another.
      const some = [...topologyOf(m).edgeCorner].filter((_, i) => i % 97 === 0);
      return {
        topology,
        weld: timed(() => weld(m, all, { distance: 1e-6, detail: 0, spare: false, outline: false })),
        dissolve: timed(() => dissolveEdges(m, some)),
      };
    });
    const [topology, welded, dissolved] = (['topology', 'weld', 'dissolve'] as const).map((k) => median(runs.map((r) => r[k]))); // prettier-ignore
    return { faces: faceCount(mesh), 'topology ms': +topology!.toFixed(1), 'weld ratio': +(welded! / topology!).toFixed(1), 'dissolve ratio': +(dissolved! / topology!).toFixed(1) }; // prettier-ignore
  });
  console.log('mends, against building the topology');
  console.table(rows);

  const m = ballFromPatches(10, 129);
  topologyOf(m);
  const edge = topologyOf(m).edgeCorner[5000]!;
  const acts: [string, 'face' | 'edge', number[], PickAct][] = [
    ['click', 'face', [5], { do: 'click', face: 4000, point: [0, 0, 10], how: 'add' }],
    ['grow', 'face', [4000], { do: 'grow' }],
    ['loop', 'edge', [edge], { do: 'loop' }],
    ['ring', 'edge', [edge], { do: 'ring' }],
  ];
  console.log(`picks of ${faceCount(m)} faces`);
  console.table(acts.map(([name, on, ids, act]) => ({ act: name, ms: +median(Array.from({ length: 9 }, () => timed(() => pickAct(m, on, ids, act)))).toFixed(2) }))); // prettier-ignore
}

/** `npm run suite -- mends [runs] [seed]`: each mend on so many random meshes; ends with an error code when one is wrong. */
export function mendSuite(runs: number, seed: number, only: readonly string[]): void {
  console.log(`mends: ${runs} runs each, seed ${seed}`);
  let wrong = 0;
  for (const kind of Object.keys(MEND_PARAMS) as MendKindName[]) {
    if (only.length && !only.includes(kind)) continue;
    const t0 = performance.now();
    const r = mendTrials(kind, runs, seed);
    wrong += r.wrong.length;
    console.log(`  ${kind}: ${r.done} done, ${r.runs - r.done} refused, ${r.wrong.length} wrong; ${((performance.now() - t0) / 1000).toFixed(1)} s`); // prettier-ignore
    for (const w of r.wrong.slice(0, 5)) console.log(`    ${w}`);
  }
  if (wrong) process.exitCode = 1;
}
