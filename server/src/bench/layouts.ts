import { CUT_SET, markCut } from '@dusky-mason/core/carve/suite';
import { carve } from '@dusky-mason/core/carve';
import { Evaluator, STROKE_NAMES, type Part } from '@dusky-mason/core/courses';
import { skerryLight } from '@dusky-mason/core/demo';
import { LayoutMemory, QUAD_GOALS, toQuads, type QuadGoal } from '@dusky-mason/core/mend';
import { faceCount, transformMesh, type PolyMesh } from '@dusky-mason/core/mesh';
import {
  ballFromPatches,
  ballFromRings,
  cone,
  cylinder,
  prism,
  rectangleOutline,
  sheet,
  torus,
  tube,
  type Point2,
} from '@dusky-mason/core/shapes';
import { surfaceDrift } from '@dusky-mason/core/survey';
import { timed } from './timing.ts';

/** A part to be laid out, and how long it took to cut it, ms. */
interface Made {
  name: string;
  mesh: PolyMesh;
  cut: number;
}

const circle = (n: number, r: number, x = 0, y = 0): Point2[] =>
  Array.from({ length: n }, (_, i): Point2 => {
    const turn = (2 * Math.PI * i) / n;
    return [x + r * Math.cos(turn), y + r * Math.sin(turn)];
  });

/** Prisms of flat faces with holes: their layout is that of the faces, with what the walls between make of it. */
function flatFaces(): Made[] {
  const plate = rectangleOutline(300, 200);
  const faces: Record<string, { points: Point2[]; holes?: Point2[][] }> = {
    'plate, hole of 32': { points: plate, holes: [circle(32, 50)] },
    'plate, hole of 32 aside': { points: plate, holes: [circle(32, 40, -60, 20)] },
    'plate, hole of 64': { points: plate, holes: [circle(64, 50)] },
    'strip, ten holes': {
      points: rectangleOutline(1000, 60),
      holes: Array.from({ length: 10 }, (_, i) => circle(16, 10, -450 + 100 * i)),
    },
    'plate, twelve holes': {
      points: rectangleOutline(400, 300),
      holes: Array.from({ length: 12 }, (_, i) => circle(16, 25, -150 + 100 * (i % 4), -100 + 100 * Math.floor(i / 4))),
    },
    'flange, ten holes': {
      points: circle(96, 100),
      holes: [circle(64, 50), ...circle(10, 75).map(([x, y]) => circle(16, 8, x, y))],
    },
    disc: { points: circle(48, 50) },
    'rounded plate': { points: rectangleOutline(80, 40, 12, 6) },
  };
  return Object.entries(faces).map(([name, outline]) => ({ name, mesh: prism(outline, 20), cut: 0 }));
}

/** A cutter laid along x, its middle at a distance. */
const alongX = (m: PolyMesh, x: number): PolyMesh => transformMesh(m, [0, 0, 1, x, 0, 1, 0, 0, -1, 0, 0, 0]);

/** Round and bent bodies, each with a hole. */
function bentBodies(): Made[] {
  const hole = (r: number, n: number, x: number) => alongX(cylinder(r, 60, n), x);
  const pairs: Record<string, [PolyMesh, PolyMesh]> = {
    'hole in a cylinder': [cylinder(30, 60, 48), hole(12, 24, 30)],
    'hole in a cylinder of rows': [cylinder(30, 60, 32, 8), hole(12, 24, 30)],
    'hole in a tube': [tube(30, 24, 60, 48), hole(8, 16, 30)],
    'hole in a cone': [cone(30, 15, 60, 48), hole(8, 24, 25)],
    'hole in a ball of patches': [ballFromPatches(40, 12), hole(12, 24, 40)],
    'hole in a ball of rings': [ballFromRings(40, 32, 16), hole(12, 24, 40)],
    'hole in a ring': [torus(40, 14, 48, 24), hole(6, 16, 50)],
    'hole in a sheet': [sheet(60, 60, [6, 6]), cylinder(12, 20, 16)],
  };
  return Object.entries(pairs).map(([name, [part, cutter]]) => {
    let mesh = part;
    const cut = timed(() => (mesh = carve(part, { cutters: [cutter], operation: 'subtract', course: 2 }).mesh));
    return { name, mesh, cut };
  });
}

/** The parts of the sample as their cuts leave them. */
function sampleParts(): Made[] {
  return skerryLight().parts.map((part) => {
    const isStroke = (kind: string) => STROKE_NAMES.some((name) => name === kind);
    const cuts: Part = { ...part, courses: part.courses.filter((c) => !isStroke(c.kind)) };
    let mesh: PolyMesh | undefined;
    const cut = timed(() => (mesh = new Evaluator().evaluate(cuts, () => undefined).mesh));
    return { name: part.name, mesh: mesh!, cut };
  });
}

function everydayCuts(): Made[] {
  return Object.entries(CUT_SET).map(([name, make]) => {
    const given = make();
    let mesh: PolyMesh | undefined;
    const cut = timed(() => (mesh = markCut(given).mesh));
    return { name, mesh: mesh!, cut };
  });
}

/**
 * `npm run bench -- layout [goal]`: flat faces, round and bent bodies, the sample and the everyday cuts, laid out in
 * quads: what the layout is like, and how long it took beside the cuts that made the part. Each is laid out twice, the
 * second time counts; and again while its faces are remembered.
 */
export function layouts(goal: QuadGoal = QUAD_GOALS[0]): void {
  for (const [title, parts] of [
    ['flat faces, as prisms', flatFaces()],
    ['round and bent bodies', bentBodies()],
    ['the parts of the sample, as cut', sampleParts()],
    ['the everyday cuts', everydayCuts()],
  ] as const) {
    console.log(`${title}, laid out for: ${goal}`);
    console.table(parts.map((p) => measured(p, goal)));
  }
}

function measured({ name, mesh, cut }: Made, goal: QuadGoal): Record<string, string | number> {
  let made = toQuads(mesh, { goal });
  const ms = timed(() => (made = toQuads(mesh, { goal })));
  const memory = new LayoutMemory();
  toQuads(mesh, { goal, memory });
  const again = timed(() => toQuads(mesh, { goal, memory }));
  const { report } = made;
  return {
    part: name,
    faces: faceCount(mesh),
    after: faceCount(made.mesh),
    quads: report.quads,
    triangles: report.triangles,
    left: report.left,
    poles: report.poles,
    'sharpest °': +report.sharpest.toFixed(1),
    'aligned %': report.inner ? Math.round((100 * report.along) / report.inner) : '–',
    even: `${report.mirrored} of ${report.even}`,
    split: report.split,
    'drift mm': +(surfaceDrift(mesh, made.mesh)?.distance ?? NaN).toFixed(3),
    ms: Math.round(ms),
    'again ms': Math.round(again),
    'times the cuts': cut > 0 ? +(ms / cut).toFixed(1) : '–',
  };
}
