import { add, AXES, MasonError, sub, unit, vertexPlace, type PolyMesh, type Vec3 } from '../../mesh/index.ts';
import * as mends from '../../mend/index.ts';
import { intoFaces, onFace } from './grips.ts';
import { strokeKind, verticesOf, type StrokeResult } from './strokeKinds.ts';
import { seamOrFace, twoBoundaries } from './trial.ts';

/** Strokes that raise, move and shape. */
export const RAISING_KINDS = {
  inset: strokeKind('inset', {
    trial: {
      settings: ({ one, some }) => ({
        most: one(true, false),
        distance: some / 4,
        group: one(true, false),
        depth: one(0, some / 8),
      }),
    },
    op(m, ids, p) {
      const {
        mesh,
        report: { distance, room, faces: of, inner },
      } = mends.inset(m, { faces: ids, ...p });
      return {
        mesh,
        counts: { distance, faces: of, ...(Number.isFinite(room) && { room }) },
        made: { on: 'face', ids: inner },
      };
    },
    grips: (m, ids, p, _on, { room }) => [
      ...(p.most ? [] : intoFaces(m, p.group ? mends.connectedFaces(m, ids)[0]! : ids.slice(0, 1), 'distance')).map(
        (g) => ({ ...g, most: room }),
      ),
      onFace(m, ids[0]!, 'depth'),
    ],
  }),
  extrude: strokeKind('extrude', {
    trial: {
      settings: ({ one, some }) => ({
        distance: one(-1, 1) * some,
        along: one('normal', 'x', 'z'),
        group: one(true, false),
        back: one(true, false),
      }),
    },
    op(m, ids, p, _on, env) {
      const {
        mesh,
        report: { walls },
      } = mends.extrude(m, { faces: ids, ...p, course: env.course });
      return { mesh, counts: { walls, faces: ids.length }, made: { on: 'face', ids: [...ids] } };
    },
    grips: (m, ids, p) => [onFace(m, ids[0]!, 'distance', p.along === 'normal' ? undefined : AXES[p.along])],
  }),
  detach: strokeKind('detach', {
    trial: {
      opens: true,
    },
    op(m, ids) {
      const {
        mesh,
        report: { opened },
      } = mends.detach(m, { faces: ids });
      return { mesh, counts: { opened, faces: ids.length }, made: { on: 'face', ids: [...ids] } };
    },
  }),
  move: strokeKind('move', {
    trial: {
      settings: ({ one, some }) => ({
        by: [some / 8, -some / 8, some / 9],
        normal: one(0, some / 9),
        edge: one(0, some / 9),
        turn: [one(0, 5), 0, 0],
        soft: one(0, some),
      }),
    },
    op(m, ids, p, on) {
      const list = verticesOf(m, on, ids);
      const box = boxOf(list.map((v) => vertexPlace(m, v)));
      const way = p.edge ? firstWay(m, list) : ([0, 0, 0] as const);
      const by = add(p.by, way, p.edge);
      const {
        mesh,
        report: { moved },
      } = mends.moveVertices(m, { vertices: list, ...p, by, about: p.about === 'origin' ? [0, 0, 0] : null });
      return { mesh, counts: { moved }, box, lines: reachOf(box.middle, p.soft) };
    },
  }),
  shapeRun: strokeKind('shapeRun', {
    trial: {
      picks: (m, { random }) => (random() < 0.7 ? seamOrFace(m, random) : null),
      settings: ({ one }) => ({
        into: one('round', 'even', 'flat', 'straight'),
        along: one('own', 'x'),
        even: one(true, false),
      }),
    },
    op(m, ids, p) {
      const {
        mesh,
        report: { runs, furthest },
      } = mends.shapeLoops(m, { edges: ids, ...p, shape: p.into });
      return { mesh, counts: { runs, furthest } };
    },
  }),
  match: strokeKind('match', {
    trial: { picks: twoBoundaries },
    op(m, ids) {
      const runs = mends.chainsOf(m, ids);
      // The run that was picked first is turned to the other.
      if (runs.length !== 2)
        throw new MasonError('bad-input', `Pick two closed runs, the one to turn first (${runs.length} picked).`);
      return {
        mesh: mends.matchLoop(m, { run: runs[0]!, other: runs[1]! }).mesh,
        counts: { corners: runs[0]!.vertices.length },
      };
    },
  }),
  align: strokeKind('align', {
    trial: {
      settings: ({ one }) => ({ to: one('axis', 'plane', 'line'), axis: one('x', 'y', 'z') }),
    },
    op(m, ids, p, on) {
      const list = verticesOf(m, on, ids);
      const to: mends.AlignTo =
        p.to === 'axis'
          ? { axis: p.axis, at: p.own ? null : p.at }
          : p.to === 'line'
            ? { line: firstEnds(m, list) }
            : { plane: mends.firstPlane(list.map((v) => vertexPlace(m, v))) };
      return { mesh: mends.alignVertices(m, { vertices: list, to }).mesh, counts: { moved: list.length } };
    },
  }),
} as const;

/** The middle that they are turned about, and how far they reach. */
function boxOf(points: readonly Vec3[]): NonNullable<StrokeResult['box']> {
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
    throw new MasonError('bad-input', 'One vertex gives no direction. Pick an edge, or two vertices in order.');
  return [vertexPlace(m, list[0]!), vertexPlace(m, list[1]!)];
}
const firstWay = (m: PolyMesh, list: readonly number[]): Vec3 => {
  const [a, b] = firstEnds(m, list);
  return unit(sub(b, a));
};

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
