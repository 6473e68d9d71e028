import {
  areaAndVolume,
  bounds,
  components,
  cornerCount,
  eachMeeting,
  faceAreas,
  faceCount,
  MasonError,
  hasNoArea,
  OPEN,
  sizeOf,
  topologyOf,
  triangulateMesh,
  type PolyMesh,
  vertexPlace,
} from '../mesh/index.ts';

/** Meshes known to be sound, and whether each has a border where that is known too. */
const passed = new WeakMap<PolyMesh, { open: boolean | undefined }>();

/**
 * Marks a mesh as known to be sound, because our own code made it so, and as a sheet or a solid where that is known.
 */
export function trust(m: PolyMesh, open?: boolean): PolyMesh {
  passed.set(m, { open });
  return m;
}

/** Moved or tagged meshes and their originals. An original is checked on demand, once for all its copies. */
const copies = new WeakMap<PolyMesh, PolyMesh>();

/** Marks a mesh as a moved or tagged copy: it is as sound as its original. */
export function trustAs(m: PolyMesh, original: PolyMesh): PolyMesh {
  copies.set(m, original);
  return m;
}

/** Whether a mesh is known to be sound; for a copy, its original is checked first. */
export function isTrusted(m: PolyMesh): boolean {
  const original = copies.get(m);
  if (original) {
    copies.delete(m);
    if (isSolid(original)) trust(m, false);
  }
  return passed.has(m);
}

/**
 * Throws `not-solid`, with the place and the mend, unless a mesh is fit to be carved: closed, oriented, outward,
 * without zero-area faces, and not crossing itself. Meshes that passed, or that our own operations made, are not
 * checked again.
 */
export function checkSolid(m: PolyMesh, name: string): void {
  if (isTrusted(m)) return;
  if (faceCount(m) === 0) throw new MasonError('not-solid', `${name} has no faces.`);
  checkEdges(m, name);
  checkAreas(m, name);
  checkOutward(m, name);
  checkCrossing(m, name);
  trust(m, false);
}

/**
 * Throws `not-solid` unless an open mesh is fit to be carved as a sheet: at most two faces on an edge, running opposite
 * ways, without zero-area faces, and not crossing itself.
 */
export function checkSheet(m: PolyMesh, name: string): void {
  if (isTrusted(m)) return;
  checkEdges(m, name, true);
  checkAreas(m, name);
  checkCrossing(m, name);
  trust(m);
}

/** Whether a mesh is a sheet: it has a border. */
export const isOpen = (m: PolyMesh): boolean => passed.get(m)?.open ?? topologyOf(m).opposite.includes(OPEN);

/** Whether `checkSolid` would pass. */
export function isSolid(m: PolyMesh): boolean {
  try {
    checkSolid(m, 'It');
    return true;
  } catch (e) {
    if (e instanceof MasonError) return false;
    throw e;
  }
}

const vertexPoint = (m: PolyMesh, v: number): [number, number, number] => [...vertexPlace(m, v)];

function checkEdges(m: PolyMesh, name: string, border = false): void {
  const t = topologyOf(m);
  let open = 0;
  let many = 0;
  let first = -1;
  for (let c = 0; c < cornerCount(m); c++) {
    const o = t.opposite[c]!;
    if (o >= 0 || (border && o === -1)) continue;
    if (first < 0) first = c;
    if (o === -1) open++;
    else many++;
  }
  if (first < 0) return;
  const place = { vertex: m.corners[first]!, face: t.face[first]!, point: vertexPoint(m, m.corners[first]!) };
  if (open)
    throw new MasonError(
      'not-solid',
      `${name} is not closed: ${open} open edges. Heal it, or fill its openings, then cut again.`,
      place,
    );
  throw new MasonError(
    'not-solid',
    `${name} has ${many} edge sides that do not pair up: three or more faces on an edge, or faces turned against their neighbours. Heal it, then cut again.`,
    place,
  );
}

function checkAreas(m: PolyMesh, name: string): void {
  const areas = faceAreas(m);
  const size = sizeOf(m);
  const face = areas.findIndex((a, f) => hasNoArea(m, f, a, size));
  if (face < 0) return;
  const vertex = m.corners[m.loopStart[m.faceLoops[face]!]!]!;
  throw new MasonError('not-solid', `${name} has a face without area. Heal it, then cut again.`, {
    face,
    vertex,
    point: vertexPoint(m, vertex),
  });
}

/** The outermost shell must look outward; a shell inside another one is a void and looks inward. */
function checkOutward(m: PolyMesh, name: string): void {
  if (areaAndVolume(m).volume > 0 && components(m).count === 1) return;
  const { of, count } = components(m);
  const low = new Float64Array(count).fill(Infinity);
  const corner = new Int32Array(count);
  const t = topologyOf(m);
  for (let c = 0; c < cornerCount(m); c++) {
    const k = of[t.face[c]!]!;
    const x = m.positions[3 * m.corners[c]!]!;
    if (x < low[k]!) {
      low[k] = x;
      corner[k] = c;
    }
  }
  const volumes = shellVolumes(m, of, count);
  const box = bounds(m);
  for (let k = 0; k < count; k++) {
    // A shell that reaches the outside of everything cannot be a void.
    if (volumes[k]! < 0 && low[k] === box.min[0]) {
      const vertex = m.corners[corner[k]!]!;
      throw new MasonError('not-solid', `${name} is inside out. Turn its faces over, then cut again.`, {
        vertex,
        point: vertexPoint(m, vertex),
      });
    }
  }
}

function shellVolumes(m: PolyMesh, of: Int32Array, count: number): Float64Array {
  const out = new Float64Array(count);
  const { triangles, face } = triangulateMesh(m);
  const P = m.positions;
  const o = 3 * m.corners[0]!;
  for (let i = 0; i < face.length; i++) {
    const [a, b, c] = [0, 1, 2].map((k) => 3 * m.corners[triangles[3 * i + k]!]!) as [number, number, number];
    const d = (q: number, k: number) => P[q + k]! - P[o + k]!;
    out[of[face[i]!]!]! +=
      (d(a, 0) * (d(b, 1) * d(c, 2) - d(b, 2) * d(c, 1)) +
        d(a, 1) * (d(b, 2) * d(c, 0) - d(b, 0) * d(c, 2)) +
        d(a, 2) * (d(b, 0) * d(c, 1) - d(b, 1) * d(c, 0))) /
      6;
  }
  return out;
}

function checkCrossing(m: PolyMesh, name: string): void {
  eachMeeting(m, {}, (_, face, __, vertex) => {
    throw new MasonError(
      'not-solid',
      `${name} crosses itself. Heal it, then cut again; where that leaves crossings, recast it.`,
      { face, point: vertexPoint(m, vertex) },
    );
  });
}
