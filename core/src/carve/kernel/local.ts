import {
  bounds,
  facePlane,
  isClosed,
  MasonError,
  measureAbout,
  OPEN,
  planeBasis,
  topologyOf,
  withPatch,
  withSource,
  type Measures,
  type OpContext,
  type PolyMesh,
  vertexPlace,
} from '../../mesh/index.ts';
import type { Assembled } from './assemble.ts';
import { carveBodies, LADDER, type CarveBodiesOptions, type KernelReport } from './guard.ts';
import type { Asked, CarveMemory } from './memory.ts';
import { reachOf, type Reach } from './reach.ts';
import type { Selection } from './selection.ts';

/**
 * How far, in tolerances of the coarsest rung, faces must be from a cutter to be left out: beyond what any rung moves
 * or merges.
 */
const FAR_ENOUGH = 4;

export interface CarveResult {
  /** One for each selection asked for; without faces where nothing is kept. */
  meshes: PolyMesh[];
  /** How much area and volume each mesh has more than the target; null where all of it was arranged. */
  gains: (Measures | null)[];
  report: KernelReport;
}

/**
 * As `carveBodies`, at a cost that follows what of the target the cutters can reach: the rest of it is left out of the
 * arrangement, as one piece that is known to lie outside, and is put back round the result. Where the seam between the
 * two would not fit (vertices merged across it, a boundary without a face to lie in) all is arranged as a whole.
 */
export function carveInReach(
  bodies: readonly PolyMesh[],
  selections: readonly Selection[],
  options: CarveBodiesOptions,
  ctx?: OpContext,
  memory?: CarveMemory,
): CarveResult {
  const [target, ...cutters] = bodies as [PolyMesh, ...PolyMesh[]];
  const reach = reachOf(target, cutters, FAR_ENOUGH * Math.max(...LADDER) * jointSize(bodies));
  if (reach) {
    const local = within(
      reach,
      { part: reach.taken.mesh, border: reach.border, box: bounds(target), cutters, selections, options },
      ctx,
      memory,
    );
    if (local) return local;
  }
  const { meshes, report } = carveBodies(bodies, selections, options, ctx);
  return { meshes: meshes.map((m) => m.mesh), gains: meshes.map(() => null), report };
}

function within(reach: Reach, asked: Asked, ctx?: OpContext, memory?: CarveMemory): CarveResult | null {
  const { part, cutters, selections, options } = asked;
  try {
    const known = memory?.recall(asked);
    const result = known ?? carveBodies([part, ...cutters], selections, { ...options, beyond: reach }, ctx);
    if (!known) memory?.keep(asked, result);
    const { meshes, report, borderEdges, borderMerged } = result;
    if (borderMerged) return null;
    const whole: PolyMesh[] = [];
    const gain: (Measures | null)[] = [];
    for (const [i, made] of meshes.entries()) {
      const mesh =
        selections[i] === 'intersect' ? alone(made, !!options.open) : putBack(reach, made, borderEdges, !!options.open);
      if (!mesh) return null;
      whole.push(mesh);
      gain.push(selections[i] === 'intersect' ? null : gainOf(reach, made));
    }
    return { meshes: whole, gains: gain, report };
  } catch (e) {
    if (e instanceof MasonError && e.code === 'not-done') return null;
    throw e;
  }
}

/** A result that has nothing to do with what is out of reach. */
const alone = ({ mesh }: Assembled, open: boolean): PolyMesh | null => (open || isClosed(mesh) ? mesh : null);

/** Faces name their source from the first cut on; found once for each mesh. */
function sourced(m: PolyMesh): PolyMesh {
  if (m.layers.source) return m;
  let named = withNames.get(m);
  if (!named) withNames.set(m, (named = withSource(m, 0, 0)));
  return named;
}

const withNames = new WeakMap<PolyMesh, PolyMesh>();

function putBack(reach: Reach, made: Assembled, borderEdges: Int32Array, open: boolean): PolyMesh | null {
  if (!fits(made, borderEdges, open)) return null;
  const boundaries = homes(reach, made);
  if (!boundaries) return null;
  const vertices = made.vertices.map((v) => (v < 0 ? -1 : reach.taken.vertices[v]!));
  const { whole } = reach;
  return withPatch(sourced(whole), reach.within, {
    mesh: made.mesh,
    vertices,
    boundaries,
  });
}

