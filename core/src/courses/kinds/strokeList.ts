import {
  add,
  faceNormals,
  facePlane,
  MasonError,
  sizeOf,
  sub,
  unit,
  type PolyMesh,
  type Vec3,
} from '../../mesh/index.ts';
import * as mends from '../../mend/index.ts';
import { countWords } from '../base/picks.ts';
import type { StrokeName } from '../settings/strokes.ts';
import { crossesAt, BY_ITSELF } from './byThemselves.ts';
import { DRESSING_KINDS } from './dressings.ts';
import { type Mended, strokeKind, verticesOf, type StrokeKind } from './strokeKinds.ts';

const merged = ({ mesh, merged: n, longest, closed, lines }: mends.Merged): Mended => ({
  mesh,
  did: { merged: n, longest, closed },
  lines,
  heed: closed ? [`${closed} outline${closed === 1 ? '' : 's'} closed up: faces, or holes in faces.`] : [],
});
const vertices = (x: number) => countWords('vertex', x);

const AXES = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] } as const;
const plane = (axis: 'x' | 'y' | 'z', at: number): mends.Plane => ({ normal: AXES[axis], at });
const place = (m: PolyMesh, v: number): Vec3 => [m.positions[3 * v]!, m.positions[3 * v + 1]!, m.positions[3 * v + 2]!];

/** Where a loop or a split lies, as its settings say. */
const splitAt = (p: {
  by: 'share' | 'distance' | 'parts';
  share: number;
  distance: number;
  parts: number;
}): mends.SplitAt =>
  p.by === 'share'
    ? { by: 'share', share: p.share }
    : p.by === 'distance'
      ? { by: 'distance', distance: p.distance }
      : { by: 'parts', parts: p.parts };

/** Mends that bring vertices together. */
const JOINING = {
  weld: strokeKind('weld', {
    op(m, ids, p, on) {
      const r = mends.weld(m, verticesOf(m, on, ids), p);
      const out = merged(r);
      if (r.details)
        out.heed!.push(
          `${r.details} lot${r.details === 1 ? '' : 's'} reached further than the detail size${r.spared ? ' and stayed as they were' : ' and were swallowed'}.`,
        );
      return { ...out, did: { ...out.did, details: r.details, spared: r.spared } };
    },
  }),
  merge: strokeKind('merge', {
    op: (m, ids, p) => merged(mends.mergeTo(m, ids, p.where)),
  }),
  toOutline: strokeKind('toOutline', {
    op: (m, ids, p, on) => merged(mends.weldToOutline(m, verticesOf(m, on, ids), p.distance)),
  }),
  slide: strokeKind('slide', {
    op: (m, [a, b], p) => merged(mends.slideVertex(m, a!, b!, p.share)),
  }),
  dissolve: strokeKind('dissolve', {
    op(m, ids, _, on) {
      const {
        mesh,
        joined,
        vertices: gone,
      } = on === 'vertex'
        ? mends.dissolveVertices(m, ids)
        : on === 'edge'
          ? mends.dissolveEdges(m, ids)
          : mends.dissolveFaces(m, ids);
      return { mesh, did: { joined, vertices: gone } };
    },
  }),
  remove: strokeKind('remove', {
    op(m, ids, _, on) {
      const gone = on === 'face' ? new Set(ids) : mends.facesAt(m, on, ids);
      return { mesh: mends.deleteFaces(m, gone), did: { faces: gone.size } };
    },
  }),
} as const;

