import { carve } from '@dusky-mason/core/carve';
import { CUT_SET } from '@dusky-mason/core/carve/suite';
import { Evaluator } from '@dusky-mason/core/courses';
import { skerryLight } from '@dusky-mason/core/demo';
import {
  bevel,
  BevelPlan,
  bevelHeadroom,
  sharpEdges,
  subdivide,
  type BevelReport,
  type BevelWish,
} from '@dusky-mason/core/dress';
import {
  add,
  components,
  faceCount,
  genus,
  isClosed,
  nearestOn,
  sub,
  topologyOf,
  transformMesh,
  unit,
  type Affine,
  type PolyMesh,
  type Vec3,
  vertexPlace,
  pairsThatMeet,
} from '@dusky-mason/core/mesh';
import { ballFromPatches, box, cylinder, randomTurn, seededRandom } from '@dusky-mason/core/shapes';
import { median, timed } from './timing.ts';

const WISH: BevelWish = { width: 1, measure: 'offset', segments: 1, profile: 1, past: 'stop' };
/** Round how many degrees edges are sharp. */
const ANGLE = 30;

/** What is wrong with a bevelled mesh, in words; empty when nothing is. */
function wrong(m: PolyMesh, before: PolyMesh): string {
  if (isClosed(m) !== isClosed(before)) return 'open';
  if (genus(m) !== genus(before) || components(m).count !== components(before).count) return 'other form';
  const met = pairsThatMeet(m).length;
  return met > pairsThatMeet(before).length ? `${met} faces meet` : '';
}

/**
 * Strips keep their width to this share on flats, and to the second over bends, where lines are drawn from facet to
 * facet.
 */
const [TRUE_WIDTH, TRUE_OVER_BENDS] = [1e-6, 5e-3];

/**
 * How far the strips are from the width, as the greatest share of it: from the middles of the lines that they begin at
 * to the nearest of the edges, in space. Over a bend the way along the faces is longer than the one through space, so
 * only on a part of flats is less counted, too.
 */
function widthOff(
  before: PolyMesh,
  edges: readonly number[],
  after: PolyMesh,
  report: BevelReport,
  width: number,
): { off: number; flats: boolean } {
  const t = topologyOf(before);
  const ends = (m: PolyMesh, c: number) =>
    [vertexPlace(m, m.corners[c]!), vertexPlace(m, m.corners[topologyOf(m).next[c]!]!)] as const;
  const flats = sharpEdges(before, 0.01).length === edges.length;
  // Over bends lines are cut where facets meet, and a piece may lie beside the end of its edge, where the line goes
  // round it.
  const beyond = flats ? 0 : width / 2;
  const lines = edges.map((e) => {
    const [a, b] = ends(before, t.edgeCorner[e]!);
    const way = unit(sub(b, a));
    return [add(a, way, -beyond), add(b, way, beyond)] as const;
  });
  const now = topologyOf(after);
  const last = faceCount(after) - report.corners;
  const first = last - report.strips;
  let most = 0;
  for (let c = 0; c < after.corners.length; c++) {
    const o = now.opposite[c]!;
    if (now.face[c]! >= first || o < 0 || now.face[o]! < first || now.face[o]! >= last) continue;
    const [a, b] = ends(after, c);
    const p = a.map((x, k) => (x + b[k]!) / 2) as unknown as Vec3;
    const off = lines.reduce((x, [q, r]) => Math.min(x, nearestOn(p, q, r).distance), Infinity) / width - 1;
    most = Math.max(most, flats ? Math.abs(off) : off);
  }
  return { off: most, flats };
}

/**
 * `npm run bench -- bevels`: the everyday cuts with all their sharp edges bevelled, at shares of the headroom and past
 * it.
 */
export function cutSetBevelled(): void {
  let passed = 0;
  const rows = Object.entries(CUT_SET).map(([name, make]) => {
    const c = make();
    const m = c.steps.reduce((x, s) => s.run(x, s.cutters), c.target);
    const edges = sharpEdges(m, ANGLE);
    if (!edges.length) {
      passed++;
      return { name, edges: 0 };
    }
    const row: Record<string, string | number> = { name, edges: edges.length };
    let ok = true;
    for (const segments of [1, 3]) {
      const [least] = bevelHeadroom(m, edges, { ...WISH, segments }, undefined, 'least');
      const room = least!.headroom;
      row[`room, ${segments}`] = Number.isFinite(room) ? +room.toFixed(3) : 'any';
      const marks = [0.5, 0.95, 1.1].map((k) => {
        const width = k * (Number.isFinite(room) ? room : 1);
        try {
          const { mesh, report } = bevel(m, { edges, ...WISH, segments, width, past: k > 1 ? 'narrow' : 'stop' });
          if (k > 1) return wrong(mesh, m) || 'ok';
          const { off, flats } = widthOff(m, edges, mesh, report, width);
          return (
            wrong(mesh, m) ||
            (off > (flats ? TRUE_WIDTH : TRUE_OVER_BENDS) ? `off by ${(100 * off).toFixed(1)} %` : 'ok')
          );
        } catch (e) {
          return e instanceof Error ? e.message : String(e);
        }
      });
      ok &&= marks.every((x) => x === 'ok');
      row[`50, 95, 110 %, ${segments}`] = [...new Set(marks)].join(', ');
      // The first width that fails when nothing is made narrower.
      const fails = [1.002, 1.02, 1.1, 1.5].find((k) => {
        try {
          bevel(m, { edges, ...WISH, segments, width: k * room });
          return false;
        } catch {
          return true;
        }
      });
      row[`fails at, ${segments}`] = fails ?? (Number.isFinite(room) ? 'later' : '');
      ok &&= !Number.isFinite(room) || (fails ?? 9) <= 1.1;
    }
    passed += ok ? 1 : 0;
    return row;
  });
  console.log(`everyday cuts, all edges sharper than ${ANGLE}° bevelled: ${passed} of ${rows.length} pass`);
  console.table(rows);
}

