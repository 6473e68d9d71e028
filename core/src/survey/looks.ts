import {
  cornerFans,
  faceBegin,
  faceCount,
  faceEnd,
  faceNormals,
  LINE_CLASSES,
  renderBuffers,
  sharpCorners,
  shadingNormals,
  triangulateMesh,
  type LineClass,
  type PolyMesh,
} from '../mesh/index.ts';
import { departure, type Intended } from './departure.ts';
import { Looked } from './look.ts';
import { cornerThickness } from './thickness.ts';

/** Ways to colour a part; a `heat` runs from least to greatest, `classes` are named. */
export const LOOKS = {
  sides: { title: 'Polygon sides', kind: 'classes', says: 'How many corners each face has.' },
  source: { title: 'Where faces come from', kind: 'classes', says: 'The course that made each face.' },
  valence: { title: 'Edges at a vertex', kind: 'classes', says: 'Four is a grid; others are poles.' },
  edgeLength: {
    title: 'Shortest edge',
    kind: 'heat',
    unit: 'mm',
    says: 'The shortest edge of each face, on a logarithmic scale.',
  },
  slope: { title: 'Slope', kind: 'heat', unit: '°', says: 'Angle between the surface and straight up.' },
  thickness: {
    title: 'Wall thickness',
    kind: 'heat',
    unit: 'mm',
    says: 'Straight into the material from each face, until it comes out again.',
  },
  ball: {
    title: 'Wall thickness by ball',
    kind: 'heat',
    unit: 'mm',
    says: 'The largest ball inside that touches the face there, and no face across from it.',
  },
  departure: {
    title: 'Shading departure',
    kind: 'heat',
    unit: '°',
    says: 'Angle between the shading normal and the normal of the exact surface.',
  },
  uv: {
    title: 'UV checker',
    kind: 'checker',
    says: 'Squares of one size in UV. They should be even, upright and unmirrored.',
  },
  edges: {
    title: 'Hard and cut edges',
    kind: 'edges',
    says: 'Edges by kind; plain edges are left out.',
  },
  curvature: { title: 'Curvature', kind: 'heat', unit: '1/mm', says: 'Mean curvature of smooth surfaces.' },
} as const;
export type LookName = keyof typeof LOOKS;
/** Heats run from least to greatest, classes are told apart by name; a checker lies over UVs, edges are lines. */
export type LookKind = (typeof LOOKS)[LookName]['kind'];

/**
 * The values of a look, one for each corner of each triangle of the picture (see `renderBuffers`), and what they mean.
 */
export interface LookValues {
  values: Float32Array;
  /** Of a heat: its ends, and whether it runs in tenfolds. */
  min: number;
  max: number;
  log: boolean;
  /** Of a heat: how many values lie in each of so many equal shares between its ends. */
  bins: number[];
  /** Of a heat that has one: the place of its greatest value, mm. */
  worst?: [number, number, number];
  /** Of classes: their names, by value; of `source` the numbers of the courses. */
  classes: string[];
  /** Of a checker: UVs of the same corners, two each, and the side of its squares in UV. */
  uvs?: Float32Array;
  square?: number;
  /** Of edges: of each class how many there are, and their length, mm. */
  edges?: { name: LineClass; count: number; length: number }[];
}

/** Classes of the chart of faces. */
const SIDES = ['triangle', 'quad', '5 corners', '6 corners', '7 or more', 'with holes'];
/** Classes of the chart of vertices. */
const VALENCES = ['2 edges', '3 edges', '4 edges', '5 edges', '6 or more'];

/**
 * The values of a look over a mesh; a departure is from the normals that are `intended`, or else from those of the
 * faces.
 */
