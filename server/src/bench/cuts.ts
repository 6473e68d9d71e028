import { carve, trust } from '@dusky-mason/core/carve';
import { CUT_SET, markCut } from '@dusky-mason/core/carve/suite';
import {
  addCut,
  addPart,
  Evaluator,
  findPart,
  newProject,
  setCutter,
  Shape,
  type CutCourse,
  type Part,
} from '@dusky-mason/core/courses';
import { faceCount, renderBuffers, transformMesh, type PolyMesh } from '@dusky-mason/core/mesh';
import { ballFromPatches, cylinder } from '@dusky-mason/core/shapes';
import { skerryLight } from '@dusky-mason/core/demo';
import { surveyCounts } from '@dusky-mason/core/survey';

/**
 * `npm run bench -- cuts`: the everyday cuts, what each must measure and leave, and the speed rows that are about cuts.
 */
export function cutSet(): { name: string; passed: boolean }[] {
  const rows = Object.entries(CUT_SET).map(([name, make]) => {
    const { mesh, ...m } = markCut(make());
    const { slivers } = surveyCounts(mesh);
    const slit = /kerf/i.test(name);
    const passed =
      m.sound &&
      m.off <= 1e-6 &&
      m.changedFaces === 0 &&
      m.shortEdges === 0 &&
      slivers === 0 &&
      (slit || m.strayVertices + m.strayEdges + m.offOutline === 0);
    return {
      name,
      passed,
      slivers,
      faces: faceCount(mesh),
      ...m,
      ...(slit && { strayVertices: NaN, strayEdges: NaN, offOutline: NaN }),
    };
  });
  const told = (x: number) => (Number.isNaN(x) ? 'own' : x);
  console.table(
    rows.map((r) => ({
      cut: r.name,
      faces: r.faces,
      sound: r.sound,
      'volume off': r.off.toExponential(0),
      'stray vertices': told(r.strayVertices),
      'stray edges': told(r.strayEdges),
      'off outline': told(r.offOutline),
      'changed faces': r.changedFaces,
      slivers: r.slivers,
      'short edges': r.shortEdges,
      passed: r.passed ? 'pass' : 'FAIL',
    })),
  );
  console.log(`${rows.filter((r) => r.passed).length} of ${rows.length} pass`);
  return rows;
}

/** Times of so many runs, the shortest first, ms. */
function timed(runs: number, run: (i: number) => void): number[] {
  const times = Array.from({ length: runs }, (_, i) => {
    const t0 = performance.now();
    run(i);
    return performance.now() - t0;
  });
  return times.sort((a, b) => a - b);
}

const median = (runs: number, run: (i: number) => void): number => timed(runs, run)[runs >> 1]!;

/**
 * A part of ten courses and about 5 000 faces, of which one cutter in the middle is moved: the time from new settings
 * to the new mesh, and to its triangles and lines as the page draws them.
 */