/** Mends that close, bridge and split. */
const SPLITTING = {
  fill: strokeKind('fill', {
    op(m, ids, p, _on, env) {
      const { mesh, filled, faces: made } = mends.fill(m, ids, p, env.course);
      return { mesh, did: { filled, faces: made } };
    },
  }),
  bridge: strokeKind('bridge', {
    op(m, ids, p, on, env) {
      const opened = on === 'face' ? mends.openedAt(m, new Set(ids)) : { mesh: m, edges: [...ids] };
      const { mesh, faces: made } = mends.bridge(opened.mesh, opened.edges, p, env.course);
      return { mesh, did: { faces: made } };
    },
  }),
  connect: strokeKind('connect', {
    op(m, ids) {
      // From each to the next: numbers change on the way, so places lead.
      const at = ids.map((v) => place(m, v));
      let mesh = m;
      let added = 0;
      for (let i = 0; i + 1 < at.length; i++) {
        const r = mends.connect(mesh, vertexAt(mesh, at[i]!), vertexAt(mesh, at[i + 1]!), faceNormals(mesh));
        mesh = r.mesh;
        added += r.added;
      }
      return { mesh, did: { edges: at.length - 1, added } };
    },
  }),
  line: strokeKind('line', {
    op(m, _ids, p, _on, _env, _ctx, each) {
      const stops = p.stops.flatMap(([i, share]) => {
        const edge = each[i];
        return edge === null || edge === undefined ? [] : [{ edge, share }];
      });
      if (stops.length < 2)
        throw new MasonError('bad-input', 'Less than two stops of the line are there any more. Draw it anew.');
      const heed =
        stops.length < p.stops.length
          ? [`${p.stops.length - stops.length} stops are not there any more: the line goes past them.`]
          : [];
      const { mesh, added, cut } = p.through
        ? { ...mends.lineThrough(m, stops, sizeOf(m)), added: 0 }
        : mends.cutLine(m, stops);
      return { mesh, did: { added, cut }, heed };
    },
  }),
  split: strokeKind('split', {
    op(m, ids, p, on) {
      const edges = on === 'edge' ? ids : edgesOfFaces(m, ids);
      const { mesh, added } = mends.splitEdges(m, edges, splitAt(p));
      return { mesh, did: { added } };
    },
  }),
  loop: strokeKind('loop', {
    op(m, ids, p) {
      const { mesh, cut } = mends.insertLoops(m, ids, splitAt(p), p);
      return { mesh, did: { cut } };
    },
  }),
  divide: strokeKind('divide', {
    op(m, ids, p) {
      const { mesh, divided } = mends.divideFaces(m, ids, p.n);
      return { mesh, did: { divided } };
    },
  }),
  tie: strokeKind('tie', {
    op(m, ids, p) {
      const { mesh, tied } = mends.tie(m, ids, p.way);
      return { mesh, did: { tied } };
    },
  }),
  moveTie: strokeKind('moveTie', {
    op: (m, [fixed, from, to]) => ({ mesh: mends.moveTie(m, fixed!, from!, to!), did: { moved: 1 } }),
  }),
} as const;

/** Mends that raise, move and shape. */
const PLACING = {
  inset: strokeKind('inset', {
    op(m, ids, p) {
      const { mesh, distance, faces: of } = mends.inset(m, ids, p);
      return { mesh, did: { distance, faces: of } };
    },
  }),
  extrude: strokeKind('extrude', {
    op(m, ids, p, _on, env) {
      const { mesh, walls } = mends.extrude(m, ids, p, env.course);
      return { mesh, did: { walls, faces: ids.length } };
    },
  }),
  detach: strokeKind('detach', {
    op(m, ids) {
      const { mesh, opened } = mends.detach(m, ids);
      return { mesh, did: { opened, faces: ids.length } };
    },
  }),
  move: strokeKind('move', {
    op(m, ids, p, on) {
      const list = verticesOf(m, on, ids);
      const box = boxOf(list.map((v) => place(m, v)));
      const way = p.edge ? firstWay(m, list) : ([0, 0, 0] as const);
      const by = add(p.by, way, p.edge);
      const { mesh, moved } = mends.moveVertices(m, list, { ...p, by, about: p.about === 'origin' ? [0, 0, 0] : null });
      return { mesh, did: { moved }, box, lines: reachOf(box.middle, p.soft) };
    },
  }),
  shapeRun: strokeKind('shapeRun', {
    op(m, ids, p) {
      const { mesh, runs, furthest } = mends.shapeLoops(m, ids, { ...p, shape: p.into });
      return { mesh, did: { runs, furthest } };
    },
  }),
  match: strokeKind('match', {
    op(m, ids) {
      const runs = mends.chainsOf(m, ids);
      // The run that was picked first is turned to the other.
      if (runs.length !== 2)
        throw new MasonError(
          'bad-input',
          `Two closed runs are wanted, the one to be turned picked first; there are ${runs.length}.`,
        );
      return { mesh: mends.matchLoop(m, runs[0]!, runs[1]!), did: { corners: runs[0]!.vertices.length } };
    },
  }),
  align: strokeKind('align', {
    op(m, ids, p, on) {
      const list = verticesOf(m, on, ids);
      const to: mends.AlignTo =
        p.to === 'axis'
          ? { axis: p.axis, at: p.own ? null : p.at }
          : p.to === 'line'
            ? { line: firstEnds(m, list) }
            : { plane: mends.firstPlane(list.map((v) => place(m, v))) };
      return { mesh: mends.alignVertices(m, list, to), did: { moved: list.length } };
    },
  }),
} as const;

