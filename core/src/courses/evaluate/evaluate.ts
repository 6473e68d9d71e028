import {
  emptyMesh,
  faceCount,
  hashText,
  MasonError,
  sentenceOf,
  type OpContext,
  type Place,
  type PolyMesh,
} from '../../mesh/index.ts';
import type { BodySizes } from '../base/picks.ts';
import { type MeshStore, shapeMesh } from '../base/shapeMesh.ts';
import { Shape } from '../base/shapeSpec.ts';
import { guideOf } from '../cutters/guide.ts';
import type { Course, Part } from '../document/document.ts';
import type { CourseKind, CourseReport } from '../kinds/courseKind.ts';
import { type CourseEnv, CourseMemory } from '../kinds/env.ts';
import { COURSE_KINDS } from '../kinds/kinds.ts';

/** Status of a course. */
export interface CourseResult {
  id: number;
  state: 'done' | 'off' | 'failed';
  report: CourseReport;
  /** Time of its last run, ms: not counted when the result was found again. */
  ms: number;
  found: boolean;
  error?: { code: string; message: string; place: Place };
}

export interface PartResult {
  mesh: PolyMesh;
  /** Names the mesh: equal keys are equal meshes. */
  key: string;
  courses: CourseResult[];
  /** Time of this evaluation, ms. */
  ms: number;
}

/** Most parts that may be linked in a row. */
const MOST_LINKED = 100;

interface Entry {
  course: number;
  mesh: PolyMesh;
  report: CourseReport;
  ms: number;
}

/** Whether a cutter that is moved belongs to a course; or the course is a bevel and the number its own. */
const movesIn = (course: Course, moving: number): boolean =>
  course.kind === 'cut'
    ? course.params.cutters.some((c) => c.id === moving)
    : (course.kind === 'bevel' || course.kind === 'finish') && course.id === moving;

/** How many faces each of a part's own shapes has, by the number of its body; counted when it is asked for. */
export function bodySizes(part: Part, store: MeshStore): BodySizes {
  const known = new Map<number, number>();
  return (body) => {
    if (known.has(body)) return known.get(body);
    for (const c of part.courses) {
      const shape =
        c.kind === 'shape'
          ? c.id === body
            ? c.params.shape
            : undefined
          : c.kind === 'cut'
            ? c.params.cutters.find((k) => k.id === body)?.shape
            : undefined;
      if (!shape) continue;
      const n = faceCount(shapeMesh(shape, store));
      known.set(body, n);
      return n;
    }
    return undefined;
  };
}

/** Results kept per course: enough to go back and forth between a few settings, and no more after a drag. */
const KEPT_OF_COURSE = 6;
/** Number of courses that keep a memory of their last run; the least recently used are dropped. */
const MOST_MEMORIES = 64;
/** Most corners that the kept results may have in all: about half a gigabyte with layers and topology. */
const MOST_CORNERS = 8_000_000;

/**
 * Evaluates parts course by course and keeps each result under a key made of the input's key and the settings, so that
 * a change recomputes its own course and those above it. The results used least lately are let go first.
 */
export class Evaluator {
  private readonly kept = new Map<string, Entry>();
  private corners = 0;
  /** The parts of the project that cutters may be linked to. */
  parts: readonly Part[] = [];
  private readonly memories = new Map<number, CourseMemory>();

  constructor(private readonly now: () => number = () => performance.now()) {}

  /**
   * Climbs the wall. A course that fails says why in its result, and the part goes on as it was below that course.
   * Throws only when cancelled. `before` is called with the course that is about to run. While a cutter is `moving`
   * (its number), or the width of a bevel (the number of its course), only the picture counts: faces may come in
   * another order than at rest; such results are kept apart from the others.
   */
  evaluate(
    part: Part,
    store: MeshStore,
    ctx?: OpContext,
    before?: (course: Course) => void,
    moving?: number,
  ): PartResult {
    const linked = this.linked(part, store, ctx);
    return this.climb(linked.part, linked.store, ctx, before, moving);
  }