export function lookValues(m: PolyMesh, look: LookName, intended?: Intended): LookValues {
  switch (look) {
    case 'sides':
      return classes(m, (_, f) => sidesOf(m, f), SIDES);
    case 'source': {
      const { source } = m.layers;
      const courses = [...new Set(Array.from({ length: faceCount(m) }, (_, f) => source?.[3 * f + 2] ?? 0))].sort(
        (a, b) => a - b,
      );
      const at = new Map(courses.map((c, i) => [c, i]));
      return classes(m, (_, f) => at.get(source?.[3 * f + 2] ?? 0)!, courses.map(String));
    }
    case 'valence': {
      const { valence } = new Looked(m);
      return classes(m, (c) => Math.min(6, Math.max(2, valence[m.corners[c]!]!)) - 2, VALENCES);
    }
    case 'edgeLength': {
      const l = new Looked(m);
      const least = Float64Array.from({ length: faceCount(m) }, (_, f) => {
        let d = Infinity;
        for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) d = Math.min(d, l.edgeLength(c));
        return d;
      });
      return heat(m, (_, f) => least[f]!, true);
    }
    case 'slope': {
      const normals = shadingNormals(m);
      return heat(m, (c) => (Math.acos(Math.max(-1, Math.min(1, normals[3 * c + 2]!))) * 180) / Math.PI);
    }
    case 'departure': {
      const flat = faceNormals(m);
      const { values, samples, worst } = departure(
        m,
        intended ?? ((f) => [flat[3 * f]!, flat[3 * f + 1]!, flat[3 * f + 2]!]),
      );
      return {
        values,
        min: 0,
        max: worst.angle,
        log: false,
        classes: [],
        bins: binned(samples, 0, worst.angle, false),
        worst: worst.point,
      };
    }
    case 'thickness':
    case 'ball': {
      const thick = cornerThickness(m, look === 'ball' ? 'ball' : 'ray');
      return heat(m, (c) => thick[c]!);
    }
    case 'uv':
      return checker(m);
    case 'edges':
      return { ...classes(m, () => 0, ['part']), edges: edgeClasses(m) };
    case 'curvature': {
      const curved = cornerCurvature(m);
      return heat(m, (c) => curved[c]!);
    }
  }
}

function sidesOf(m: PolyMesh, f: number): number {
  if (m.faceLoops[f + 1]! - m.faceLoops[f]! > 1) return 5;
  return Math.min(7, faceEnd(m, f) - faceBegin(m, f)) - 3;
}

/**
 * Mean curvature at each corner, 1/mm, positive where the surface bulges: of all edges that shade as smooth, half the
 * length times the angle between their faces, over their share of the area, round the vertex as far as it shades as
 * smooth. Source: Cohen-Steiner and Morvan, "Restricted Delaunay Triangulations and Normal Cycle", 2003.
 */
export function cornerCurvature(m: PolyMesh): Float64Array {
  const l = new Looked(m);
  const { topology: t } = l;
  const N = faceNormals(m);
  const sharp = sharpCorners(m, N);
  const fan = cornerFans(m, t, (c) => !sharp[c]);
  const sum = new Float64Array(fan.length);
  const area = new Float64Array(fan.length);
  const { areas } = l;
  for (let f = 0; f < faceCount(m); f++) {
    const [begin, end] = [faceBegin(m, f), faceEnd(m, f)];
    for (let c = begin; c < end; c++) area[fan[c]!]! += areas[f]! / (end - begin);
  }
  for (const c of t.edgeCorner) {
    const o = t.opposite[c]!;
    if (o < 0 || sharp[c]) continue;
    const [a, b] = [3 * t.face[c]!, 3 * t.face[o]!];
    const [u, v] = [m.corners[c]!, m.corners[t.next[c]!]!];
    const e = [0, 1, 2].map((k) => m.positions[3 * v + k]! - m.positions[3 * u + k]!) as [number, number, number];
    const length = Math.hypot(...e);
    if (!(length > 0)) continue;
    const [ax, ay, az, bx, by, bz] = [N[a]!, N[a + 1]!, N[a + 2]!, N[b]!, N[b + 1]!, N[b + 2]!];
    // Seen along the edge, the way from one normal to the other turns to the left where the surface bulges.
    const sin = ((ay * bz - az * by) * e[0] + (az * bx - ax * bz) * e[1] + (ax * by - ay * bx) * e[2]) / length;
    const angle = Math.atan2(sin, ax * bx + ay * by + az * bz);
    for (const w of [fan[c]!, fan[t.next[c]!]!]) sum[w]! += (length * angle) / 4;
  }
  return Float64Array.from(fan, (w) => (area[w]! > 0 ? sum[w]! / area[w]! : 0));
}

