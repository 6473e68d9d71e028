import {
  checkCancelled,
  faceAreas,
  faceBend,
  faceNormals,
  faceCount,
  sizeOf,
  type NewCorner,
  type OpContext,
  type PolyMesh,
  vertexCorners,
  vertexPlace,
} from '../../mesh/index.ts';
import { corner, MeshEdit } from '../meshEdit.ts';
import { between } from '../split.ts';
import { evenly, gridded } from './gridded.ts';
import { newFaces, tell } from './newFaces.ts';
import { askForSplits, drawnOn, flatRings, layOutOf } from './faceSplits.ts';
import { isConvex } from './pairs.ts';
import { lineFaces, type FlatSeen } from './lines/lineFaces.ts';
import type { LineLayout } from './lines/lineLayout.ts';
import type { QuadLayout } from './quadFace.ts';
import type { QuadReport, QuadWish } from './quadReport.ts';
import { joinRows, type RowLot } from './rows/joinRows.ts';
import { isRounded, joinOddFaces, stripsOf, type FaceRole, type Strip } from './quadStrips.ts';
import { joinFacets, softBetween, spreadOut } from './spread.ts';

/** Faces with fewer sides (of all boundaries) than this are not laid out by lines. */
const LEAST_SIDES = 8;
/** A quad that is split as a grid bends by no more than this share of the side of a square as large. */
const MAY_BEND = 0.02;
/** Share of the work that laying out by lines is. */
const LINED = 0.5;

/**
 * Faces that are laid out; of them those that are not laid out along their rows, those that are not joined with others
 * either, those that are filled plainly, and those of three or four sides that are laid out with others all the same.
 */
export interface Which {
  wanted: (f: number) => boolean;
  rowless: (f: number) => boolean;
  apart: (f: number) => boolean;
  plain: (f: number) => boolean;
  uneven: (f: number) => boolean;
}

export interface Laid {
  mesh: PolyMesh;
  report: QuadReport;
  /** By a number in `origins` the facets that were joined; and of each face which face of before, or lot, it is of. */
  lots: ReadonlyMap<number, readonly number[]>;
  origins: Int32Array;
  /** Those of them that were laid out. */
  anew: ReadonlySet<number>;
  /** Facets that were joined and found no layout; those of lots of rows by themselves: then nothing is laid out. */
  failed: readonly number[];
  rowless: readonly number[];
}

