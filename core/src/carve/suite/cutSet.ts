import { transformMesh, type PolyMesh } from '../../mesh/index.ts';
import { ballFromRings, box, cylinder, prism, sheet, tube } from '../../shapes/index.ts';
import { carve, type CutOperation } from '../carve.ts';
import { kerf, type KerfSettings } from '../kerf.ts';
import { crossIntegral, ngon, ngonArea, outlineArea, turnedVolume, type Point } from './closedForms.ts';

/** One everyday cut: its bodies, how it is done, and what it must measure: mm³, or mm² for a sheet. */
export interface CutCase {
  target: PolyMesh;
  /** Courses one on the other; each takes its cutters as one list. */
  steps: { cutters: PolyMesh[]; run: (target: PolyMesh, cutters: PolyMesh[]) => PolyMesh }[];
  measure: number;
  /** Pieces of the result. */
  pieces: number;
}

const at = (m: PolyMesh, x: number, y: number, z: number) => transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z]);
/** Own z along x, own x along y. */
const alongX = (m: PolyMesh) => transformMesh(m, [0, 0, 1, 0, 1, 0, 0, 0, 0, 1, 0, 0]);
/** Own z along y, own x along z. */
const alongY = (m: PolyMesh) => transformMesh(m, [0, 1, 0, 0, 0, 0, 1, 0, 1, 0, 0, 0]);

const by = (operation: CutOperation, ...cutters: PolyMesh[]): CutCase['steps'][number] => ({
  cutters,
  run: (t, list) => carve(t, { cutters: list, operation }).mesh,
});
const slit = (options: KerfSettings, ...cutters: PolyMesh[]): CutCase['steps'][number] => ({
  cutters,
  run: (t, list) => kerf(t, { cutters: list, ...options }).mesh,
});
const one = (target: PolyMesh, step: CutCase['steps'][number], measure: number, pieces = 1): CutCase => ({
  target,
  steps: [step],
  measure,
  pieces,
});

const plate = () => box(100, 60, 20);
const PLATE = 120000;
const hull = () => cylinder(38, 70, 64);
const HULL = ngonArea(38, 64) * 70;
const span = ([low, high]: [number, number]) => high - low;
/** What a round bar along x, of n flats, takes out of the hull on one side: the cross integral over y. */
const inHull = (r: number, n: number, from: number) =>
  crossIntegral(
    ngon(38, 64).map(([x, y]): Point => [y, x]),
    ngon(r, n),
    (x, z) => Math.max(0, x[1] - from) * span(z),
  );

/** A closed outline of a smooth curve through a few places. */
const splined: Point[] = Array.from({ length: 96 }, (_, i) => {
  const a = (2 * Math.PI * i) / 96;
  const r = 16 + 4 * Math.cos(3 * a) + 2 * Math.sin(2 * a);
  return [1.4 * r * Math.cos(a), r * Math.sin(a)];
});
/** A strip of so much to both sides along the first coordinate. */
const strip = (half: number): Point[] => [
  [-half, -1],
  [half, -1],
  [half, 1],
  [-half, 1],
];
const RINGS = 24;
/**
 * Outline of the upper half of a ball of rings in the plane through the middle of its flats, from the rim to the pole.
 */
const ballProfile = (r: number, n: number): Point[] =>
  Array.from({ length: RINGS / 2 + 1 }, (_, i) => {
    const a = (Math.PI * i) / RINGS;
    return [r * Math.cos(a) * Math.cos(Math.PI / n), r * Math.sin(a)];
  });
const apothem = (r: number, n: number) => r * Math.cos(Math.PI / n);
/** Area between an n-gon of radius r grown and shrunk by half a width, mitred. */
const ring = (r: number, n: number, width: number) => 2 * n * apothem(r, n) * width * Math.tan(Math.PI / n);