  /**
   * The part with the meshes of other parts in place of the base and the cutters that are linked to them, and a store
   * that has these. Its key includes their results, so that a change of the one is a change of the other. A link that
   * leads nowhere, or back to the part, stays as it is, and its course fails. Throws `bad-input` where more than
   * `MOST_LINKED` follow each other.
   */
  linked(part: Part, store: MeshStore, ctx?: OpContext): { part: Part; store: MeshStore } {
    const found = new Map<string, PolyMesh>();
    const link = (p: Part, chain: readonly number[]): Part => ({
      ...p,
      courses: p.courses.map((course): Course => {
        if (course.kind === 'shape') {
          const shape = resolve(course.params.shape, chain);
          return shape === course.params.shape ? course : { ...course, params: { ...course.params, shape } };
        }
        if (course.kind !== 'cut' || !course.params.cutters.some((c) => c.shape.kind === 'part')) return course;
        const cutters = course.params.cutters.map((c) => ({ ...c, shape: resolve(c.shape, chain) }));
        return { ...course, params: { ...course.params, cutters } };
      }),
    });
    const resolve = (shape: Shape, chain: readonly number[]): Shape => {
      const other = shape.kind === 'part' ? this.parts.find((p) => p.id === shape.part) : undefined;
      if (!other || chain.includes(other.id)) return shape;
      if (chain.length > MOST_LINKED)
        throw new MasonError(
          'bad-input',
          `More than ${MOST_LINKED} parts are linked in a row. Freeze one of them, or link fewer.`,
        );
      const { mesh, key } = this.climb(link(other, [...chain, other.id]), withFound, ctx);
      if (!mesh.corners.length) return shape;
      found.set(key, mesh);
      const { pivot, pivotAt } = shape;
      return { kind: 'mesh', hash: key, title: other.name, closed: false, turned: false, pivot, pivotAt };
    };
    const withFound: MeshStore = (hash) => found.get(hash) ?? store(hash);
    return { part: link(part, [part.id]), store: withFound };
  }

  private climb(
    part: Part,
    store: MeshStore,
    ctx?: OpContext,
    before?: (course: Course) => void,
    moving?: number,
  ): PartResult {
    const t0 = this.now();
    let mesh: PolyMesh | null = null;
    let key = 'part';
    const bodies = bodySizes(part, store);
    const courses = part.courses.map((course): CourseResult => {
      const result: CourseResult = { id: course.id, state: 'off', report: {}, ms: 0, found: false };
      if (!course.on) return result;
      const moves = moving !== undefined && movesIn(course, moving);
      const next = hashText(`${key}|${course.kind}|${course.id}|${JSON.stringify(course.params)}|${moves}`);
      const memory = this.memoryOf(course.id);
      if (!moves) memory.rest();
      try {
        const { entry, found } = this.run(
          next,
          course,
          mesh,
          {
            store,
            course: course.id,
            bodies,
            memory,
            guide: (m) => guideOf(part, m, store),
            moving: moves ? moving : undefined,
          },
          ctx,
          before,
        );
        mesh = entry.mesh;
        key = next;
        return { ...result, state: 'done', report: entry.report, ms: entry.ms, found };
      } catch (e) {
        if (e instanceof MasonError && e.code === 'cancelled') throw e;
        const error =
          e instanceof MasonError
            ? { code: e.code, message: e.message, place: e.place }
            : {
                code: 'internal',
                message: `This course stopped. ${sentenceOf(e)} The part is as it was below.`,
                place: {},
              };
        return { ...result, state: 'failed', error };
      }
    });
    return { mesh: mesh ?? emptyMesh(), key, courses, ms: this.now() - t0 };
  }

  /** The mesh that a course works on: the state below it, found again if evaluated before. Null where there is none. */
  below(part: Part, courseId: number, store: MeshStore, ctx?: OpContext): PolyMesh | null {
    const at = part.courses.findIndex((c) => c.id === courseId);
    if (at <= 0) return null;
    const { mesh } = this.evaluate({ ...part, courses: part.courses.slice(0, at) }, store, ctx);
    return mesh.corners.length ? mesh : null;
  }

  private memoryOf(course: number): CourseMemory {
    const memory = this.memories.get(course) ?? new CourseMemory();
    this.memories.delete(course);
    this.memories.set(course, memory);
    if (this.memories.size > MOST_MEMORIES) this.memories.delete(this.memories.keys().next().value!);
    return memory;
  }

  private run(
    key: string,
    course: Course,
    input: PolyMesh | null,
    env: CourseEnv,
    ctx: OpContext | undefined,
    before: ((course: Course) => void) | undefined,
  ): { entry: Entry; found: boolean } {
    const known = this.kept.get(key);
    if (known) {
      this.kept.delete(key);
      this.kept.set(key, known);
      return { entry: known, found: true };
    }
    if (course.kind !== 'shape' && !input)
      throw new MasonError('bad-input', 'There is nothing below to work on: the base is off or has failed.');
    before?.(course);
    const t0 = this.now();
    const kind = COURSE_KINDS[course.kind] as CourseKind<Course['params']>;
    const { mesh, report } = kind.run(ctx, input, course.params, env);
    const entry: Entry = { course: course.id, mesh, report, ms: this.now() - t0 };
    this.kept.set(key, entry);
    this.corners += mesh.corners.length;
    this.letGo(key, course.id);
    return { entry, found: false };
  }

  /** Drops the least recently used results: of this course above its share, and of all courses above the limit. */
  private letGo(key: string, course: number): void {
    let own = 0;
    for (const e of this.kept.values()) if (e.course === course) own++;
    for (const [old, e] of this.kept) {
      if (old === key) continue;
      const tooMany = e.course === course && own > KEPT_OF_COURSE;
      if (!tooMany && this.corners <= MOST_CORNERS) continue;
      if (e.course === course) own--;
      this.kept.delete(old);
      this.corners -= e.mesh.corners.length;
    }
  }
}
