import type { z } from 'zod';
import { carve, isSolid, trust, type CarveReport } from '../carve/index.ts';
import {
  isClosed,
  placementAffine,
  transformMesh,
  withSlot,
  withSource,
  type OpContext,
  type PolyMesh,
} from '../mesh/index.ts';
import { formatLength, type LengthUnit } from '../units/index.ts';
import { CutParams, ShapeParams, type Cutter } from './document.ts';
import { shapeMesh, shapeSize, shapeTitle, type MeshStore, type Shape } from './shapeSpec.ts';

/** What a course's run is given beside its input and its settings. */
export interface CourseEnv {
  store: MeshStore;
  /** The number of the course: what it makes is marked with it. */
  course: number;
}

export type CourseReport = Partial<CarveReport>;

/** A course kind, declared once: form, file, check, undo and headless run follow from this. */
export interface CourseKind<P> {
  kind: string;
  title: string;
  schema: z.ZodType<P>;
  /** Makes the result from the mesh below (null for a base). Throws `MasonError`. */
  run(
    ctx: OpContext | undefined,
    input: PolyMesh | null,
    params: P,
    env: CourseEnv,
  ): { mesh: PolyMesh; report: CourseReport };
  /** What it does, in words, for the wall. */
  says(params: P, unit: LengthUnit, report?: CourseReport): string;
}

/** The mesh of a placed shape, tagged. A shape is looked at once, where it is made; placing and tagging leave it as sound as it is. */
export function placedMesh(
  shape: Shape,
  placement: Cutter['placement'],
  store: MeshStore,
  tag: (m: PolyMesh) => PolyMesh = (m) => m,
): PolyMesh {
  const raw = shapeMesh(shape, store);
  const mesh = tag(transformMesh(raw, placementAffine(placement)));
  // Shapes of our own are sound by construction; an imported one may be damaged, which is no fault until it is cut.
  return (shape.kind === 'mesh' ? isSolid(raw) : isClosed(raw)) ? trust(mesh) : mesh;
}

/** A shape's size in a few characters: `Ø 40 × 20`, `100 × 60 × 20`. */
export function sizeWords(shape: Shape, unit: LengthUnit): string {
  const n = (x: number) => formatLength(x, unit).replace(/ \S+$/, '');
  switch (shape.kind) {
    case 'cylinder':
    case 'tube':
    case 'polygon':
      return `Ø ${n(shape.diameter)} × ${n(shape.height)}`;
    case 'cone':
      return `Ø ${n(shape.foot)} to ${n(shape.top)} × ${n(shape.height)}`;
    case 'ball':
    case 'patchBall':
      return `Ø ${n(shape.diameter)}`;
    case 'torus':
      return `Ø ${n(shape.diameter)}, ${n(shape.thickness)} thick`;
    case 'outline':
      return `${shape.points.length} points × ${n(shape.height)}`;
    case 'mesh':
      return shape.title;
    default:
      return (shapeSize(shape) ?? [])
        .filter((x) => x > 0)
        .map(n)
        .join(' × ');
  }
}

const base: CourseKind<z.infer<typeof ShapeParams>> = {
  kind: 'shape',
  title: 'Base shape',
  schema: ShapeParams,
  run(_ctx, _input, { shape, placement, slot }, env) {
    const tag = (m: PolyMesh) =>
      withSource(shape.kind === 'mesh' && m.layers.slot ? m : withSlot(m, slot || 'Body'), env.course, env.course);
    return { mesh: placedMesh(shape, placement, env.store, tag), report: {} };
  },
  says: ({ shape }, unit) => `${shapeTitle(shape.kind).toLowerCase()}, ${sizeWords(shape, unit)} ${unit}`,
};

const DOES = { subtract: 'removes', union: 'adds', intersect: 'keeps what is in' } as const;

const cut: CourseKind<z.infer<typeof CutParams>> = {
  kind: 'cut',
  title: 'Cut',
  schema: CutParams,
  run(ctx, input, params, env) {
    const target = input!;
    const slot = params.wallSlot || target.slots[0] || 'Body';
    const cutters = params.cutters.map((c) =>
      placedMesh(c.shape, c.placement, env.store, (m) => withSource(withSlot(m, slot), c.id, env.course)),
    );
    const { operation, joinFlush } = params;
    return carve(target, cutters, { operation, joinFlush, course: env.course }, ctx);
  },
  says({ operation, cutters }, unit, report) {
    const [first] = cutters as [Cutter];
    const one = `${shapeTitle(first.shape.kind).toLowerCase()} ${sizeWords(first.shape, unit)}`;
    const alike = cutters.every((c) => JSON.stringify(c.shape) === JSON.stringify(first.shape));
    const what =
      cutters.length === 1
        ? `${one} ${unit}`
        : alike
          ? `${cutters.length} cutters, each ${one} ${unit}`
          : `${cutters.length} cutters`;
    const walls = report?.newWalls;
    return `${DOES[operation]} ${what}${walls === undefined ? '' : walls === 0 ? ', no new walls' : `, ${walls} new wall${walls === 1 ? '' : 's'}`}`;
  },
};

export const COURSE_KINDS = { shape: base, cut } as const;
