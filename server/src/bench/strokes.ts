import { strokeTrials, STROKE_NAMES } from '@dusky-mason/core/courses';
import { CUT_SET, markCut } from '@dusky-mason/core/carve/suite';
import {
  faceCount,
  isClosed,
  meshFromFaces,
  sizeOf,
  topologyOf,
  triangulateMesh,
  vertexCount,
  type PolyMesh,
} from '@dusky-mason/core/mesh';
import {
  collar,
  damaged,
  dissolveEdges,
  heal,
  seamVertices,
  pickAct,
  tidy,
  toQuads,
  weld,
  type PickAct,
} from '@dusky-mason/core/mend';
import { ballFromPatches, seededRandom } from '@dusky-mason/core/shapes';
import { surfaceDrift, surveyCounts } from '@dusky-mason/core/survey';
import { median, timed } from './timing.ts';

const fresh = (m: PolyMesh): PolyMesh => ({ ...m, positions: m.positions.slice() });

/**
 * `npm run bench -- strokes`: weld and dissolve against the time to build the topology, and how long picks take, in one
 * run.
 */
export function strokeRatios(): void {
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
        weld: timed(() => weld(m, { vertices: all, distance: 1e-6, detail: 0, spare: false, seams: false })),
        dissolve: timed(() => dissolveEdges(m, { edges: some })),
      };
    });
    const [topology, welded, dissolved] = (['topology', 'weld', 'dissolve'] as const).map((k) =>
      median(runs.map((r) => r[k])),
    );
    return {
      faces: faceCount(mesh),
      'topology ms': +topology!.toFixed(1),
      'weld ratio': +(welded! / topology!).toFixed(1),
      'dissolve ratio': +(dissolved! / topology!).toFixed(1),
    };
  });
  console.log('strokes, against building the topology');
  console.table(rows);

  healRatios();
  cutSetInQuads();

  const m = ballFromPatches(10, 129);
  topologyOf(m);
  const edge = topologyOf(m).edgeCorner[5000]!;
  const acts: [string, 'face' | 'edge', number[], PickAct][] = [
    ['click', 'face', [5], { do: 'aim', faces: [4000], from: [0, 0, 0], along: [0, 0, 1], how: 'add' }],
    ['grow', 'face', [4000], { do: 'grow' }],
    ['loop', 'edge', [edge], { do: 'loop' }],
    ['ring', 'edge', [edge], { do: 'ring' }],
  ];
  console.log(`picks of ${faceCount(m)} faces`);
  console.table(
    acts.map(([name, on, ids, act]) => ({
      act: name,
      ms: +median(Array.from({ length: 9 }, () => timed(() => pickAct(m, on, ids, act)))).toFixed(2),
    })),
  );
}

/**
 * Healing, to quads and tidying against the time to build the topology: of a ball in triangles, each triangle with
 * vertices of its own, and of a sound one.
 */
function healRatios(): void {
  const rows = [10_000, 100_000, 1_000_000].map((n) => {
    const ball = ballFromPatches(10, Math.round(Math.sqrt(n / 6)));
    const soup = damaged(ball, ['doubled', 'missing', 'crack', 'soup'], seededRandom(1), sizeOf(ball));
    const { triangles } = triangulateMesh(ball);
    const flat = meshFromFaces(
      [...ball.positions],
      Array.from({ length: triangles.length / 3 }, (_, i) =>
        [0, 1, 2].map((k) => ball.corners[triangles[3 * i + k]!]!),
      ),
    );
    const topology = timed(() => topologyOf(fresh(ball)));
    const ratio = (run: () => void) => +(timed(run) / topology).toFixed(1);
    return {
      faces: faceCount(ball),
      'topology ms': +topology.toFixed(1),
      'heal ratio': ratio(() => heal(fresh(soup), { without: [], tolerance: 0, widest: 0, as: 'seen' })),
      'pairs ratio': ratio(() => toQuads(fresh(flat), { wanted: () => true, goal: 'shape', split: true, pairs: 20 })),
      'tidy ratio': ratio(() => tidy(fresh(ball), { wanted: () => true, tolerance: 0 })),
      'collar ratio': ratio(() =>
        collar(fresh(ball), { edges: capBorder(ball), width: 0.5, rows: 2, aim: 'square', shift: 0, sides: 'both' }),
      ),
    };
  });
  console.log('healing, pairs of triangles, tidying and a collar round a cap, against building the topology');
  console.table(rows);
}

