import { MasonError, type PolyMesh } from '../mesh/index.ts';
import { circlePoint, ShapeBuilder } from './builder.ts';
import { turnedOutline, type Outline } from './outlines.ts';

// All shapes are centred on the origin, their axis along z, faces looking outward; sizes in mm, angles in segments.

/** Throws `bad-input` unless every size is a positive number. */
function positive(sizes: Record<string, number>): void {
  for (const [name, x] of Object.entries(sizes))
    if (!(x > 0 && Number.isFinite(x))) throw new MasonError('bad-input', `The ${name} must be above 0; it is ${x}.`);
}

function whole(n: number, least: number, what: string): number {
  if (!(Number.isInteger(n) && n >= least && n <= 100_000))
    throw new MasonError('bad-input', `${what} must be a whole number from ${least} to 100000; it is ${n}.`);
  return n;
}

/** A box of x × y × z, each side divided into the given counts of quads. */
export function box(
  x: number,
  y: number,
  z: number,
  segments: readonly [number, number, number] = [1, 1, 1],
): PolyMesh {
  positive({ length: x, width: y, height: z });
  const size = [x, y, z];
  const n = segments.map((s) => whole(s, 1, 'Segments'));
  const b = new ShapeBuilder();
  const known = new Map<string, number>();
  const at = (i: number[]): number => {
    const key = i.join();
    let v = known.get(key);
    if (v === undefined) {
      const p = i.map((q, k) => (q * 2 === n[k] ? 0 : (q / n[k]! - 0.5) * size[k]!));
      known.set(key, (v = b.vertex(p[0]!, p[1]!, p[2]!)));
    }
    return v;
  };
  for (let k = 0; k < 3; k++) {
    const u = (k + 1) % 3;
    const w = (k + 2) % 3;
    for (const side of [0, n[k]!])
      for (let i = 0; i < n[u]!; i++)
        for (let j = 0; j < n[w]!; j++) {
          const quad = [
            [0, 0],
            [1, 0],
            [1, 1],
            [0, 1],
          ].map(([p, q]) => {
            const index = [0, 0, 0];
            index[k] = side;
            index[u] = i + p!;
            index[w] = j + q!;
            return at(index);
          });
          b.face(side ? quad : quad.reverse());
        }
  }
  return b.mesh();
}

function ring(b: ShapeBuilder, radius: number, z: number, n: number): number[] {
  return Array.from({ length: n }, (_, i) => b.vertex(...circlePoint(i, n, radius), z));
}

/** A cylinder: quads round, one n-gon at each end; `rows` of quads along it. */
export function cylinder(radius: number, height: number, segments: number, rows = 1): PolyMesh {
  return cone(radius, radius, height, segments, rows);
}

/** A cone from radius `foot` to radius `top`; a radius of 0 is a point. */
export function cone(foot: number, top: number, height: number, segments: number, rows = 1): PolyMesh {
  positive({ height, radius: Math.max(foot, top) });
  const n = whole(segments, 3, 'Segments');
  whole(rows, 1, 'Rows');
  const b = new ShapeBuilder();
  const rings: number[][] = [];
  for (let j = 0; j <= rows; j++) {
    const s = j / rows;
    const z = j === 0 ? -height / 2 : j === rows ? height / 2 : (s - 0.5) * height;
    const r = j === 0 ? foot : j === rows ? top : foot + (top - foot) * s;
    rings.push(r > 0 ? ring(b, r, z, n) : [b.vertex(0, 0, z)]);
  }
  cap(b, rings[0]!, false);
  for (let j = 0; j < rows; j++) join(b, rings[j]!, rings[j + 1]!);
  cap(b, rings[rows]!, true);
  return b.mesh();
}

function cap(b: ShapeBuilder, r: number[], up: boolean): void {
  if (r.length > 1) b.face(up ? r : [...r].reverse());
}

/** A band between two rings, or a fan where one of them is a point. */
function join(b: ShapeBuilder, lower: number[], upper: number[]): void {
  const n = Math.max(lower.length, upper.length);
  if (lower.length === upper.length) return b.band(lower, upper);
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    b.face(upper.length === 1 ? [lower[i]!, lower[j]!, upper[0]!] : [lower[0]!, upper[j]!, upper[i]!]);
  }
}

/** A tube: quads on all four sides. */
export function tube(radius: number, bore: number, height: number, segments: number): PolyMesh {
  positive({ radius, 'bore radius': bore, height });
  if (bore >= radius) throw new MasonError('bad-input', `The bore radius ${bore} must be below the radius ${radius}.`);
  const n = whole(segments, 3, 'Segments');
  const b = new ShapeBuilder();
  const [outLow, outHigh] = [ring(b, radius, -height / 2, n), ring(b, radius, height / 2, n)];
  const [inLow, inHigh] = [ring(b, bore, -height / 2, n), ring(b, bore, height / 2, n)];
  b.band(outLow, outHigh);
  b.band(outHigh, inHigh);
  b.band(inHigh, inLow);
  b.band(inLow, outLow);
  return b.mesh();
}

