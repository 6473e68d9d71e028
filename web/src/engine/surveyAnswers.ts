import {
  bodySizes,
  guideOf,
  headroomOf,
  lengthRoomsOf,
  pickOf,
  resolvePick,
  type Evaluator,
  type MeshStore,
  type Part,
} from '@dusky-mason/core/courses';
import { subdivide } from '@dusky-mason/core/dress';
import { grabAt, pickAct, pickShape, stopsAlong, stopsAt } from '@dusky-mason/core/mend';
import {
  faceCount,
  MasonError,
  SpatialIndex,
  type OpContext,
  type PolyMesh,
  vertexCount,
  vertexPlace,
} from '@dusky-mason/core/mesh';
import {
  departure,
  findingData,
  findings,
  findingsCsv,
  furthestVertex,
  gaugeWall,
  heatOf,
  lookValues,
  measureFace,
  shownFinding,
  ruleOf,
  surveyCounts,
  verdict,
  wallLeft,
  type LookValues,
} from '@dusky-mason/core/survey';
import { pictureOf, pictureTransfer, withLines } from './partPictures.ts';
import type { Answer, Ask, PartState, PartVerdict, ShadingState } from './protocol.ts';

export type SurveyAsk = Extract<
  Ask,
  {
    kind:
      | 'survey'
      | 'verdict'
      | 'look'
      | 'subdivided'
      | 'compare'
      | 'measure'
      | 'wall'
      | 'gauge'
      | 'headroom'
      | 'lengthRooms'
      | 'pick'
      | 'pickOf'
      | 'resolve'
      | 'line'
      | 'grab'
      | 'report';
  }
>;

/** What the answers are made from. */
export interface Workshop {
  evaluator: Evaluator;
  store: MeshStore;
  ctx?: OpContext;
  /** The mesh of a part; throws when there is none. */
  whole(part: Part): PolyMesh;
}

/** Above this many faces distances are not measured: it would take too long. */
const MOST_COMPARED = 200_000;

type Reply = { answer: Answer; transfer?: Transferable[] };
const buffers = (...arrays: (ArrayBufferView | undefined)[]) =>
  arrays.flatMap((a) => (a ? [a.buffer as ArrayBuffer] : []));

/** What stands in the way of sending a part. */
function verdictOf(part: Part, { evaluator, store, ctx }: Workshop): PartVerdict {
  const { mesh, courses } = evaluator.evaluate(part, store, ctx);
  const problem =
    courses.find((c) => c.error)?.error?.message ?? (faceCount(mesh) ? '' : 'It has no body: its base is off.');
  const { findings: found, whole } = verdict(mesh, ctx);
  const told = found.map(({ rule, count, severity }) => ({ rule, title: ruleOf(rule).title, count, severity }));
  return { part: part.id, findings: told, whole, problem };
}