function gather(m: PolyMesh, value: (corner: number, face: number) => number): Float32Array {
  const { triangles, face } = triangulateMesh(m);
  return Float32Array.from(triangles, (c, i) => value(c, face[Math.floor(i / 3)]!));
}

/** About so many squares of a checker go over the UVs of a part. */
const SQUARES = 24;

/** UVs at the corners of the picture; without any, all of them at 0, 0 and no square. */
function checker(m: PolyMesh): LookValues {
  const { uv } = m.layers;
  const { triangles } = triangulateMesh(m);
  const uvs = new Float32Array(2 * triangles.length);
  let [low, high] = [Infinity, -Infinity];
  if (uv)
    triangles.forEach((c, i) => {
      for (let k = 0; k < 2; k++) {
        const x = uv[2 * c + k]!;
        uvs[2 * i + k] = x;
        low = Math.min(low, x);
        high = Math.max(high, x);
      }
    });
  const square = high > low ? 10 ** Math.round(Math.log10((high - low) / SQUARES)) : 0;
  return { ...classes(m, () => 0, ['part']), uvs, square };
}

/** Edges by class, with their number and length, mm. */
function edgeClasses(m: PolyMesh): NonNullable<LookValues['edges']> {
  const { lines, lineStart } = renderBuffers(m);
  return LINE_CLASSES.map((name, k) => {
    let length = 0;
    for (let i = 6 * lineStart[k]!; i < 6 * lineStart[k + 1]!; i += 6)
      length += Math.hypot(lines[i]! - lines[i + 3]!, lines[i + 1]! - lines[i + 4]!, lines[i + 2]! - lines[i + 5]!);
    return { name, count: lineStart[k + 1]! - lineStart[k]!, length };
  });
}

/** The values of a heat by how far each vertex of a mesh is from something, mm. */
export const heatOf = (m: PolyMesh, value: (vertex: number, face: number) => number): LookValues =>
  heat(m, (c, f) => value(m.corners[c]!, f));

const classes = (m: PolyMesh, value: (corner: number, face: number) => number, names: string[]): LookValues => ({
  values: gather(m, value),
  min: 0,
  max: names.length - 1,
  log: false,
  bins: [],
  classes: names,
});

function heat(m: PolyMesh, value: (corner: number, face: number) => number, log = false): LookValues {
  const values = gather(m, value);
  let [min, max] = [Infinity, -Infinity];
  for (const x of values) {
    if (x < min) min = x;
    if (x > max) max = x;
  }
  if (!values.length) [min, max] = [0, 0];
  const tenfolds = log && min > 0;
  return { values, min, max, log: tenfolds, classes: [], bins: binned(values, min, max, tenfolds) };
}

/** Bars of a histogram. */
const BARS = 24;

function binned(values: ArrayLike<number>, min: number, max: number, log: boolean): number[] {
  const out = new Array<number>(BARS).fill(0);
  for (let i = 0; i < values.length; i++)
    out[Math.min(BARS - 1, Math.floor(BARS * heatShare({ min, max, log }, values[i]!)))]!++;
  return out;
}

/** Where a value stands between the ends of a heat, 0 … 1. */
export function heatShare({ min, max, log }: Pick<LookValues, 'min' | 'max' | 'log'>, x: number): number {
  const at = (v: number) => (log ? Math.log(v) : v);
  const span = at(max) - at(min);
  return span > 0 ? Math.max(0, Math.min(1, (at(x) - at(min)) / span)) : 0;
}
