import { transformMesh, type Affine, type PolyMesh } from '../../mesh/index.ts';
import {
  ballFromPatches,
  box,
  circleOutline,
  cone,
  cylinder,
  prism,
  torus,
  tube,
  type Point2,
} from '../../shapes/index.ts';
import { type CarveOperation } from '../kernel/index.ts';

/** How a case makes its bodies (in some frame) and carves them. */
export interface Bench {
  make: (mesh: PolyMesh) => PolyMesh;
  carve: (target: PolyMesh, cutters: PolyMesh | PolyMesh[], operation: CarveOperation, apart?: boolean) => PolyMesh;
}

type Vec3 = [number, number, number];

const move = (m: PolyMesh, [x, y, z]: Vec3): PolyMesh => transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z]);
/** A box between two corners. */
export const span = (a: Vec3, b: Vec3): PolyMesh =>
  move(box(b[0] - a[0], b[1] - a[1], b[2] - a[2]), [0, 1, 2].map((k) => (a[k]! + b[k]!) / 2) as Vec3);
const rod = (r: number, h: number, n: number, at: Vec3 = [0, 0, 0]): PolyMesh => move(cylinder(r, h, n), at);
/** The z axis laid along x. */
const ALONG_X: Affine = [0, 0, 1, 0, 1, 0, 0, 0, 0, 1, 0, 0];
const turned = (m: PolyMesh, degrees: number): PolyMesh => {
  const [s, c] = [Math.sin((degrees * Math.PI) / 180), Math.cos((degrees * Math.PI) / 180)];
  return transformMesh(m, [c, -s, 0, 0, s, c, 0, 0, 0, 0, 1, 0]);
};
const upright = (points: Point2[], z0: number, z1: number): PolyMesh =>
  move(prism({ points }, z1 - z0), [0, 0, (z0 + z1) / 2]);
/** An outline in x and z, drawn out along y. */
const crosswise = (points: Point2[], y0: number, y1: number): PolyMesh =>
  transformMesh(upright(points, -y1, -y0), [1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0]);
const hexagon = (r: number, x = 0, y = 0): Point2[] => circleOutline(r, 6).map(([p, q]) => [p + x, q + y]);

const plate = box(100, 60, 20);
const fold = (n: number, start: PolyMesh, step: (a: PolyMesh, i: number) => PolyMesh): PolyMesh => {
  let a = start;
  for (let i = 0; i < n; i++) a = step(a, i);
  return a;
};

/**
 * Cuts in which faces, edges or vertices of the bodies coincide. In any frame the result must be the same as in the
 * plain one: pieces, genus, faces, vertices, edges, inner outlines, volume. `apart` keeps flush faces of different
 * bodies apart.
 */
