import {
  add,
  dot,
  faceCount,
  faceNormals,
  joinMeshes,
  MasonError,
  reface,
  scaled,
  takeFaces,
  topologyOf,
  type NewFace,
  type PolyMesh,
  type Vec3,
  vertexPlace,
  type OpResult,
  pairsThatMeet,
} from '../mesh/index.ts';

/** Settings of a thickened sheet. */
export interface ThickenOptions {
  /** mm. */
  thickness?: number;
  /** Where the material goes: against the normals, with them, or half to each. */
  side?: 'inside' | 'outside' | 'both';
  /** Names of the slots of the far side and of the rim; empty: those of the faces beside. */
  far?: string;
  rim?: string;
  /** Faces of whole pieces: these alone are thickened, the others stay as they are. All, where left out. */
  faces?: Iterable<number>;
}

/**
 * Faces round a vertex that turn by more (cosine of the angle to the mean) leave no place at a true distance from all.
 */
const TOO_SHARP = 0.05;

export interface ThickenReport {
  /** Faces of the rim. */
  rim: number;
}

/** Defaults of the options. */
export const THICKEN_DEFAULTS: Required<Pick<ThickenOptions, 'thickness' | 'side' | 'far' | 'rim'>> = {
  thickness: 2,
  side: 'inside',
  far: '',
  rim: '',
};

/**
 * Makes a body of an open sheet: a second skin at a true distance from every face, and a rim along its borders.
 * Vertices go to where the moved planes of their faces meet (least squares where more than three do). Refuses a closed
 * mesh and faces that hang together with others (`bad-input`), and where the skins would cut through each other
 * (`not-done`, with the place).
 *
 * @example
 * const { mesh } = thicken(sheet(30, 30), { thickness: 2, side: 'inside' });
 */
export function thicken(m: PolyMesh, { faces: picked, ...options }: ThickenOptions = {}): OpResult<ThickenReport> {
  const wish = { ...THICKEN_DEFAULTS, ...options };
  const some = picked && new Set(picked);
  if (some && some.size < faceCount(m)) return thickenPieces(m, some, options);
  const t = topologyOf(m);
  const open = [...m.corners.keys()].filter((c) => t.opposite[c]! < 0);
  if (!open.length)
    throw new MasonError(
      'bad-input',
      'The part is closed: there is no sheet to thicken. Take faces away, or use a cut.',
    );
  const ways = trueWays(m);
  const [low, high] = { inside: [-1, 0], outside: [0, 1], both: [-0.5, 0.5] }[wish.side].map(
    (x) => x * wish.thickness,
  ) as [number, number];
  const count = m.positions.length / 3;
  const positions = new Float64Array(6 * count);
  for (let v = 0; v < count; v++) {
    const p: Vec3 = vertexPlace(m, v);
    positions.set(add(p, ways[v]!, high), 3 * v);
    positions.set(add(p, ways[v]!, low), 3 * (count + v));
  }
  const faces: NewFace[] = [];
  const loops = (f: number) =>
    Array.from({ length: m.faceLoops[f + 1]! - m.faceLoops[f]! }, (_, i) => m.faceLoops[f]! + i);
  const cornersIn = (l: number) =>
    Array.from({ length: m.loopStart[l + 1]! - m.loopStart[l]! }, (_, i) => m.loopStart[l]! + i);
  for (let f = 0; f + 1 < m.faceLoops.length; f++)
    faces.push({
      from: f,
      boundaries: loops(f).map((l) => cornersIn(l).map((c) => ({ vertex: m.corners[c]!, edge: c }))),
    });
  for (let f = 0; f + 1 < m.faceLoops.length; f++)
    faces.push({
      from: f,
      boundaries: loops(f).map((l) =>
        cornersIn(l)
          .reverse()
          .map((c) => ({ vertex: count + m.corners[c]!, edge: t.prev[c]! })),
      ),
    });
  for (const c of open) {
    const [a, b] = [m.corners[c]!, m.corners[t.next[c]!]!];
    faces.push({
      from: t.face[c]!,
      boundaries: [[b, a, count + a, count + b].map((vertex) => ({ vertex, edge: -1 }))],
    });
  }
  const skins = m.faceLoops.length - 1;
  let mesh = reface(m, faces, positions);
  // Normals of the skin are not those of its back, nor of the rim.
  mesh = { ...mesh, layers: { ...mesh.layers, normal: undefined } };
  const slots = [...mesh.slots];
  const slot = mesh.layers.slot?.slice() ?? new Int32Array(faces.length);
  for (const [name, from, to] of [
    [wish.far, skins, 2 * skins],
    [wish.rim, 2 * skins, faces.length],
  ] as const) {
    if (!name) continue;
    if (!slots.includes(name)) slots.push(name);
    slot.fill(slots.indexOf(name), from, to);
  }
  mesh = { ...mesh, slots, layers: { ...mesh.layers, slot } };
  const meet = pairsThatMeet(mesh);
  if (meet.length) {
    const v = 3 * mesh.corners[mesh.loopStart[mesh.faceLoops[meet[0]![0]]!]!]!;
    const P = mesh.positions;
    throw new MasonError(
      'not-done',
      'The sheet is too thick where it bends: its two skins would cut through each other. Use less.',
      { point: [P[v]!, P[v + 1]!, P[v + 2]!] },
    );
  }
  return { mesh, report: { rim: open.length } };
}

/** For each vertex the way that takes it to a distance of 1 from all its faces. */
function trueWays(m: PolyMesh): Vec3[] {
  const normals = faceNormals(m);
  const { face } = topologyOf(m);
  const around: Vec3[][] = Array.from({ length: m.positions.length / 3 }, () => []);
  m.corners.forEach((v, c) => {
    const f = 3 * face[c]!;
    const n: Vec3 = [normals[f]!, normals[f + 1]!, normals[f + 2]!];
    if (!around[v]!.some((x) => dot(x, n) > 1 - 1e-12)) around[v]!.push(n);
  });
  return around.map((list, v) => {
    if (list.length < 2) return list[0] ?? [0, 0, 0];
    const mean = list.reduce<Vec3>((s, n) => add(s, n), [0, 0, 0]);
    // Kaczmarz: onto each plane in turn, from a way that lies between them.
    let d = scaled(mean, list.length / (dot(mean, mean) || 1));
    for (let i = 0; i < 400; i++) for (const n of list) d = add(d, n, 1 - dot(d, n));
    const length = Math.hypot(...d);
    if (list.some((n) => dot(n, d) < TOO_SHARP * length) || length > 1 / TOO_SHARP)
      throw new MasonError(
        'not-done',
        'The sheet folds back on itself there: no place is at a true distance from both sides. Round the fold first.',
        { point: vertexPlace(m, v) },
      );
    return d;
  });
}

/** Thickens pieces of a mesh; the others stay. */
function thickenPieces(m: PolyMesh, picked: ReadonlySet<number>, options: ThickenOptions): OpResult<ThickenReport> {
  const t = topologyOf(m);
  m.corners.forEach((_, c) => {
    const o = t.opposite[c]!;
    if (o >= 0 && picked.has(t.face[c]!) && !picked.has(t.face[o]!))
      throw new MasonError(
        'bad-input',
        'The picked faces hang together with others. Detach them first, or pick all that hangs together.',
        { face: t.face[c]! },
      );
  });
  const { mesh, report } = thicken(
    takeFaces(m, (f) => picked.has(f)),
    options,
  );
  return { mesh: joinMeshes([takeFaces(m, (f) => !picked.has(f)), mesh]), report };
}
