import {
  faceAreas,
  faceBegin,
  faceCount,
  faceEnd,
  faceNormals,
  FlatFace,
  hasNoArea,
  partOf,
  risingOnly,
  sizeOf,
  topologyOf,
  type OpContext,
  type OpResult,
  type PolyMesh,
  pairsThatMeet,
  vertexCount,
} from '../../mesh/index.ts';
import { divided } from './divided.ts';
import { laidOut } from './laidFaces.ts';
import { cornerAngle } from './flatMesh.ts';
import { gatheredRims, type GatheredRims } from '../gatherRims.ts';
import { rimLots } from './rows/rimLots.ts';
import { softBetween } from './spread.ts';
import { pairTriangles } from './pairTriangles.ts';
import { QUAD_DEFAULTS, type QuadOptions, type QuadReport, type QuadWish } from './quadReport.ts';

/**
 * Lays n-gons and faces with holes out in quads. New vertices lie on the faces, and on edges where these are split; no
 * vertex moves. Splits run along strips of plain quads; odd faces are joined by them in pairs, so that no triangle is
 * needed on a closed part (a mesh of quads has an even number of edges round every region). Faces are laid out one by
 * one by `quadFace`.
 *
 * @example
 * const { mesh: plate } = carve(box(100, 60, 20), { cutters: [cylinder(8, 40, 24)], operation: 'subtract' });
 * const { mesh, report } = toQuads(plate, { goal: 'shape' });
 */
export function toQuads(m: PolyMesh, options: QuadOptions, ctx?: OpContext): OpResult<QuadReport> {
  const { wanted = () => true, ...how } = { ...QUAD_DEFAULTS, ...options };
  how.memory?.begin();
  const rising = risingOnly(ctx);
  const whole = { mesh: m, of: (f: number) => f, gathered: 0, changed: new Set<number>() };
  if (!how.gather) return withRows(asQuads(whole, wanted, how, null, rising)!, how.density);
  // Lots of rows gather their rims by themselves. Where that leaves no layout, it is done before.
  const failed = new Set<number>();
  const gathered = () => gatheredRims(m, creases(m, wanted, failed), wanted);
  const made = asQuads(gathered(), wanted, how, failed, rising) ?? asQuads(gathered(), wanted, how, null, rising)!;
  return withRows(made, how.density);
}

/** Faces laid out in quads, and which of them are of those that were wanted. */
interface Made extends OpResult<QuadReport> {
  wanted: (f: number) => boolean;
}

/** With rows of long edges divided, for a length of edges (mm) above 0. */
function withRows({ mesh, report, wanted }: Made, density: number): OpResult<QuadReport> {
  if (!(density > 0)) return { mesh, report };
  const rows = divided(mesh, wanted, density);
  return {
    mesh: rows.mesh,
    report: { ...report, divided: rows.added, split: report.split + rows.split },
  };
}

/**
 * As `toQuads`, with the rims gathered that are to be before. Where lots of rows find no layout it stops, and adds
 * their faces to `failed`, if given.
 */