/** A wedge: full height at −x, none at +x. */
export function wedge(x: number, y: number, z: number): PolyMesh {
  positive({ length: x, width: y, height: z });
  const b = new ShapeBuilder();
  const side = (s: number) => [
    b.vertex(-x / 2, (s * y) / 2, -z / 2),
    b.vertex(x / 2, (s * y) / 2, -z / 2),
    b.vertex(-x / 2, (s * y) / 2, z / 2),
  ];
  const near = side(-1);
  const far = side(1);
  b.face(near);
  b.face([...far].reverse());
  b.band([...near].reverse(), [...far].reverse());
  return b.mesh();
}

/** A ball from rings: quads, and triangles at both poles. */
export function ballFromRings(radius: number, segments: number, rings: number): PolyMesh {
  positive({ radius });
  const n = whole(segments, 3, 'Segments');
  whole(rings, 2, 'Rings');
  const b = new ShapeBuilder();
  const rows: number[][] = [[b.vertex(0, 0, -radius)]];
  for (let j = 1; j < rings; j++) {
    const [c, s] = circlePoint(2 * j - rings, 4 * rings, radius);
    rows.push(ring(b, c, s, n));
  }
  rows.push([b.vertex(0, 0, radius)]);
  for (let j = 0; j < rings; j++) join(b, rows[j]!, rows[j + 1]!);
  return b.mesh();
}

/**
 * A ball from six square patches of n × n quads, by equal angles, so that the quads are nearly even.
 * The quads are slightly bent, as four points of a sphere are not in one plane.
 */
export function ballFromPatches(radius: number, divisions: number): PolyMesh {
  positive({ radius });
  const n = whole(divisions, 1, 'Divisions');
  const cube = box(2, 2, 2, [n, n, n]);
  const positions = new Float64Array(cube.positions.length);
  for (let i = 0; i < positions.length; i += 3) {
    const p = [0, 1, 2].map((k) => {
      const x = cube.positions[i + k]!;
      return Math.abs(x) === 1 || x === 0 ? x : Math.tan((x * Math.PI) / 4);
    });
    const k = radius / Math.hypot(p[0]!, p[1]!, p[2]!);
    for (let j = 0; j < 3; j++) positions[i + j] = p[j]! * k;
  }
  return { ...cube, positions };
}

/** A torus: `radius` to the middle of the tube, which has radius `tubeRadius`. */
export function torus(radius: number, tubeRadius: number, segments: number, tubeSegments: number): PolyMesh {
  positive({ radius, 'tube radius': tubeRadius });
  if (tubeRadius >= radius)
    throw new MasonError(
      'bad-input',
      `The tube radius ${tubeRadius} must be below the radius ${radius}; else the torus crosses itself.`,
    );
  const n = whole(segments, 3, 'Segments');
  const k = whole(tubeSegments, 3, 'Tube segments');
  const b = new ShapeBuilder();
  const rings = Array.from({ length: k }, (_, j) => {
    const [c, s] = circlePoint(j, k, tubeRadius);
    return ring(b, radius + c, s, n);
  });
  for (let j = 0; j < k; j++) b.band(rings[j]!, rings[(j + 1) % k]!);
  return b.mesh();
}

/** A prism of an outline, its ends one face each, with the outline's holes as inner outlines. */
export function prism(outline: Outline, height: number): PolyMesh {
  positive({ height });
  const b = new ShapeBuilder();
  const level = (z: number) =>
    [turnedOutline(outline.points), ...(outline.holes ?? []).map((h) => turnedOutline(h, false))].map((points) =>
      points.map(([x, y]) => b.vertex(x, y, z)),
    );
  const lower = level(-height / 2);
  const upper = level(height / 2);
  b.face(upper);
  b.face(lower.map((l) => [...l].reverse()));
  lower.forEach((l, i) => b.band(l, upper[i]!));
  return b.mesh();
}

/** A flat open sheet of x × y in quads, looking up. */
export function sheet(x: number, y: number, segments: readonly [number, number] = [1, 1]): PolyMesh {
  positive({ length: x, width: y });
  const [n, m] = [whole(segments[0], 1, 'Segments'), whole(segments[1], 1, 'Segments')];
  const b = new ShapeBuilder();
  const rows = Array.from({ length: m + 1 }, (_, j) =>
    Array.from({ length: n + 1 }, (_, i) => b.vertex((i / n - 0.5) * x, (j / m - 0.5) * y, 0)),
  );
  for (let j = 0; j < m; j++) b.band(rows[j]!, rows[j + 1]!, false);
  return b.mesh();
}
