import {
  addCourse,
  addCut,
  ALL_SEAMS,
  newShape,
  Evaluator,
  everything,
  findPart,
  newProject,
  partOf,
  STROKE_KINDS,
  STROKE_NAMES,
  type Part,
  type StrokeName,
} from '@dusky-mason/core/courses';
import { skerryLight } from '@dusky-mason/core/demo';
import { faceCount, MasonError, type PolyMesh } from '@dusky-mason/core/mesh';
import { ballFromPatches } from '@dusky-mason/core/shapes';
import { realBodies } from './bodies.ts';

/** A course may take this long for a thousand faces, ms. */
const EACH = 1000;
/** Less than this is never slow, ms. */
const LEAST = 200;

/** A part with a hole through it, and the meshes that it is made of. */
interface Cut {
  name: string;
  part: Part;
  meshes: ReadonlyMap<string, PolyMesh>;
}

/** The parts of the sample, the real bodies and two balls of patches, each with a hole through its middle. */
function parts(): Cut[] {
  const samples = skerryLight().parts.map((part): Cut => ({ name: part.name, part, meshes: new Map() }));
  const bodies = [
    ...realBodies(),
    ...[12, 46].map((n) => ({ name: `ball of ${6 * n * n} patches`, mesh: ballFromPatches(50, n) })),
  ];
  return [...samples, ...bodies.map(({ name, mesh }) => ({ name, ...drilled(name, mesh) }))];
}

function drilled(name: string, mesh: PolyMesh): Omit<Cut, 'name'> {
  const shape = { kind: 'mesh', hash: name, title: name, closed: true, turned: false, pivot: 'own' } as const;
  const base = {
    ...newProject('p', 'P'),
    parts: [partOf(1, name, { name, shape: shape as never, slot: 'Body' })],
    nextId: 3,
  };
  const hole = { ...newShape('cylinder'), diameter: 25, height: 300, segments: 32 };
  const cut = addCut(base, 2, {
    name: 'Hole',
    shape: hole as never,
    placement: { position: [3, 2, 0], turn: [0, 0, 0] },
  });
  return { part: findPart(cut, 2)!, meshes: new Map([[name, mesh]]) };
}

/**
 * `npm run bench -- courses [kind …]`: every stroke with the settings of its form, on all of a part or on its seams, on
 * the sample, on real bodies and on balls, each with a hole through it. What counts is the time for a thousand faces.
 */
export function courseTimes(kinds: readonly string[]): void {
  const wanted = kinds.length ? STROKE_NAMES.filter((k) => kinds.includes(k)) : STROKE_NAMES;
  const rows: Record<string, { slowest: string; faces: number; ms: number; 'ms each 1000': number; refused: number }> =
    {};
  const list = parts();
  for (const kind of wanted) {
    let refused = 0;
    for (const { name, part, meshes } of list) {
      const run = timeOf(kind, part, (hash) => meshes.get(hash));
      if (!run) {
        refused++;
        continue;
      }
      // A course that takes next to no time is never slow, however small the part.
      const each = run.ms > LEAST ? (1000 * run.ms) / run.faces : 0;
      if (each > EACH) console.log(`  slow: ${kind} on ${name}: ${run.ms.toFixed(0)} ms, ${run.faces} faces`);
      if (!rows[kind] || each > rows[kind]['ms each 1000'])
        rows[kind] = {
          slowest: name,
          faces: run.faces,
          ms: +run.ms.toFixed(0),
          'ms each 1000': +each.toFixed(0),
          refused,
        };
      rows[kind].refused = refused;
    }
  }
  console.log(`courses on ${list.length} parts with a hole; up to ${EACH} ms for a thousand faces`);
  console.table(rows);
}

/** How long one stroke takes on top of a part, and on how many faces before or after; null where it refuses. */
function timeOf(
  kind: StrokeName,
  part: Part,
  store: (hash: string) => PolyMesh | undefined,
): { ms: number; faces: number } | null {
  const on = STROKE_KINDS[kind].on[0]!;
  const pick = on === 'edge' ? ALL_SEAMS : everything(on);
  const project = { ...newProject('p', 'P'), parts: [part], nextId: 900 };
  const evaluator = new Evaluator();
  try {
    const laid = addCourse(project, part.id, kind, kind, { pick });
    const { courses, mesh } = evaluator.evaluate(findPart(laid, part.id)!, store);
    const below = evaluator.below(findPart(laid, part.id)!, 900, store)!;
    const own = courses.find((c) => c.id === 900)!;
    return own.state === 'done' ? { ms: own.ms, faces: Math.max(faceCount(below), faceCount(mesh)) } : null;
  } catch (e) {
    if (e instanceof MasonError) return null;
    throw e;
  }
}