/** 24 everyday cuts, each known in closed form. */
export const CUT_SET: Record<string, () => CutCase> = {
  'hole through a plate': () => one(plate(), by('subtract', cylinder(8, 40, 64)), PLATE - ngonArea(8, 64) * 20),
  'blind pocket': () => one(plate(), by('subtract', at(box(30, 20, 12), 10, 5, 10)), PLATE - 30 * 20 * 6),
  'round pocket, level with the top': () =>
    one(plate(), by('subtract', at(cylinder(9, 8, 48), -20, 0, 6)), PLATE - ngonArea(9, 48) * 8),
  'slot over an edge': () => one(plate(), by('subtract', at(box(20, 8, 40), 50, 10, 0)), PLATE - 10 * 8 * 20),
  'notch level with three faces': () => one(plate(), by('subtract', at(box(10, 10, 10), 45, 25, 5)), PLATE - 1000),
  'crossing holes': () =>
    one(
      box(60, 60, 60),
      by('subtract', alongX(cylinder(12, 80, 48)), alongY(cylinder(9, 80, 48))),
      216000 -
        60 * (ngonArea(12, 48) + ngonArea(9, 48)) +
        crossIntegral(
          ngon(12, 48).map(([y, z]): Point => [z, y]),
          ngon(9, 48),
          (y, x) => span(y) * span(x),
        ),
    ),
  'port in a round hull': () =>
    one(hull(), by('subtract', at(alongX(cylinder(12, 60, 48)), 40, 0, 0)), HULL - inHull(12, 48, 10)),
  'boss on a round hull': () =>
    one(
      hull(),
      by('union', at(alongX(cylinder(14, 60, 40)), 30, 0, 0)),
      HULL + ngonArea(14, 40) * 60 - inHull(14, 40, 0),
    ),
  'hole through a ball': () =>
    one(
      ballFromRings(30, 48, RINGS),
      by('subtract', cylinder(10, 80, 48)),
      turnedVolume(ballProfile(30, 48), 48, apothem(10, 48), apothem(30, 48)),
    ),
  'tube joined to a ball': () =>
    one(
      ballFromRings(30, 48, RINGS),
      by('union', tube(12, 8, 100, 48)),
      turnedVolume(ballProfile(30, 48), 48, 0, apothem(30, 48)) +
        (ngonArea(12, 48) - ngonArea(8, 48)) * 100 -
        turnedVolume(ballProfile(30, 48), 48, apothem(8, 48), apothem(12, 48)),
    ),
  'window in a tube': () => {
    const [outer, inner] = [ngon(20, 48), ngon(16, 48)].map((p) => p.map(([x, y]): Point => [y, x]));
    const far = (p: Point[]) => crossIntegral(p, strip(5), (x) => x[1]);
    return one(
      tube(20, 16, 80, 48),
      by('subtract', at(box(30, 10, 24), 20, 0, 0)),
      (ngonArea(20, 48) - ngonArea(16, 48)) * 80 - (far(outer!) - far(inner!)) * 24,
    );
  },
  'splined opening': () =>
    one(
      plate(),
      by('subtract', prism({ points: splined.map(([x, y]) => [x, y]) }, 40)),
      PLATE - outlineArea(splined) * 20,
    ),
  'grid of 40 holes': () =>
    one(
      plate(),
      by(
        'subtract',
        ...Array.from({ length: 40 }, (_, i) =>
          at(cylinder(3, 40, 24), -42 + 12 * (i % 8), -24 + 12 * Math.floor(i / 8), 0),
        ),
      ),
      PLATE - 40 * ngonArea(3, 24) * 20,
    ),
  'block level with a hexagon': () =>
    one(cylinder(20, 20, 6), by('union', at(cylinder(20, 20, 6), 30, 10 * Math.sqrt(3), 0)), 2 * ngonArea(20, 6) * 20),
  'two blocks side by side': () => one(plate(), by('union', at(box(40, 60, 20), 70, 0, 0)), PLATE + 40 * 60 * 20),
  'hole, then a slot across it': () => {
    const common = crossIntegral(ngon(8, 64), strip(3), (x) => span(x));
    return {
      target: plate(),
      steps: [by('subtract', cylinder(8, 40, 64)), by('subtract', at(box(200, 6, 10), 0, 0, 10))],
      measure: PLATE - ngonArea(8, 64) * 20 - (100 * 6 - common) * 5,
      pieces: 1,
    };
  },
  'the overlap of equal bodies': () => one(plate(), by('intersect', plate()), PLATE),
  'coaxial bars of one radius': () =>
    one(cylinder(10, 30, 48), by('union', at(cylinder(10, 30, 48), 0, 0, 20)), ngonArea(10, 48) * 50),
  'kerf round a disc': () =>
    one(
      plate(),
      slit({ width: 2, depth: 3, bottom: 'square', nearest: [[0, 0, -1]] }, cylinder(12, 40, 64)),
      PLATE - 3 * ring(12, 64, 2),
    ),
  'V kerf round a bar': () =>
    one(
      box(100, 20, 20),
      slit({ width: 2, depth: 2, bottom: 'v' }, box(10, 40, 40)),
      // Two grooves of triangular section, mitred at the four edges: the centroid of the section lies a third down.
      40000 - 2 * 2 * (4 * (20 - (2 * 2) / 3)),
    ),
  'disc scribed on a plate': () => one(plate(), by('scribe', cylinder(8, 40, 64)), PLATE),
  'outline scribed on a hull': () => one(hull(), by('scribe', at(alongX(cylinder(12, 60, 48)), 40, 0, 0)), HULL),
  'louvre slots in a sheet': () =>
    one(
      sheet(120, 80),
      by('subtract', ...[-40, -20, 0, 20, 40].map((x) => at(box(6, 60, 10), x, 0, 0)), at(box(10, 10, 10), 60, 40, 0)),
      120 * 80 - 5 * 6 * 60 - 25,
    ),
  'block split in nine': () => one(box(60, 60, 20), by('split', box(10, 200, 200), box(200, 10, 200)), 72000, 9),
};
