import {
  areaAndVolume,
  checkCancelled,
  components,
  faceBegin,
  cross,
  faceAreas,
  faceBend,
  faceCount,
  faceEnd,
  isClosed,
  joinMeshes,
  lengthOf,
  MasonError,
  reface,
  sizeOf,
  sub,
  takeFaces,
  topologyOf,
  triangulateFace,
  type NewFace,
  type OpContext,
  type PolyMesh,
  type Vec3,
  pairsThatMeet,
} from '../../mesh/index.ts';
import type { Step } from './steps.ts';

/** Makes one body of one that crosses itself, whose faces `pairs` meet; given from outside, as it is a cut. */
export type Uncross = (m: PolyMesh, pairs: readonly (readonly [number, number])[]) => PolyMesh;

/**
 * A face further from flat than this share of the size goes in as triangles: what crosses a bent face depends on how it
 * is cut up.
 */
const FLAT_FACE = 1e-9;
/** Rounds: pieces of a piece that crosses itself may cross each other again by rounding. */
const MOST_PASSES = 3;

/**
 * Resolves closed pieces that cross themselves, each by itself: faces are split where they cut through each other, and
 * what the surface encloses as a body that looks outward stays. `pairs` are faces that meet. Pieces that cannot be
 * resolved stay as they are; `done` counts those that were.
 */
export function uncrossPieces(
  m: PolyMesh,
  pairs: readonly (readonly [number, number])[],
  uncross: Uncross,
  ctx?: OpContext,
): Step {
  const { of } = components(m);
  const crossed = new Set(pairs.filter(([f, g]) => of[f] === of[g]).map(([f]) => of[f]!));
  if (!crossed.size) return { mesh: m, done: 0 };
  const list: PolyMesh[] = [];
  let done = 0;
  for (const k of crossed) {
    checkCancelled(ctx);
    const piece = takeFaces(m, (f) => of[f] === k);
    const one = isClosed(piece) && areaAndVolume(piece).volume > 0 ? resolved(piece, uncross, ctx) : null;
    list.push(one ?? piece);
    if (one) done++;
  }
  if (!done) return { mesh: m, done };
  const rest = takeFaces(m, (f) => !crossed.has(of[f]!));
  return { mesh: joinMeshes([rest, ...list].filter(faceCount)), done };
}

function resolved(piece: PolyMesh, uncross: Uncross, ctx?: OpContext): PolyMesh | null {
  try {
    let mesh = piece;
    for (let round = 0; round < MOST_PASSES; round++) {
      const pairs = pairsThatMeet(mesh, { ctx });
      if (!pairs.length) return mesh;
      const flat = inTriangles(mesh, new Set(pairs.flat()));
      mesh = uncross(flat, flat === mesh ? pairs : pairsThatMeet(flat, { ctx }));
    }
    return mesh;
  } catch (e) {
    // What cannot be resolved stays and is reported.
    if (e instanceof MasonError && e.code !== 'cancelled') return null;
    throw e;
  }
}

/** Those of the faces that are bent, or whose boundary crosses itself, cut into triangles. */
function inTriangles(m: PolyMesh, faces: ReadonlySet<number>): PolyMesh {
  const limit = FLAT_FACE * sizeOf(m);
  const areas = faceAreas(m);
  const cut = new Map<number, number[]>();
  for (const f of faces) {
    const [begin, end] = [faceBegin(m, f), faceEnd(m, f)];
    if (end - begin < 4) continue;
    const c = triangulateFace(m, f);
    const covered = c.reduce((sum, _, i) => (i % 3 ? sum : sum + triangleArea(m, c[i]!, c[i + 1]!, c[i + 2]!)), 0);
    // A fan over a boundary that crosses itself has every edge once, and some triangles turned over: they are
    // recognised
    // by how often the surface winds.
    if (m.faceLoops[f + 1]! - m.faceLoops[f]! === 1 && covered - areas[f]! > limit * limit + 1e-6 * covered)
      cut.set(f, fan(begin, end));
    else if (faceBend(m, f) > limit) cut.set(f, c);
  }
  if (!cut.size) return m;
  const { next } = topologyOf(m);
  return reface(
    m,
    Array.from({ length: faceCount(m) }, (_, f) => f).flatMap((f): (number | NewFace)[] => {
      const c = cut.get(f);
      if (!c) return [f];
      return Array.from({ length: c.length / 3 }, (_, t): NewFace => {
        const own = c.slice(3 * t, 3 * t + 3);
        return {
          from: f,
          boundaries: [own.map((x, k) => ({ vertex: m.corners[x]!, edge: next[x] === own[(k + 1) % 3] ? x : -1 }))],
        };
      });
    }),
  );
}

const fan = (begin: number, end: number): number[] =>
  Array.from({ length: end - begin - 2 }, (_, i) => [begin, begin + i + 1, begin + i + 2]).flat();

function triangleArea(m: PolyMesh, a: number, b: number, c: number): number {
  const [p, q, r] = [a, b, c].map(
    (x): Vec3 => [0, 1, 2].map((k) => m.positions[3 * m.corners[x]! + k]!) as unknown as Vec3,
  ) as [Vec3, Vec3, Vec3];
  return lengthOf(cross(sub(q, p), sub(r, p))) / 2;
}