/** Mends of the part as a whole. */
const WHOLE = {
  plane: strokeKind('plane', {
    op(m, ids, p, on, env) {
      const { mesh, cut, capped } = mends.cutWithPlane(m, planeOf(m, ids, p, on), sizeOf(m), p, env.course);
      return { mesh, did: { cut, capped } };
    },
  }),
  mirror: strokeKind('mirror', {
    op(m, ids, p, on) {
      const size = sizeOf(m);
      const first = p.through === 'picked' ? pickedPlane(m, ids, on) : plane(p.axis, p.at);
      const one = mends.mirrorHalf(m, first, size, p.keep, p.threshold);
      const two =
        p.through === 'picked' || p.second === 'none' || p.second === p.axis
          ? null
          : mends.mirrorHalf(one.mesh, plane(p.second, p.at), size, p.keep, p.threshold);
      const doubtful = one.doubtful + (two?.doubtful ?? 0);
      const heed = doubtful
        ? [
            `${vertices(doubtful)} face${doubtful === 1 ? 's' : ''} others across the plane within the threshold; they keep apart.`,
          ]
        : [];
      return {
        mesh: (two ?? one).mesh,
        did: { snapped: one.snapped + (two?.snapped ?? 0), furthest: Math.max(one.furthest, two?.furthest ?? 0) },
        heed,
        lines: [...one.lines, ...(two?.lines ?? [])],
      };
    },
  }),
  symmetric: strokeKind('symmetric', {
    op(m, _ids, p) {
      const r = mends.symmetrize(m, plane(p.axis, p.at), p.within);
      const heed = r.unpaired ? [`${vertices(r.unpaired)} found no partner and stayed.`] : [];
      return {
        mesh: r.mesh,
        did: { paired: r.paired, unpaired: r.unpaired, furthest: r.furthest },
        heed,
        lines: crossesAt(r.places, sizeOf(m) / 60),
      };
    },
  }),
  orient: strokeKind('orient', {
    op(m, ids, { way }) {
      const picked = new Set(ids);
      const { mesh, turned, torn } = mends.orient(m, way, (f) => picked.has(f));
      return {
        mesh,
        did: { turned, torn },
        heed: torn ? [`Across ${countWords('edge', torn)} no way round agrees: the surface is one-sided.`] : [],
      };
    },
  }),
} as const;

const SINGLE = { ...DRESSING_KINDS, ...JOINING, ...SPLITTING, ...PLACING, ...WHOLE, ...BY_ITSELF } as const;

/** Mends that are one course: each on what the one before it has come to. One that cannot be done is told of, and the others go on. */
const gathered = strokeKind('gathered', {
  op(m, _ids, { edits }, _on, env, ctx) {
    let mesh = m;
    const heed: string[] = [];
    const lines: number[] = [];
    let done = 0;
    edits.forEach((edit, i) => {
      const own = Object.hasOwn(SINGLE, edit.kind) ? SINGLE[edit.kind as keyof typeof SINGLE] : undefined;
      const kind = own as unknown as StrokeKind<StrokeName> | undefined;
      const params = kind?.schema.safeParse(edit.params);
      const called = `${edit.name} (${i + 1} of ${edits.length})`;
      if (!kind || !params?.success) return void heed.push(`${called} has settings that are not known here.`);
      try {
        const r = kind.run(ctx, mesh, params.data, env);
        mesh = r.mesh;
        done++;
        lines.push(...(r.report.lines ?? []));
        if (r.report.lost?.length) heed.push(`${called}: ${r.report.found} of ${r.report.of} picks found.`);
        heed.push(...(r.report.heed ?? []).map((h) => `${called}: ${h}`));
      } catch (e) {
        if (!(e instanceof MasonError) || e.code === 'cancelled') throw e;
        heed.push(`${called} was not done: ${e.message}`);
      }
    });
    return { mesh, did: { done, edits: edits.length }, heed, lines };
  },
});