/** As `toQuads`, once; reports joined facets that found no layout. */
export function laidOut(before: PolyMesh, which: Which, { memory, ...options }: QuadWish, ctx?: OpContext): Laid {
  const rows = joinRows(before, (f) => options.split && which.wanted(f) && !which.rowless(f), options.gather);
  const bent = joinFacets(
    rows.mesh,
    (f) => which.wanted(rows.of[f]!),
    (f) => rows.lots.has(f) || which.apart(rows.of[f]!),
    (f) => which.uneven(rows.of[f]!),
  );
  const m = bent.mesh;
  /** For each face: the earlier face that it is, or the first of its lot; and the lots by these faces. */
  const of = bent.of.map((f) => rows.of[f]!);
  const lots = new Map<number, readonly number[]>(
    [...bent.lots].map(([f, facets]) => [of[f]!, facets.map((g) => rows.of[g]!)]),
  );
  const rowLots = new Map<number, RowLot>();
  bent.of.forEach((g, f) => {
    const lot = rows.lots.get(g);
    if (!lot) return;
    rowLots.set(f, lot);
    lots.set(of[f]!, lot.facets);
  });
  const isWanted = (f: number) => which.wanted(of[f]!);
  const report: QuadReport = {
    faces: 0,
    quads: 0,
    triangles: 0,
    divided: 0,
    left: 0,
    paired: 0,
    split: 0,
    rounded: 0,
    gathered: rows.gathered,
    mirrored: 0,
    even: 0,
    along: 0,
    inner: 0,
    sharpest: 180,
    poles: 0,
    places: { triangles: [], left: [], poles: [], sharpest: [] },
  };
  const size = sizeOf(m);
  const sides = (f: number) => m.loopStart[m.faceLoops[f + 1]!]! - m.loopStart[m.faceLoops[f]!]!;
  const single = (f: number) => m.faceLoops[f + 1]! - m.faceLoops[f]! === 1;
  // A quad that turns inward has no grid in it.
  const isConvexQuad = (f: number) => isConvex(flatRings(m, f).rings[0]!);
  const areas = faceAreas(m);
  const roles = Array.from({ length: faceCount(m) }, (_, f): FaceRole => {
    if (!isWanted(f) || (single(f) && sides(f) < 4)) return 'stays';
    if (!single(f) || sides(f) !== 4 || !isConvexQuad(f)) return 'anew';
    // A grid over a quad that bends much leaves its surface.
    return faceBend(m, f) > MAY_BEND * Math.sqrt(areas[f]!) ? 'stays' : 'quad';
  });
  const role = (f: number): FaceRole => roles[f]!;
  const anew = Array.from({ length: faceCount(m) }, (_, f) => f).filter((f) => role(f) === 'anew');
  const none = { mesh: m, report, lots, origins: of, anew: new Set<number>(), failed: [], rowless: [] };
  if (rows.undrawn.length) return { ...none, rowless: rows.undrawn };
  if (!anew.length) return none;
  const e = new MeshEdit(m);
  const t = e.topology;
  const spread = new Map(
    [...bent.lots].map(([f, facets]) => [
      f,
      spreadOut(rows.mesh, facets, (c) => e.flatPoints(f, [vertexPlace(rows.mesh, rows.mesh.corners[c]!)])[0]!),
    ]),
  );
  const flats = new Map<number, FlatSeen>(anew.map((f) => [f, flatRings(m, f)]));
  for (const [f, lot] of rowLots) {
    spread.set(f, lot.spread);
    const { face } = flats.get(f)!;
    const drawn = face.boundaries.map((loop) => loop.map((c) => lot.drawnAt(vertexPlace(m, m.corners[c]!))));
    flats.set(f, {
      face,
      rings: drawn,
      judge: layOutOf(lot.spread, options.goal, () => undefined).judge,
      ...(memory && { judgedBy: lot.spread.name() }),
    });
  }
  const round = new Set<number>();
  for (const { face, rings } of flats.values())
    face.boundaries.forEach((loop, l) =>
      loop.forEach((c, i) => {
        if (isRounded(rings[l]!, i)) round.add(t.edge[c]!);
      }),
    );
  const { strips, of: stripAt } = stripsOf(m, t, role, (e) => round.has(e));
  const stripOf = (c: number): Strip => strips[stripAt[t.edge[c]!]!]!;
  const check = () => checkCancelled(ctx);
  // Flat faces are laid out by lines where that can be done; the others have to take the places where these end.
  const isPlain = (f: number) => which.plain(of[f]!);
  const lined = options.split
    ? lineFaces(
        {
          mesh: m,
          topology: t,
          role,
          stripOf,
          goal: options.goal,
          check,
          memory,
          tell: (share) => ctx?.progress?.(LINED * share, 'Laying out quads'),
        },
        new Map(
          [...flats].filter(([f]) => rowLots.has(f) || (!spread.has(f) && !isPlain(f) && sides(f) >= LEAST_SIDES)),
        ),
      )
    : { layouts: new Map<number, LineLayout>(), places: new Map<number, number[]>() };
  const rowless = [...rowLots].flatMap(([f, lot]) => (lined.layouts.has(f) ? [] : lot.facets));
  if (rowless.length) return { ...none, rowless };
  for (const [edge, places] of lined.places) {
    const strip = strips[stripAt[edge]!]!;
    Object.assign(strip, { parts: places.length + 1, free: false });
  }
  for (const f of lined.layouts.keys()) for (const c of flats.get(f)!.face.boundaries.flat()) stripOf(c).free = false;
  if (options.split) {
    for (const [f, { face, rings }] of flats)
      if (!lined.layouts.has(f))
        askForSplits(
          face,
          drawnOn(spread.get(f), rings),
          stripOf,
          options.goal,
          layOutOf(spread.get(f), options.goal, check, memory),
        );
    for (const s of strips) if (s.free && s.parts > 1 && s.parts % 2 && !s.tried) s.parts++;
    const count = (f: number) =>
      flats
        .get(f)!
        .face.boundaries.flat()
        .reduce((s, c) => s + stripOf(c).parts, 0);
    joinOddFaces(strips, count, anew);
  }
  const added = new Map<number, number[]>();
  for (const s of strips) {
    if (s.parts < 2) continue;
    report.split += s.edges.length;
    // Where lines end on long straight edges between rounded corners no rim gets another form.
    if (s.round) report.rounded += s.edges.filter((x) => round.has(x) && !lined.places.has(x)).length;
    for (const edge of s.edges) {
      const c = t.edgeCorner[edge]!;
      const [a, b] = [e.at(m.corners[c]!), e.at(m.corners[t.next[c]!]!)];
      added.set(
        edge,
        (lined.places.get(edge) ?? evenly(s.parts)).map((share) => e.vertex(between(a, b, share))),
      );
    }
  }
  /** The corners along an edge of a face, from its own on. */
  const along = (c: number): NewCorner[] => {
    const list = added.get(t.edge[c]!) ?? [];
    const forward = m.corners[t.edgeCorner[t.edge[c]!]!] === m.corners[c];
    return [corner(m.corners[c]!, c), ...(forward ? list : [...list].reverse()).map((v) => corner(v, c))];
  };
  for (let f = 0; f < faceCount(m); f++) {
    if (role(f) === 'quad') {
      const c = m.loopStart[m.faceLoops[f]!]!;
      const runs = [0, 1, 2, 3].map((k) => along(c + k));
      if (runs.some((r) => r.length > 1)) e.replace(f, gridded(e, f, runs));
    }
  }
  const failed: number[] = [];
  anew.forEach((f, i) => {
    ctx?.progress?.(LINED + ((1 - LINED) * i) / anew.length, 'Laying out quads');
    const { face, rings } = flats.get(f)!;
    const boundaries = face.boundaries.map((loop) => loop.flatMap(along));
    const left = report.left;
    const by = layOutOf(spread.get(f), options.goal, check, memory);
    by.plain = isPlain(f);
    const lines = lined.layouts.get(f);
    const bent = spread.get(f);
    const laying = {
      face,
      boundaries,
      drawn: rowLots.has(f) ? rings : drawnOn(bent, rings),
      bent,
      lined: lines ? asQuads(lines) : null,
      goal: options.goal,
      by,
    };
    e.replace(f, newFaces(e, laying, report, size));
    if (report.left > left) failed.push(...(lots.get(of[f]!) ?? []));
  });
  ctx?.progress?.(1, 'Laying out quads');
  report.faces = anew.length;
  const mesh = e.done();
  const outlines = [...rowLots.keys()].flatMap((f) => flats.get(f)!.face.boundaries[0]!.map((c) => m.corners[c]!));
  const isPole = outlines.length ? polesOf(mesh) : () => false;
  for (const v of new Set(outlines.map((x) => e.numbers[x]!).filter(isPole))) {
    report.poles++;
    tell(report.places.poles, vertexPlace(mesh, v));
  }
  const origins = e.origins.map((f) => of[f]!);
  return { mesh, report, lots, origins, anew: new Set(anew.map((f) => of[f]!)), failed, rowless };
}

/** Which vertices are poles: other than four faces meet there, and the surface runs on all round. */
function polesOf(m: PolyMesh): (v: number) => boolean {
  const soft = softBetween(m, faceNormals(m));
  const cornersAt = vertexCorners(m);
  return (v) => {
    const corners = cornersAt(v);
    return corners.length !== 4 && corners.every((c) => soft(c));
  };
}

/** A layout by lines as one of quads. */
const asQuads = (l: LineLayout): QuadLayout => ({
  points: l.points,
  polygons: l.quads,
  mirrors: l.mirrors,
  possible: l.possible,
  triangles: 0,
  poles: l.poles.length,
  poleAt: l.poles,
  score: l.score,
});