/** Answers of looking, comparing, measuring and picking. */
export function surveyAnswer(ask: SurveyAsk, shop: Workshop): Reply {
  const { evaluator, store, ctx, whole } = shop;
  switch (ask.kind) {
    case 'survey': {
      const { mesh, key } = evaluator.evaluate(ask.part, store, ctx);
      const list = findings(mesh, { deep: ask.deep }, ctx).map((f) => shownFinding(mesh, f));
      const transfer = list.flatMap((f) => buffers(f.ids, f.values, f.points, f.normals, f.reach, f.lines));
      return { answer: { kind: 'survey', key, findings: list }, transfer };
    }
    case 'verdict':
      return { answer: { kind: 'verdict', parts: ask.parts.map((p) => verdictOf(p, shop)) } };
    case 'look': {
      const { mesh, key } = evaluator.evaluate(ask.part, store);
      const look = lookValues(mesh, ask.look, guideOf(ask.part, mesh, store).normal);
      return { answer: { kind: 'look', key, ...look }, transfer: buffers(look.values, look.uvs) };
    }
    case 'subdivided': {
      const { mesh, report } = subdivide(whole(ask.part), { levels: ask.levels }, ctx);
      const picture = withLines(pictureOf(mesh), mesh, report.cage);
      const guide = guideOf(ask.part, mesh, store);
      const off = heatOf(mesh, (v, f) => guide.off(f, vertexPlace(mesh, v)));
      return {
        answer: { kind: 'subdivided', picture, faces: faceCount(mesh), off },
        transfer: [...pictureTransfer(picture), ...buffers(off.values)],
      };
    }
    case 'compare':
      return compared(ask, shop);
    case 'measure': {
      const mesh = whole(ask.part);
      if (ask.face >= faceCount(mesh)) throw new MasonError('bad-input', 'That face no longer exists. Pick again.');
      return { answer: { kind: 'measure', ...measureFace(mesh, ask.face, ask.point) } };
    }
    case 'wall': {
      const mesh = whole(ask.part);
      const { source } = mesh.layers;
      return { answer: { kind: 'wall', wall: wallLeft(mesh, (f) => source?.[3 * f + 2] === ask.course) } };
    }
    case 'headroom': {
      const course = ask.part.courses.find((c) => c.id === ask.course);
      const below = evaluator.below(ask.part, ask.course, store, ctx);
      const chains = course && below ? headroomOf(course, below, bodySizes(ask.part, store), ask.only, ctx) : null;
      return { answer: { kind: 'headroom', chains } };
    }
    case 'lengthRooms': {
      const course = ask.part.courses.find((c) => c.id === ask.course);
      const below = evaluator.below(ask.part, ask.course, store, ctx);
      const chains = course && below ? lengthRoomsOf(course, below, bodySizes(ask.part, store), ctx) : null;
      return { answer: { kind: 'lengthRooms', chains } };
    }
    case 'gauge':
      return { answer: { kind: 'gauge', gauged: gaugeWall(whole(ask.part), ask.face) } };
    case 'pick': {
      const { mesh, key } = evaluator.evaluate(ask.part, store);
      const { on, ids, face = null } = pickAct(mesh, ask.on, ask.ids, ask.act);
      const shape = pickShape(mesh, on, ids);
      return {
        answer: { kind: 'pick', key, on, ids, face, ...shape },
        transfer: buffers(ids, shape.lines, shape.points),
      };
    }
    case 'pickOf':
      return { answer: { kind: 'pickOf', pick: pickOf(whole(ask.part), ask.on, ask.ids, bodySizes(ask.part, store)) } };
    case 'line': {
      const mesh = whole(ask.part);
      const stops = ask.freehand === undefined ? stopsAt(mesh, ask.places) : stopsAlong(mesh, ask.places, ask.freehand);
      if (stops.length < 2)
        throw new MasonError(
          'bad-input',
          'The line crosses no edge: draw it over one face at least, from edge to edge.',
        );
      const edges = [...new Set(stops.map((s) => s.edge))];
      const pick = pickOf(mesh, 'edge', edges, bodySizes(ask.part, store));
      return { answer: { kind: 'line', pick, stops: stops.map((s) => [edges.indexOf(s.edge), s.share]) } };
    }
    case 'grab': {
      const mesh = whole(ask.part);
      return {
        answer: { kind: 'grab', grab: ask.face < faceCount(mesh) ? grabAt(mesh, ask.what, ask.face, ask.point) : null },
      };
    }
    case 'resolve': {
      const { ids, lost, of } = resolvePick(whole(ask.part), ask.pick, bodySizes(ask.part, store));
      return { answer: { kind: 'resolve', ids, lost: lost.length, of }, transfer: buffers(ids) };
    }
    case 'report': {
      const mesh = whole(ask.part);
      const list = findings(mesh, { deep: ask.deep });
      const data = { part: ask.part.name, counts: surveyCounts(mesh), findings: list.map((f) => findingData(mesh, f)) };
      return {
        answer: {
          kind: 'report',
          csv: findingsCsv(mesh, list),
          table: findingsCsv(mesh, list, '\t'),
          json: JSON.stringify(data, null, 1),
        },
      };
    }
  }
}

function compared(ask: Extract<Ask, { kind: 'compare' }>, { evaluator, store, ctx }: Workshop): Reply {
  const last = ask.part.courses.at(-1)!.id;
  const stateOf = (s: PartState): PolyMesh => {
    if ('kept' in s) {
      const mesh = store(s.kept);
      if (mesh) return mesh;
      throw new MasonError('bad-input', 'The kept state no longer exists. Keep the part again.');
    }
    const at = ask.part.courses.findIndex((c) => c.id === s.course);
    return evaluator.evaluate({ ...ask.part, courses: ask.part.courses.slice(0, at + 1) }, store, ctx).mesh;
  };
  const [was, is] = [stateOf(ask.before), stateOf(ask.after)];
  const picture = pictureOf(was);
  const now = 'course' in ask.after && ask.after.course === last ? null : pictureOf(is);
  const few = Math.max(faceCount(was), faceCount(is)) <= MOST_COMPARED;
  const far = (a: PolyMesh, b: PolyMesh) => (few ? furthestVertex(a, b, ctx) : null);
  const shading = (m: PolyMesh): ShadingState => {
    const { worst, samples } = departure(m, guideOf(ask.part, m, store).normal);
    return { worst: worst.angle, mean: samples.length ? samples.reduce((s, x) => s + x, 0) / samples.length : 0 };
  };
  const heat =
    few && was.corners.length && is.corners.length ? { before: offFrom(was, is), after: offFrom(is, was) } : null;
  if (heat) heat.before.max = heat.after.max = Math.max(heat.before.max, heat.after.max);
  const answer: Answer = {
    kind: 'compare',
    picture,
    now,
    before: surveyCounts(was),
    after: surveyCounts(is),
    shading: few ? { before: shading(was), after: shading(is) } : null,
    gone: far(was, is),
    come: far(is, was),
    heat,
  };
  const pictures = [picture, ...(now ? [now] : [])];
  return {
    answer,
    transfer: [...pictures.flatMap(pictureTransfer), ...buffers(heat?.before.values, heat?.after.values)],
  };
}

/** How far each vertex of a mesh is from another mesh, as a heat that begins at 0. */
function offFrom(m: PolyMesh, other: PolyMesh): LookValues {
  const index = new SpatialIndex(other);
  const far = Float64Array.from({ length: vertexCount(m) }, (_, v) => index.closest(vertexPlace(m, v))!.distance);
  return { ...heatOf(m, (v) => far[v]!), min: 0 };
}
