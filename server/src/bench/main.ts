import fs from 'node:fs';
import * as THREE from 'three';
import { Brush, Evaluator, SUBTRACTION } from 'three-bvh-csg';
import { carve, trust } from '@dusky-mason/core/carve';
import { QUAD_GOALS } from '@dusky-mason/core/mend';
import { faceCount, transformMesh, triangulateMesh, type PolyMesh } from '@dusky-mason/core/mesh';
import { ballFromRings, box, cylinder } from '@dusky-mason/core/shapes';
import { bevelDrag, cutSetBevelled } from './bevels.ts';
import { courseTimes } from './courseTimes.ts';
import { layouts } from './layouts.ts';
import { cutSet, liveDrag, memoryOverEdits, touchedOnly } from './cuts.ts';
import { cutSetInQuads, strokeRatios } from './strokes.ts';
import { readingRatios } from './reading.ts';
import { surveyRatios } from './survey.ts';
import { Witness } from './witness.ts';

/**
 * `npm run bench`: our subtract beside two other engines, in one run; what counts are the ratios. `npm run bench --
 * cuts` looks at the everyday cuts first, `-- survey` at the survey alone, `-- reading` at files, `-- strokes` at the
 * strokes, `-- bevels` at bevels and subdivision, `-- courses [kind …]` at every stroke on the sample and on real bodies,
 * `-- layout [goal]` at layouts in quads.
 */
interface Row {
  name: string;
  faces: number;
  ours: number;
  witness: number;
  csg: number;
}

const at = (m: PolyMesh, x: number, y: number, z: number): PolyMesh =>
  transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z]);

/**
 * A fresh copy, taken as sound (as shapes, and imports after their first check, are), so that nothing derived from the
 * mesh before is found again: every run starts with polygons in hand.
 */
const fresh = (m: PolyMesh): PolyMesh => trust({ ...m, positions: m.positions.slice() });

function ball(faces: number): PolyMesh {
  const rings = Math.round(Math.sqrt(faces / 2));
  return ballFromRings(10, 2 * rings, rings);
}

function cases(): { name: string; target: PolyMesh; cutters: PolyMesh[]; runs: number }[] {
  const holes = Array.from({ length: 100 }, (_, i) =>
    at(cylinder(2.5, 40, 64), -45 + 10 * (i % 10), -45 + 10 * Math.floor(i / 10), 0),
  );
  const balls = (n: number, runs: number) => ({
    name: `offset balls, ${n / 1000} k`,
    target: ball(n),
    cutters: [at(ball(n), 3.1, 4.3, 5.7)],
    runs,
  });
  return [
    { name: 'box minus cylinder', target: box(100, 60, 20), cutters: [cylinder(8, 40, 64)], runs: 201 },
    { name: 'plate minus 100 cylinders', target: box(110, 110, 20), cutters: holes, runs: 7 },
    balls(1000, 101),
    balls(10_000, 9),
    balls(100_000, 5),
  ];
}

function median(runs: number, run: () => void): number {
  const times: number[] = [];
  for (let i = 0; i <= runs; i++) {
    const t0 = performance.now();
    run();
    if (i > 0) times.push(performance.now() - t0);
  }
  return times.sort((a, b) => a - b)[times.length >> 1]!;
}

function brush(m: PolyMesh): Brush {
  const { triangles } = triangulateMesh(m);
  const g = new THREE.BufferGeometry();
  g.setAttribute('position', new THREE.BufferAttribute(Float32Array.from(m.positions), 3));
  g.setIndex(
    new THREE.BufferAttribute(
      Uint32Array.from(triangles, (c) => m.corners[c]!),
      1,
    ),
  );
  g.computeVertexNormals();
  g.setAttribute('uv', new THREE.BufferAttribute(new Float32Array((2 * m.positions.length) / 3), 2));
  const b = new Brush(g);
  b.updateMatrixWorld();
  return b;
}

/** The third engine from cold: it takes one cutter at a time. */
function csgRun(target: PolyMesh, cutters: PolyMesh[]): void {
  const evaluator = new Evaluator();
  let a = brush(target);
  for (const c of cutters) a = evaluator.evaluate(a, brush(c), SUBTRACTION);
}

// One engine prints a warning on each of thousands of calls.
console.warn = () => undefined;
const cuts = process.argv[2] === 'cuts';
const survey = process.argv[2] === 'survey';
const only = cuts || survey ? undefined : process.argv[2];
if (cuts) {
  cutSet();
  cutSetInQuads();
  const drag = liveDrag();
  console.log(
    `live drag, ten courses, ${drag.faces} faces: ${drag.ms.toFixed(1)} ms median (33 wanted), ${drag.slow.toFixed(1)} ms at the 95th percentile; ${drag.drawn.toFixed(1)} ms median with its triangles and lines`,
  );
  const memory = memoryOverEdits().map((x) => x.toFixed(1));
  if (memory.length) console.log(`memory after 50, 100, 150, 200, 250 edits of the sample: ${memory.join(', ')} MB`);
  const { small, large, first, next } = touchedOnly();
  const ms = (x: number) => x.toFixed(0);
  console.log(
    `10 k cutter on 100 k and on 1 M, first cut: ${ms(small.first)} and ${ms(large.first)} ms, ratio ${first.toFixed(2)}; moved: ${ms(small.next)} and ${ms(large.next)} ms, ratio ${next.toFixed(2)} (3 wanted)`,
  );
}
const reading = process.argv[2] === 'reading';
if (reading || !process.argv[2]) readingRatios();
if (reading) process.exit();
if (survey || !process.argv[2]) surveyRatios();
if (survey) process.exit();
const strokes = process.argv[2] === 'strokes';
if (strokes || !process.argv[2]) strokeRatios();
if (strokes) process.exit();
if (process.argv[2] === 'layout') {
  layouts(QUAD_GOALS.find((g) => g === process.argv[3]));
  process.exit();
}
if (process.argv[2] === 'courses') {
  courseTimes(process.argv.slice(3));
  process.exit();
}
const bevels = process.argv[2] === 'bevels';
if (bevels || !process.argv[2]) {
  bevelDrag();
  cutSetBevelled();
}
if (bevels) process.exit();
const witness = await Witness.load();
const rows: Row[] = [];
for (const { name, target, cutters, runs } of cases()) {
  if (only && !name.includes(only)) continue;
  const ours = median(runs, () => void carve(fresh(target), { cutters: cutters.map(fresh), operation: 'subtract' }));
  const other = median(runs, () => void witness.wholeRun(target, cutters, 'subtract'));
  const csg = median(Math.max(1, runs >> 2), () => csgRun(target, cutters));
  rows.push({
    name,
    faces: faceCount(target) + cutters.reduce((n, c) => n + faceCount(c), 0),
    ours,
    witness: other,
    csg,
  });
}
console.log('subtract, polygons in and polygons out, median ms; ratios below 1 mean ours is faster');
console.table(
  rows.map((r) => ({
    case: r.name,
    faces: r.faces,
    'ours ms': +r.ours.toFixed(2),
    'manifold-3d ms': +r.witness.toFixed(2),
    'ratio to it': +(r.ours / r.witness).toFixed(2),
    'three-bvh-csg ms': +r.csg.toFixed(2),
    'ratio to that': +(r.ours / r.csg).toFixed(2),
  })),
);
fs.writeFileSync('bench-results.json', JSON.stringify(rows, null, 2));