/** The border of the cap of a ball that lies above nine tenths of its height: a loop of edges. */
function capBorder(m: PolyMesh): number[] {
  const t = topologyOf(m);
  const above = (f: number) =>
    m.corners
      .subarray(m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!)
      .every((v) => m.positions[3 * v + 2]! > 9);
  return [...t.edgeCorner].filter((c) => above(t.face[c]!) !== above(t.face[t.opposite[c]!]!));
}

/** The everyday cuts after tidying and laying out in quads: what is left round the cut, and whether anything moved. */
export function cutSetInQuads(only = ''): void {
  const rows = Object.entries(CUT_SET)
    .filter(([cut]) => cut.includes(only))
    .map(([cut, make]) => {
      const before = markCut(make()).mesh;
      const tidied = tidy(before, { wanted: () => true, tolerance: 0 }).mesh;
      const ms = timed(() => topologyOf(tidied));
      let made = toQuads(tidied, { wanted: () => false, goal: 'shape', split: true, pairs: 0 });
      const took = timed(() => (made = toQuads(tidied, { wanted: () => true, goal: 'shape', split: true, pairs: 0 })));
      const { mesh, report } = made;
      const t = topologyOf(mesh);
      const rim = seamVertices(mesh);
      const near = new Set([...mesh.corners.keys()].filter((c) => rim[mesh.corners[c]!]).map((c) => t.face[c]!));
      const sides = (f: number) => mesh.loopStart[mesh.faceLoops[f + 1]!]! - mesh.loopStart[mesh.faceLoops[f]!]!;
      const counts = surveyCounts(mesh);
      const places = (m: PolyMesh) => {
        const on = seamVertices(m);
        return new Set(
          Array.from({ length: vertexCount(m) }, (_, v) => v)
            .filter((v) => on[v])
            .map((v) => [...m.positions.subarray(3 * v, 3 * v + 3)].join()),
        );
      };
      const now = places(mesh);
      const lost = [...places(before)].filter((p) => !now.has(p)).length;
      const quads = near.size ? [...near].filter((f) => sides(f) === 4).length / near.size : 1;
      return {
        cut,
        faces: faceCount(mesh),
        closed: isClosed(mesh) === isClosed(before),
        'quads near %': Math.round(100 * quads),
        'n-gons': counts.ngons,
        slivers: counts.slivers,
        triangles: report.triangles,
        'rim lost': lost,
        drift: surfaceDrift(before, mesh)?.distance ?? NaN,
        ms: Math.round(took + ms),
        passed: quads >= 0.9 && !counts.ngons && !counts.slivers && !lost ? 'pass' : 'FAIL',
      };
    });
  console.log('the everyday cuts, tidied and laid out in quads');
  console.table(rows);
  console.log(`${rows.filter((r) => r.passed === 'pass').length} of ${rows.length} pass`);
}

/**
 * `npm run suite -- strokes [runs] [seed]`: each mend on so many random meshes; ends with an error code when one is
 * wrong.
 */
export function strokeSuite(runs: number, seed: number, only: readonly string[]): void {
  console.log(`strokes: ${runs} runs each, seed ${seed}`);
  let wrong = 0;
  for (const kind of STROKE_NAMES) {
    if (only.length && !only.includes(kind)) continue;
    const t0 = performance.now();
    const r = strokeTrials(kind, runs, seed);
    wrong += r.wrong.length;
    console.log(
      `  ${kind}: ${r.done} done, ${r.runs - r.done} refused, ${r.wrong.length} wrong; ${((performance.now() - t0) / 1000).toFixed(1)} s`,
    );
    for (const w of r.wrong.slice(0, 5)) console.log(`    ${w}`);
  }
  if (wrong) process.exitCode = 1;
}