function asQuads(
  rims: Pick<GatheredRims, 'mesh' | 'of' | 'gathered' | 'changed'>,
  isWanted: (f: number) => boolean,
  how: QuadWish,
  failed: Set<number> | null,
  rising: OpContext | undefined,
): Made | null {
  const whole = rims.mesh;
  const wanted = (f: number) => isWanted(rims.of(f));
  /** Facets that are not laid out along their rows, and those that are not joined with others either. */
  const rowless = new Set<number>();
  const apart = new Set<number>();
  const reach = how.all ? wanted : besideOthers(whole, wanted);
  const unpaired = new Set<number>();
  /** Faces that are filled with triangles in pairs, and those that stay as they are, as nothing better is sound. */
  const [plain, staying] = [new Set<number>(), new Set<number>()];
  for (let round = 1; ; round++) {
    const first = pairTriangles(whole, (f) => how.pairs > 0 && reach(f) && !unpaired.has(f), how.pairs);
    const of = (f: number): number => first.of[f]!;
    const { mesh, report, lots, origins, anew, ...missed } = laidOut(
      first.mesh,
      {
        wanted: (f) => wanted(of(f)) && !staying.has(of(f)),
        rowless: (f) => rowless.has(of(f)),
        apart: (f) => apart.has(of(f)),
        plain: (f) => plain.has(of(f)),
        uneven: (f) => rims.changed.has(of(f)) && !isSquare(first.mesh, f),
      },
      how,
      partOf(rising, 0, LAYING),
    );
    // Facets that found no layout as one are laid out one by one: a bent face must not stay.
    for (const f of missed.rowless) {
      rowless.add(of(f));
      failed?.add(rims.of(of(f)));
    }
    if (failed?.size) return null;
    for (const f of missed.failed) apart.add(of(f));
    if (missed.rowless.length || missed.failed.length) continue;
    const done: Made = {
      mesh,
      report: { ...report, gathered: report.gathered + rims.gathered, paired: 2 * first.pairs.size },
      wanted: (f) => wanted(of(origins[f]!)),
    };
    if (round > MOST_PARTED) return done;
    // Nor must what was joined or laid out cut through something else: quads leave the surface where it bends.
    let changed = false;
    const size = sizeOf(mesh);
    const areas = faceAreas(mesh);
    const flat = [...areas.keys()].filter((f) => anew.has(origins[f]!) && hasNoArea(mesh, f, areas[f]!, size));
    const isNew = (f: number) => anew.has(origins[f]!) || first.pairs.has(of(origins[f]!));
    for (const f of [...flat, ...pairsThatMeet(mesh, { wanted: isNew, ctx: partOf(rising, LAYING, 1) }).flat()]) {
      const lot = lots.get(origins[f]!) ?? [origins[f]!];
      for (const g of lot.map(of)) {
        const second = first.pairs.get(g);
        if (!rowless.has(g) && lot.length > 1) {
          rowless.add(g);
          changed = true;
        } else if (lot.length > 1 && !apart.has(g)) {
          apart.add(g);
          changed = true;
        } else if (second !== undefined && !unpaired.has(g)) {
          unpaired.add(g).add(second);
          changed = true;
        } else if (anew.has(origins[f]!) && !staying.has(g)) {
          (plain.has(g) ? staying : plain).add(g);
          changed = true;
        }
      }
    }
    if (!changed) return done;
  }
}

/**
 * Corners of edges at which a surface ends, with wanted faces on both sides, but for those of lots of rows that have not
 * failed.
 */
function creases(m: PolyMesh, wanted: (f: number) => boolean, failed: ReadonlySet<number>): number[] {
  const t = topologyOf(m);
  const inLots = new Set(rimLots(m, wanted).flatMap(({ facets }) => (facets.some((f) => failed.has(f)) ? [] : facets)));
  const soft = softBetween(m, faceNormals(m));
  return [...t.edgeCorner].filter((c) => {
    const o = t.opposite[c]!;
    const beside = [t.face[c]!, t.face[o]!];
    return o >= 0 && !soft(c) && beside.every((f) => wanted(f) && !inLots.has(f));
  });
}

/** Corners of a quad that is one of rows and columns are between these, degrees. */
const [SHARP, BLUNT] = [40, 140];

/** Whether a face is a quad as one of rows and columns is. */
function isSquare(m: PolyMesh, f: number): boolean {
  const ring = new FlatFace(m, f);
  const places = ring.boundaries[0]!.map((c) => ring.at(c));
  if (ring.boundaries.length > 1 || places.length !== 4) return false;
  return places.every((p, i) => {
    const angle = cornerAngle(places[(i + 3) % 4]!, p, places[(i + 1) % 4]!);
    return angle > SHARP && angle < BLUNT;
  });
}

/** Share of the work that laying out is; the rest looks for faces that meet. */
const LAYING = 0.9;
/** Rounds of taking apart what was joined and then cut through something. */
const MOST_PARTED = 8;

/**
 * The wanted faces that touch one with more than four sides or with holes. Where there are none: all, if most are
 * triangles; a few among quads are meant, such as those round the tip of a ball.
 */
function besideOthers(m: PolyMesh, wanted: (f: number) => boolean): (f: number) => boolean {
  const touched = new Uint8Array(vertexCount(m));
  let any = false;
  let [triangles, count] = [0, 0];
  const isOther = (f: number) => m.faceLoops[f + 1]! - m.faceLoops[f]! > 1 || faceEnd(m, f) - faceBegin(m, f) > 4;
  for (let f = 0; f < faceCount(m); f++) {
    if (!wanted(f)) continue;
    count++;
    if (faceEnd(m, f) - faceBegin(m, f) === 3) triangles++;
    if (!isOther(f)) continue;
    any = true;
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) touched[m.corners[c]!] = 1;
  }
  if (!any) return triangles > count / 2 ? wanted : () => false;
  return (f) => {
    if (!wanted(f)) return false;
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) if (touched[m.corners[c]!]) return true;
    return false;
  };
}