export function liveDrag(): { faces: number; ms: number; slow: number; drawn: number } {
  let p = addPart(newProject('bench', 'Bench'), 'Plate', Shape.parse({ kind: 'box', x: 400, y: 300, z: 20 }));
  const id = p.parts[0]!.id;
  for (let c = 0; c < 9; c++) {
    const place = (i: number): [number, number, number] => [
      -180 + 40 * c + 8 * (i % 2),
      -130 + 26 * Math.floor(i / 2),
      0,
    ];
    const cutter = (i: number) => ({
      name: `Hole ${i}`,
      shape: Shape.parse({ kind: 'cylinder', diameter: 6, height: 40, segments: 32 }),
      placement: { position: place(i), turn: [0, 0, 0] as [number, number, number] },
    });
    p = addCut(p, id, cutter(0));
    const course = findPart(p, id)!.courses.at(-1) as CutCourse;
    const more = Array.from({ length: 17 }, (_, i) => ({
      ...course.params.cutters[0]!,
      id: p.nextId + i,
      ...cutter(i + 1),
    }));
    const params = { ...course.params, cutters: [...course.params.cutters, ...more] };
    p = {
      ...p,
      nextId: p.nextId + 17,
      parts: p.parts.map((x): Part => ({
        ...x,
        courses: x.courses.map((k) => (k.id === course.id ? { ...course, params } : k)),
      })),
    };
  }
  const evaluator = new Evaluator();
  const none = () => undefined;
  const moved = findPart(p, id)!.courses[5] as CutCourse;
  const first = evaluator.evaluate(findPart(p, id)!, none);
  const cutter = moved.params.cutters[4]!;
  const step = (i: number): PolyMesh => {
    const [x, y, z] = cutter.placement.position;
    const placement = { ...cutter.placement, position: [x + 0.01 * (i + 1), y, z] as [number, number, number] };
    return evaluator.evaluate(
      findPart(setCutter(p, id, moved.id, { ...cutter, placement }), id)!,
      none,
      undefined,
      undefined,
      cutter.id,
    ).mesh;
  };
  const times = timed(101, (i) => void step(i));
  const [ms, slow] = [times[50]!, times[95]!];
  const drawn = median(31, (i) => void renderBuffers(step(200 + i)));
  return { faces: faceCount(first.mesh), ms, slow, drawn };
}

/**
 * Memory in use after each fifty of 200 edits of the sample, MB: flat when what is replaced is let go. Needs
 * `--expose-gc`.
 */
export function memoryOverEdits(): number[] {
  const collect = (globalThis as { gc?: () => void }).gc;
  if (!collect) return [];
  const evaluator = new Evaluator();
  const none = () => undefined;
  const project = skerryLight();
  return [0, 1, 2, 3, 4].map((round) => {
    for (let i = 0; i < 50; i++)
      for (const part of project.parts) {
        const cut = part.courses.find((c): c is CutCourse => c.kind === 'cut');
        const cutter = cut?.params.cutters[0];
        if (!cut || !cutter) continue;
        const [x, y, z] = cutter.placement.position;
        const placement = {
          ...cutter.placement,
          position: [x + 1e-3 * (50 * round + i), y, z] as [number, number, number],
        };
        evaluator.evaluate(findPart(setCutter(project, part.id, cut.id, { ...cutter, placement }), part.id)!, none);
      }
    collect();
    const { heapUsed, arrayBuffers } = process.memoryUsage();
    return (heapUsed + arrayBuffers) / 2 ** 20;
  });
}

/** Times of the first cut of a body, and of the next ones as its cutter moves. */
interface Touched {
  first: number;
  next: number;
}

/** A cutter of 10 k faces on bodies of 100 k and of 1 M faces: cost must follow the touched faces. */
export function touchedOnly(): { small: Touched; large: Touched; first: number; next: number } {
  const cutter = trust(transformMesh(cylinder(12, 60, 100, 98), [0, 0, 1, 95, 1, 0, 0, 0, 0, 1, 0, 0]));
  const body = (n: number) => ballFromPatches(100, Math.round(Math.sqrt(n / 6)));
  const time = (m: PolyMesh): Touched => {
    // Known to be sound, as every mesh that our own operations made; nothing else is known of a copy.
    const fresh = () => trust({ ...m }, false);
    const cut = (target: PolyMesh, i: number) =>
      void carve(target, {
        cutters: [trust(transformMesh(cutter, [1, 0, 0, 0, 0, 1, 0, 0.01 * i, 0, 0, 1, 0]), false)],
        operation: 'subtract',
      });
    const first = median(3, (i) => cut(fresh(), i));
    const held = fresh();
    cut(held, 0);
    return { first, next: median(11, (i) => cut(held, i + 1)) };
  };
  const small = time(body(100_000));
  const large = time(body(1_000_000));
  return { small, large, first: large.first / small.first, next: large.next / small.next };
}