/**
 * The width of a bevel being dragged on the parts of the sample: computation only; and subdivision against the time to
 * build the topology.
 */
export function bevelDrag(): void {
  const project = skerryLight();
  const evaluator = new Evaluator();
  evaluator.parts = project.parts;
  const rows = project.parts.map((part) => {
    const m = evaluator.evaluate(part, () => undefined).mesh;
    const edges = sharpEdges(m, ANGLE);
    if (!edges.length) return { part: part.name, edges: 0 };
    const make = (width: number) => bevel(m, { edges, ...WISH, segments: 2, width, past: 'narrow' });
    const widths = Array.from({ length: 21 }, (_, i) => 0.2 + 0.02 * i);
    const built = widths.map((w) => timed(() => make(w)));
    const plan = new BevelPlan();
    const dragged = widths.map((w) => timed(() => plan.at(w, m, '', make)));
    return {
      part: part.name,
      edges: edges.length,
      'built, median ms': +median(built).toFixed(1),
      'dragged, median ms': +median(dragged).toFixed(1),
      'longest ms': +Math.max(...dragged).toFixed(1),
    };
  });
  console.log('bevel width dragged on the parts of the sample, computation only');
  console.table(rows);
  const ratios = [10_000, 100_000].map((n) => {
    const mesh = ballFromPatches(10, Math.round(Math.sqrt(n / 6)));
    const runs = Array.from({ length: 3 }, () => {
      const m = { ...mesh, positions: mesh.positions.slice() };
      return { topology: timed(() => topologyOf(m)), subdivided: timed(() => subdivide(m, { levels: 1 })) };
    });
    return {
      faces: faceCount(mesh),
      'one level, ratio to the topology': +(
        median(runs.map((r) => r.subdivided)) / median(runs.map((r) => r.topology))
      ).toFixed(1),
    };
  });
  console.table(ratios);
}

/** A box that some boxes and cylinders are cut out of or joined to at random. */
export function randomChain(seed: number): PolyMesh {
  const random = seededRandom(seed);
  let m = box(8, 8, 8);
  for (let i = 3 + Math.floor(random() * 4); i > 0; i--) {
    const operation = random() < 0.65 ? 'subtract' : 'union';
    const at = [0, 1, 2].map(() => 8 * (random() - 0.5)) as [number, number, number];
    const turn = random() < 0.5 ? [1, 0, 0, 0, 1, 0, 0, 0, 1] : randomTurn(random);
    const body =
      random() < 0.5
        ? box(1.5 + 4 * random(), 1.5 + 4 * random(), 1.5 + 4 * random())
        : cylinder(0.8 + 1.8 * random(), 4 + 6 * random(), 12 + Math.floor(16 * random()));
    const affine = [
      ...turn.slice(0, 3),
      at[0],
      ...turn.slice(3, 6),
      at[1],
      ...turn.slice(6, 9),
      at[2],
    ] as unknown as Affine;
    const next = carve(m, { cutters: [transformMesh(body, affine)], operation }).mesh;
    if (faceCount(next)) m = next;
  }
  return m;
}

/**
 * `npm run suite -- bevels [chains] [seed]`: bodies of random cuts, all sharp edges bevelled at shares of the headroom
 * and past it.
 */
export function bevelSuite(chains: number, seed: number): void {
  console.log(`bevels: ${chains} chains, seed ${seed}`);
  let [tries, bad] = [0, 0];
  const t0 = performance.now();
  for (let i = 0; i < chains; i++) {
    const m = randomChain(seed + i);
    const edges = sharpEdges(m, ANGLE);
    if (!edges.length) continue;
    for (const segments of [1, 3]) {
      const room = bevelHeadroom(m, edges, { ...WISH, width: 0.1, segments }, undefined, 'least')[0]!.headroom;
      for (const k of [0.5, 0.95, 1.1, 3]) {
        tries++;
        let what: string;
        try {
          what = wrong(
            bevel(m, { edges, ...WISH, segments, width: k * room, past: k > 1 ? 'narrow' : 'stop' }).mesh,
            m,
          );
        } catch (e) {
          what = e instanceof Error ? e.message : String(e);
        }
        if (!what) continue;
        bad++;
        console.log(`  chain ${seed + i}, ${segments} segments, ${k} of ${room.toPrecision(4)}: ${what}`);
      }
    }
  }
  console.log(`  ${tries} bevels, ${bad} wrong; ${((performance.now() - t0) / 1000).toFixed(1)} s`);
}