export const FLUSH_CASES: Record<string, (k: Bench) => PolyMesh> = {
  pocket: (k) => k.carve(k.make(plate), k.make(span([-5, -7, 0], [15, 13, 10])), 'subtract', true),
  boss: (k) => k.carve(k.make(plate), k.make(span([-5, -7, 10], [15, 13, 20])), 'union', true),
  'notch, two faces flush': (k) => k.carve(k.make(plate), k.make(span([30, -7, 0], [50, 13, 10])), 'subtract', true),
  'notch in a corner, three flush': (k) =>
    k.carve(k.make(plate), k.make(span([30, 10, 0], [50, 30, 10])), 'subtract', true),
  'through slot, three flush': (k) =>
    k.carve(k.make(plate), k.make(span([-5, -30, 0], [15, 30, 10])), 'subtract', true),
  'window, both ends flush': (k) => k.carve(k.make(plate), k.make(span([-5, -7, -10], [15, 13, 10])), 'subtract', true),
  'bore, both ends flush': (k) => k.carve(k.make(plate), k.make(rod(8, 20, 32, [5, 3, 0])), 'subtract', true),
  'side by side, tops level': (k) => k.carve(k.make(plate), k.make(span([50, -15, -10], [100, 15, 10])), 'union', true),
  'overlapping, tops level': (k) => k.carve(k.make(plate), k.make(span([20, -15, -10], [100, 15, 10])), 'union', true),
  'overlapping, tops level, joined': (k) =>
    k.carve(k.make(plate), k.make(span([20, -15, -10], [100, 15, 10])), 'union'),
  'adjoining slots': (k) =>
    fold(20, k.make(plate), (a, i) =>
      k.carve(a, k.make(span([-40 + 4 * i, -20, 5], [-36 + 4 * i, 20, 10])), 'subtract', true),
    ),
  'adjoining slots, joined': (k) =>
    fold(20, k.make(plate), (a, i) =>
      k.carve(a, k.make(span([-40 + 4 * i, -20, 5], [-36 + 4 * i, 20, 10])), 'subtract'),
    ),
  layers: (k) =>
    fold(19, k.make(span([0, 0, 0], [50, 30, 3])), (a, i) =>
      k.carve(a, k.make(span([0, 0, 3 * i + 3], [50, 30, 3 * i + 6])), 'union', true),
    ),
  'layers, joined': (k) =>
    fold(19, k.make(span([0, 0, 0], [50, 30, 3])), (a, i) =>
      k.carve(a, k.make(span([0, 0, 3 * i + 3], [50, 30, 3 * i + 6])), 'union'),
    ),
  'equal bodies, union': (k) => k.carve(k.make(plate), k.make(plate), 'union', true),
  'equal bodies, subtract': (k) => k.carve(k.make(plate), k.make(plate), 'subtract', true),
  'equal bodies, intersect': (k) => k.carve(k.make(plate), k.make(plate), 'intersect', true),
  'equal cylinders, union': (k) => k.carve(k.make(rod(10, 30, 64)), k.make(rod(10, 30, 64)), 'union', true),
  'cut and filled again': (k) =>
    fold(20, k.make(plate), (a) => {
      const t = k.make(span([30, -7, 0], [50, 13, 10]));
      return k.carve(k.carve(a, t, 'subtract'), t, 'union');
    }),
  'bored and plugged again': (k) =>
    fold(20, k.make(plate), (a, i) => {
      const t = k.make(rod(6, 20, 24, [-30 + 2 * i, 0, 0]));
      return k.carve(k.carve(a, t, 'subtract'), t, 'union');
    }),
  'cylinders end to end': (k) => k.carve(k.make(rod(10, 20, 32)), k.make(rod(10, 20, 32, [0, 0, 20])), 'union', true),
  'cylinders end to end, joined': (k) => k.carve(k.make(rod(10, 20, 32)), k.make(rod(10, 20, 32, [0, 0, 20])), 'union'),
  'cylinders overlapping along their axis': (k) =>
    k.carve(k.make(rod(10, 20, 32)), k.make(rod(10, 20, 32, [0, 0, 12.3])), 'union', true),
  'the same, half a segment turned': (k) =>
    k.carve(k.make(rod(10, 20, 32)), k.make(move(turned(cylinder(10, 20, 32), 180 / 32), [0, 0, 12.3])), 'union', true),
  'bored along the axis': (k) => k.carve(k.make(rod(10, 20, 32)), k.make(rod(6, 20, 32)), 'subtract', true),
  'hexagons side by side': (k) =>
    k.carve(
      k.make(upright(hexagon(10), 0, 20)),
      k.make(upright(hexagon(10, 15, 5 * Math.sqrt(3)), 0, 20)),
      'union',
      true,
    ),
  'hexagons stacked and shifted': (k) =>
    k.carve(k.make(upright(hexagon(10), 0, 20)), k.make(upright(hexagon(10, 13), 0, 20)), 'union', true),
  'seven hexagons': (k) =>
    fold(6, k.make(upright(hexagon(10), 0, 20)), (a, i) => {
      const [t, s] = [Math.PI / 6 + (i * Math.PI) / 3, 10 * Math.sqrt(3)];
      return k.carve(a, k.make(upright(hexagon(10, s * Math.cos(t), s * Math.sin(t)), 0, 20)), 'union');
    }),
  'wedge on top': (k) =>
    k.carve(
      k.make(plate),
      k.make(
        crosswise(
          [
            [-50, 10],
            [50, 10],
            [50, 25],
          ],
          -30,
          30,
        ),
      ),
      'union',
      true,
    ),
  'wedge cut along its slope': (k) =>
    k.carve(
      k.make(
        crosswise(
          [
            [0, 0],
            [60, 0],
            [60, 30],
          ],
          -20,
          20,
        ),
      ),
      k.make(
        crosswise(
          [
            [20, 0],
            [40, 0],
            [40, 20],
            [20, 10],
          ],
          -8,
          20,
        ),
      ),
      'subtract',
      true,
    ),
  'wedge halves': (k) =>
    k.carve(
      k.make(
        crosswise(
          [
            [0, 0],
            [60, 0],
            [60, 30],
          ],
          -20,
          20,
        ),
      ),
      k.make(
        crosswise(
          [
            [0, 0],
            [60, 30],
            [0, 30],
          ],
          -20,
          20,
        ),
      ),
      'union',
    ),
  'crossed bars, level': (k) =>
    k.carve(k.make(span([-50, -5, -5], [50, 5, 5])), k.make(span([-5, -50, -5], [5, 50, 5])), 'union', true),
  'crossed bars, joined': (k) =>
    k.carve(k.make(span([-50, -5, -5], [50, 5, 5])), k.make(span([-5, -50, -5], [5, 50, 5])), 'union'),
  'three crossed bars': (k) =>
    k.carve(
      k.carve(k.make(span([-50, -5, -5], [50, 5, 5])), k.make(span([-5, -50, -5], [5, 50, 5])), 'union', true),
      k.make(span([-5, -5, -50], [5, 5, 50])),
      'union',
      true,
    ),
  'bar at 45° through an edge': (k) =>
    k.carve(
      k.make(box(40, 40, 40)),
      k.make(
        upright(
          [
            [0, 20],
            [20, 0],
            [60, 40],
            [40, 60],
          ],
          -20,
          20,
        ),
      ),
      'subtract',
      true,
    ),
  'cutter edge on a diagonal': (k) =>
    k.carve(
      k.make(box(40, 40, 40)),
      k.make(
        upright(
          [
            [-20, -20],
            [20, 20],
            [-20, 20],
          ],
          -20,
          5,
        ),
      ),
      'subtract',
      true,
    ),
  'edge touching a face': (k) =>
    k.carve(
      k.make(box(40, 40, 40)),
      k.make(
        upright(
          [
            [20, 0],
            [40, -20],
            [40, 20],
          ],
          -10,
          10,
        ),
      ),
      'union',
      true,
    ),
  'boxes sharing one edge': (k) =>
    k.carve(k.make(span([0, 0, 0], [10, 10, 10])), k.make(span([10, 10, 0], [20, 20, 10])), 'union', true),
  'boxes sharing one corner': (k) =>
    k.carve(k.make(span([0, 0, 0], [10, 10, 10])), k.make(span([10, 10, 10], [20, 20, 20])), 'union', true),
  'halved by equal faces': (k) => k.carve(k.make(plate), k.make(span([-50, -30, -10], [0, 30, 10])), 'intersect', true),
  'grid of pockets': (k) =>
    fold(25, k.make(plate), (a, i) => {
      const [x, y] = [-40 + 16 * (i % 5), -26 + 10 * Math.floor(i / 5)];
      return k.carve(a, k.make(span([x, y, 2], [x + 16, y + 10, 10])), 'subtract');
    }),
  'equal cylinders, tee': (k) =>
    k.carve(k.make(rod(10, 60, 32)), k.make(transformMesh(cylinder(10, 60, 32), ALONG_X)), 'union', true),
  'steps in a corner': (k) =>
    fold(10, k.make(box(60, 60, 60)), (a, i) =>
      k.carve(a, k.make(span([30 - 3 * (i + 1), 30 - 3 * (10 - i), -30], [30 - 3 * i, 30, 30])), 'subtract'),
    ),

  // Cases beyond two plain bodies: lists of cutters, curved bodies with vertices on the plane, contacts in a line or a
  // point.
  'two overlapping cutters, tops level, one list': (k) =>
    k.carve(
      k.make(plate),
      [k.make(span([-30, -10, 2], [5, 10, 10])), k.make(span([-5, -20, 5], [15, 15, 10]))],
      'subtract',
    ),
  'tee slot from two adjoining cutters': (k) =>
    k.carve(
      k.make(plate),
      [k.make(span([-5, -30, 0], [5, 30, 10])), k.make(span([-15, -30, -6], [15, 30, 0]))],
      'subtract',
    ),
  'stairs from a list with one foot': (k) =>
    k.carve(
      k.make(span([0, 0, 0], [10, 30, 5])),
      Array.from({ length: 9 }, (_, i) => k.make(span([5 * i, 0, 0], [10 + 10 * i, 30, 5 * (i + 2)]))),
      'union',
    ),
  'three cutters meeting in a corner': (k) =>
    k.carve(
      k.make(box(40, 40, 40)),
      [
        k.make(span([0, 0, 0], [20, 20, 20])),
        k.make(span([-20, 0, 0], [0, 20, 20])),
        k.make(span([0, -20, 0], [20, 0, 20])),
      ],
      'subtract',
    ),
  'ball halved through its vertices': (k) =>
    k.carve(k.make(ballFromPatches(10, 6)), k.make(span([-12, -12, 0], [12, 12, 12])), 'subtract'),
  'torus halved through its vertices': (k) =>
    k.carve(k.make(torus(20, 6, 24, 12)), k.make(span([-30, -30, -10], [30, 30, 0])), 'intersect'),
  'cylinder lying in a plate, vertices on the top': (k) =>
    k.carve(k.make(plate), k.make(move(transformMesh(cylinder(8, 60, 16), ALONG_X), [0, 0, 10])), 'union'),
  'cone whose tip touches a face': (k) =>
    k.carve(k.make(plate), k.make(move(cone(0, 8, 15, 20), [3, 4, 17.5])), 'union'),
  'tube plugged level': (k) => k.carve(k.make(tube(12, 7, 20, 36)), k.make(rod(7, 20, 36)), 'union'),
  'octagon turned half a step in an octagon hole': (k) =>
    k.carve(
      k.carve(k.make(plate), k.make(upright(circleOutline(12, 8), -10, 10)), 'subtract'),
      k.make(turned(upright(circleOutline(12, 8), -10, 10), 22.5)),
      'union',
    ),
};