/**
 * Whether every edge at which the rest hangs is there, walked the same way by one face, and for a solid no other edge
 * is open.
 */
function fits({ mesh, vertices }: Assembled, borderEdges: Int32Array, open: boolean): boolean {
  const { opposite, next } = topologyOf(mesh);
  const free = new Set<number>();
  const key = (u: number, v: number) => u * 2 ** 26 + v;
  for (let c = 0; c < opposite.length; c++) {
    if (opposite[c] !== OPEN) continue;
    const [u, v] = [vertices[mesh.corners[c]!]!, vertices[mesh.corners[next[c]!]!]!];
    if (u >= 0 && v >= 0) free.add(key(u, v));
    else if (!open) return false;
  }
  for (let i = 0; i < borderEdges.length; i += 2)
    if (!free.has(key(borderEdges[i]!, borderEdges[i + 1]!))) return false;
  return open || free.size === borderEdges.length / 2;
}

/** The face of the result that each boundary left out lies in; null when one has none, or has several. */
function homes(reach: Reach, { mesh, faces }: Assembled): Map<number, number[]> | null {
  const out = new Map<number, number[]>();
  if (!reach.idle.size) return out;
  const made = new Map<number, number[]>();
  faces.forEach((f, i) => {
    if (f < 0 || !reach.idle.has(reach.taken.faces[f]!)) return;
    const list = made.get(reach.taken.faces[f]!);
    if (list) list.push(i);
    else made.set(reach.taken.faces[f]!, [i]);
  });
  for (const [face, loops] of reach.idle) {
    const candidates = made.get(face) ?? [];
    const basis = new Float64Array(6);
    planeBasis(facePlane(reach.whole, face), 0, basis);
    for (const loop of loops) {
      const c = reach.whole.loopStart[loop]!;
      const at = flatMiddle(reach.whole, c, basis);
      const home = candidates.length === 1 ? candidates : candidates.filter((f) => lies(mesh, f, at, basis));
      if (home.length !== 1) return null;
      const list = out.get(home[0]!);
      if (list) list.push(loop);
      else out.set(home[0]!, [loop]);
    }
  }
  return out;
}

/** The same remembered results come up again and again. */
const gains = new WeakMap<Assembled, Measures>();

/** What a result has more than the patch that it replaces, apart from boundaries left out of both. */
function gainOf({ taken }: Reach, made: Assembled): Measures {
  const known = gains.get(made);
  if (known) return known;
  const from = [0, 1, 2].map((k) => taken.mesh.positions[k] ?? 0) as [number, number, number];
  const [before, after] = [measureAbout(taken.mesh, from), measureAbout(made.mesh, from)];
  const gain = { area: after.area - before.area, volume: after.volume - before.volume };
  gains.set(made, gain);
  return gain;
}

type Flat = readonly [number, number];

function flat(m: PolyMesh, v: number, b: Float64Array): Flat {
  const [x, y, z] = vertexPlace(m, v);
  return [b[0]! * x + b[1]! * y + b[2]! * z, b[3]! * x + b[4]! * y + b[5]! * z];
}

/** The middle of the edge that leaves a corner: where boundaries touch, they touch at vertices. */
function flatMiddle(m: PolyMesh, corner: number, basis: Float64Array): Flat {
  const [p, q] = [flat(m, m.corners[corner]!, basis), flat(m, m.corners[corner + 1]!, basis)];
  return [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2];
}

/** Whether a place is inside a face, by how many of its edges a line from there passes. */
function lies(m: PolyMesh, f: number, [x, y]: Flat, basis: Float64Array): boolean {
  let inside = false;
  for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++) {
    let a = flat(m, m.corners[m.loopStart[l + 1]! - 1]!, basis);
    for (let c = m.loopStart[l]!; c < m.loopStart[l + 1]!; c++) {
      const b = flat(m, m.corners[c]!, basis);
      if (a[1] > y !== b[1] > y && a[0] + ((y - a[1]) / (b[1] - a[1])) * (b[0] - a[0]) > x) inside = !inside;
      a = b;
    }
  }
  return inside;
}

function jointSize(bodies: readonly PolyMesh[]): number {
  const boxes = bodies.map(bounds);
  const low = [0, 1, 2].map((k) => Math.min(...boxes.map((b) => b.min[k]!)));
  return Math.max(...low.map((x, k) => Math.max(...boxes.map((b) => b.max[k]!)) - x));
}