/** Mends, each declared once. */
export const STROKE_KINDS = { ...SINGLE, gathered } as const;

/** The middle that they are turned about, and how far they reach. */
function boxOf(points: readonly Vec3[]): NonNullable<Mended['box']> {
  const side = (k: 0 | 1 | 2) =>
    points.reduce(([low, high], p) => [Math.min(low, p[k]), Math.max(high, p[k])] as const, [
      Infinity,
      -Infinity,
    ] as const);
  const size = ([0, 1, 2] as const).map((k) => side(k)[1] - side(k)[0]) as [number, number, number];
  return { middle: [...mends.middleOf(points)], size };
}

/** The first two vertices of a pick: of edges the ends of the first. */
function firstEnds(m: PolyMesh, list: readonly number[]): [Vec3, Vec3] {
  if (list.length < 2)
    throw new MasonError(
      'bad-input',
      'One vertex has no way of its own. Pick an edge, or two vertices, from the first to the second.',
    );
  return [place(m, list[0]!), place(m, list[1]!)];
}
const firstWay = (m: PolyMesh, list: readonly number[]): Vec3 => {
  const [a, b] = firstEnds(m, list);
  return unit(sub(b, a));
};

/** The vertex at a place that one was at before. */
function vertexAt(m: PolyMesh, p: Vec3): number {
  let [best, least] = [0, Infinity];
  for (let v = 0; v < m.positions.length / 3; v++) {
    const d = Math.hypot(...place(m, v).map((x, k) => x - p[k]!));
    if (d < least) [best, least] = [v, d];
  }
  return best;
}

function edgesOfFaces(m: PolyMesh, list: readonly number[]): number[] {
  const out = new Set<number>();
  for (const f of list)
    for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++) out.add(mends.edgeAt(m, c));
  return [...out];
}

interface PlaneSettings {
  through: 'axis' | 'points';
  axis: 'x' | 'y' | 'z';
  by: 'distance' | 'share';
  at: number;
  share: number;
}

/** The plane of a picked face, or through three picked vertices. */
function pickedPlane(m: PolyMesh, ids: readonly number[], on: mends.ElementKind): mends.Plane {
  if (on === 'vertex' && ids.length > 2)
    return mends.planeThroughPoints(ids.slice(0, 3).map((v) => place(m, v)) as [Vec3, Vec3, Vec3]);
  if (on !== 'face' || ids.length !== 1)
    throw new MasonError('bad-input', 'Pick one face, or three vertices, for the plane to go through.');
  const p = facePlane(m, ids[0]!);
  return { normal: [p[0]!, p[1]!, p[2]!], at: p[0]! * p[3]! + p[1]! * p[4]! + p[2]! * p[5]! };
}

/** How many strokes a circle is drawn with. */
const ROUND = 48;

/** Three circles of a radius round a place: how far a soft move reaches. */
const reachOf = (at: Vec3, radius: number): number[] =>
  radius > 0
    ? [0, 1, 2].flatMap((k) =>
        Array.from({ length: ROUND }, (_, i) =>
          [i, i + 1].flatMap((n) => {
            const a = (2 * Math.PI * n) / ROUND;
            return [0, 1, 2].map(
              (j) => at[j]! + (j === k ? 0 : radius * (j === (k + 1) % 3 ? Math.cos(a) : Math.sin(a))),
            );
          }),
        ).flat(),
      )
    : [];

/** The plane that a course says: square to an axis, or through three picked vertices. */
function planeOf(m: PolyMesh, ids: readonly number[], p: PlaneSettings, on: mends.ElementKind): mends.Plane {
  if (p.through === 'points' && on === 'vertex' && ids.length > 2)
    return mends.planeThroughPoints(ids.slice(0, 3).map((v) => place(m, v)) as [Vec3, Vec3, Vec3]);
  const k = 'xyz'.indexOf(p.axis);
  if (p.by === 'distance') return plane(p.axis, p.at);
  const xs = [...m.positions].filter((_, i) => i % 3 === k);
  const low = xs.reduce((a, b) => Math.min(a, b));
  const high = xs.reduce((a, b) => Math.max(a, b));
  return plane(p.axis, low + p.share * (high - low));
}
