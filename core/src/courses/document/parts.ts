import { shortName } from '../base/fields.ts';
import { movedPick, type Pick as StoredPick, renumberedPick } from '../base/picks.ts';
import { checked } from '../base/settingProblem.ts';
import { resizeShape, shapeSize } from '../base/shapeSize.ts';
import { newShape, Shape, shapeTitle } from '../base/shapeSpec.ts';
import type { Cutter } from '../settings/cutSettings.ts';
import {
  type Course,
  type KeptPick,
  type Material,
  type StrokeCourse,
  type Part,
  PartSchema,
  type Project,
} from './document.ts';
import { findCourse, findCutter, findPart, mapPart, setCutter, setParams } from './edit.ts';
import { placementAffine, type Placement, type Vec3 } from '../../mesh/index.ts';

// Changes of parts as wholes, each a new project from an old one: see edit.ts.

const UNMOVED: Placement = { position: [0, 0, 0], turn: [0, 0, 0] };

/** A new part of one shape; it is the last one. */
export function addPart(
  p: Project,
  name: string,
  shape: Shape = newShape('box'),
  slot = 'Body',
  placement?: Placement,
): Project {
  const title = 'title' in shape ? shape.title : shapeTitle(shape.kind);
  const part = partOf(p.nextId, name, { name: title, shape, slot, placement });
  return { ...p, parts: [...p.parts, part], nextId: p.nextId + 2 };
}

/** A part of a base alone: the base has the number `id`, the part the one after it. */
export function partOf(
  id: number,
  name: string,
  base: { name: string; shape: Shape; slot: string; placement?: Placement },
): Part {
  return { id: id + 1, name, shown: true, locked: false, picks: [], courses: [baseOf(id, base)] };
}

const baseOf = (
  id: number,
  { name, shape, slot, placement = UNMOVED }: { name: string; shape: Shape; slot: string; placement?: Placement },
): Course => ({ id, kind: 'shape', name, on: true, params: { shape, slot, placement } });

export const renamePart = (p: Project, partId: number, name: string): Project =>
  mapPart(p, partId, (part) => ({ ...part, name }));
export const removePart = (p: Project, partId: number): Project => ({
  ...p,
  parts: p.parts.filter((part) => part.id !== partId),
});

/** The settings of a stroke with its picks changed, those of gathered ones, too. */
function withPicks(params: StrokeCourse['params'], change: (pick: StoredPick) => StoredPick): StrokeCourse['params'] {
  const edits =
    'edits' in params
      ? {
          edits: params.edits.map((e) => ({
            ...e,
            params: { ...e.params, pick: change(e.params.pick as StoredPick) },
          })),
        }
      : {};
  return { ...params, ...edits, pick: change(params.pick) } as StrokeCourse['params'];
}

/** A copy of a part with numbers of its own, right after it. */
export function duplicatePart(p: Project, partId: number): Project {
  const at = p.parts.findIndex((part) => part.id === partId);
  const part = p.parts[at];
  if (!part) return p;
  let nextId = p.nextId;
  const numbers = new Map<number, number>();
  const renumbered = (old: number): number => {
    numbers.set(old, nextId);
    return nextId++;
  };
  const copy: Part = {
    ...part,
    id: nextId++,
    name: shortName(`${part.name} copy`),
    locked: false,
    courses: part.courses.map((c): Course => {
      const id = renumbered(c.id);
      if (c.kind === 'shape') return { ...c, id };
      if (c.kind === 'cut')
        return {
          ...c,
          id,
          params: { ...c.params, cutters: c.params.cutters.map((k) => ({ ...k, id: renumbered(k.id) })) },
        };
      return {
        ...c,
        id,
        params: withPicks(c.params, (pick) => renumberedPick(pick, (old) => numbers.get(old) ?? old)),
      } as Course;
    }),
  };
  const picks = part.picks.map((k) => ({ ...k, pick: renumberedPick(k.pick, (old) => numbers.get(old) ?? old) }));
  return { ...p, parts: [...p.parts.slice(0, at + 1), { ...copy, picks }, ...p.parts.slice(at + 1)], nextId };
}

/**
 * Freezes a part up to a course: the courses up to it become one mesh (`shape`, their result), and those above are laid
 * on it. The courses are kept in a copy of the part right after it.
 */
export function freezePart(p: Project, partId: number, courseId: number, shape: Shape): Project {
  const part = findPart(p, partId);
  const at = part?.courses.findIndex((c) => c.id === courseId) ?? -1;
  if (!part || at < 0) return p;
  const copied = duplicatePart(p, partId);
  const base = baseOf(copied.nextId, { name: 'Frozen', shape, slot: 'Body' });
  const kept = copied.parts[copied.parts.findIndex((x) => x.id === partId) + 1]!;
  return {
    ...copied,
    nextId: copied.nextId + 1,
    parts: copied.parts.map((x) =>
      x.id === partId
        ? { ...x, courses: [base, ...part.courses.slice(at + 1)] }
        : x.id === kept.id
          ? { ...x, name: shortName(`${part.name}, its courses`) }
          : x,
    ),
  };
}

/**
 * Makes the offcut of a split a part of its own, right after the part, which keeps the rest. Both stay editable, each
 * by itself.
 */
export function partOffcut(p: Project, partId: number, courseId: number): Project {
  const at = findPart(p, partId)?.courses.findIndex((c) => c.id === courseId) ?? -1;
  const course = findPart(p, partId)?.courses[at];
  if (course?.kind !== 'cut') return p;
  const copied = duplicatePart(p, partId);
  const copy = copied.parts[copied.parts.findIndex((x) => x.id === partId) + 1]!;
  const keeping = (q: Project, part: number, id: number, keeps: 'rest' | 'offcut') => setParams(q, part, id, { keeps });
  const both = keeping(keeping(copied, partId, courseId, 'rest'), copy.id, copy.courses[at]!.id, 'offcut');
  return renamePart(both, copy.id, shortName(`${course.name} offcut`));
}

/** The picks that are kept with a part. */
export const setPicks = (p: Project, partId: number, picks: KeptPick[]): Project =>
  mapPart(p, partId, (part) => ({ ...part, picks }));

/** Shows or hides a part, locks or unlocks it. */
export const setPart = (p: Project, partId: number, state: Partial<Pick<Part, 'shown' | 'locked'>>): Project =>
  mapPart(p, partId, (part) => ({ ...part, ...state }));

/** The locked part that a change would touch, if there is one: a part may still be unlocked, shown or hidden. */
export function lockedTouched(before: Project, after: Project): Part | undefined {
  return before.parts.find((part) => {
    if (!part.locked) return false;
    const now = findPart(after, part.id);
    return !now || (now !== part && (now.courses !== part.courses || now.name !== part.name));
  });
}

/** Puts a part at another place in the list of parts, counted from 0. */
export function reorderPart(p: Project, partId: number, to: number): Project {
  const part = findPart(p, partId);
  if (!part) return p;
  const rest = p.parts.filter((x) => x !== part);
  const at = Math.max(0, Math.min(rest.length, to));
  const parts = [...rest.slice(0, at), part, ...rest.slice(at)];
  return parts.every((x, i) => x === p.parts[i]) ? p : { ...p, parts };
}

/** A whole part moved, mm: its base, its cutters and what they are repeated by. */
export function movePart(p: Project, partId: number, by: Vec3): Project {
  const moved = (v: readonly number[]) => v.map((x, k) => +(x + by[k]!).toFixed(9) + 0) as [number, number, number];
  const stand = <T extends Placement>(placement: T): T => ({ ...placement, position: moved(placement.position) });
  const cutter = (c: Cutter): Cutter => ({
    ...c,
    placement: stand(c.placement),
    repeat: {
      ...c.repeat,
      centre: moved(c.repeat.centre),
      path: c.repeat.path.map(moved),
      at: c.repeat.at + by['xyz'.indexOf(c.repeat.across)]!,
    },
  });
  return mapPart(p, partId, (part) => ({
    ...part,
    courses: part.courses.map((c): Course =>
      c.kind === 'shape'
        ? { ...c, params: { ...c.params, placement: stand(c.params.placement) } }
        : c.kind === 'cut'
          ? { ...c, params: { ...c.params, cutters: c.params.cutters.map(cutter) } }
          : ({ ...c, params: withPicks(c.params, (pick) => movedPick(pick, by)) } as Course),
    ),
  }));
}

/**
 * A part seen in a mirror square to an axis of the project, as a part of its own right after it: it stays linked, so
 * that it changes with the first one. It is turned over by a negative scale.
 */
export function mirrorPart(p: Project, partId: number, axis: 0 | 1 | 2, at: number): Project {
  const part = findPart(p, partId);
  if (!part) return p;
  const along = (x: number, other: number) =>
    [0, 1, 2].map((k) => (k === axis ? x : other)) as [number, number, number];
  const shape: Shape = { kind: 'part', part: partId, title: part.name };
  const placement: Placement = { position: along(2 * at, 0), turn: [0, 0, 0], scale: along(-1, 1) };
  const base = { name: shortName(`Mirrored ${part.name}`), shape, slot: 'Body', placement };
  return afterPart({ ...p, nextId: p.nextId + 2 }, partId, [
    partOf(p.nextId, shortName(`${part.name}, mirrored`), base),
  ]);
}

const afterPart = (p: Project, partId: number, made: readonly Part[]): Project => ({
  ...p,
  parts: p.parts.flatMap((x) => (x.id === partId ? [x, ...made] : [x])),
});

/** Parts of the given meshes right after a part; the parts that they were made from are kept, hidden. */
export function addMade(
  p: Project,
  partId: number,
  made: readonly { name: string; shape: Shape }[],
  from: readonly number[],
): Project {
  const parts = made.map(({ name, shape }, i) => partOf(p.nextId + 2 * i, name, { name: 'Mesh', shape, slot: 'Body' }));
  const added = afterPart({ ...p, nextId: p.nextId + 2 * made.length }, partId, parts);
  return from.reduce((q, id) => setPart(q, id, { shown: false }), added);
}

/**
 * Gives a cutter courses of its own: its shape becomes the base of a part, hidden, to which it is linked; what is laid
 * on that part is the cutter's. The part is the last one.
 */
export function giveOwnCourses(p: Project, partId: number, courseId: number, cutterId: number): Project {
  const cutter = findCutter(findCourse(findPart(p, partId), courseId), cutterId);
  if (!cutter || cutter.shape.kind === 'part') return p;
  const title = `${cutter.name || shapeTitle(cutter.shape.kind)}, as a part`;
  const part = checked(PartSchema, {
    ...partOf(p.nextId, title, {
      name: shapeTitle(cutter.shape.kind),
      shape: cutter.shape,
      slot: cutter.slot || 'Body',
    }),
    shown: false,
  });
  const added = { ...p, parts: [...p.parts, part], nextId: p.nextId + 2 };
  return setCutter(added, partId, courseId, { ...cutter, shape: { kind: 'part', part: part.id, title } });
}

/**
 * All cutters of a cut larger or smaller by a factor in their own planes, about the middle of where they stand; their
 * heights stay. For what came in at the wrong scale.
 */
export function scaleCutters(p: Project, partId: number, courseId: number, k: number): Project {
  const course = findCourse(findPart(p, partId), courseId);
  if (course?.kind !== 'cut' || !(k > 0) || k === 1) return p;
  const { cutters } = course.params;
  const mid = [0, 1, 2].map((i) => cutters.reduce((s, c) => s + c.placement.position[i]!, 0) / cutters.length);
  const larger = (c: Cutter): Cutter => {
    const a = placementAffine({ ...c.placement, scale: [1, 1, 1] });
    const z = [a[2]!, a[6]!, a[10]!];
    const away = c.placement.position.map((x, i) => x - mid[i]!);
    const deep = away.reduce((s, x, i) => s + x * z[i]!, 0);
    const position = mid.map((x, i) => +(x + k * (away[i]! - deep * z[i]!) + deep * z[i]!).toFixed(9) + 0) as [
      number,
      number,
      number,
    ];
    return { ...c, ...grown(c, k), placement: { ...grown(c, k).placement, position } };
  };
  return setParams(p, partId, courseId, { cutters: cutters.map(larger) });
}

/** A cutter larger in its own plane: by its sizes where it has any, else by its scale. */
function grown(c: Cutter, k: number): Pick<Cutter, 'shape' | 'placement'> {
  const { shape, placement } = c;
  if (shape.kind === 'outline') {
    const run = (points: readonly (readonly number[])[]) => points.map(([x, y]): [number, number] => [x! * k, y! * k]);
    return {
      placement,
      shape: {
        ...shape,
        points: run(shape.points),
        holes: shape.holes.map(run),
        bows: shape.bows.map((b) => b * k),
        radii: shape.radii.map((r) => r * k),
      },
    };
  }
  const size = shapeSize(shape);
  if (!size || shape.kind === 'ball' || shape.kind === 'patchBall' || shape.kind === 'torus') {
    const [x, y, z] = placement.scale ?? [1, 1, 1];
    return { shape, placement: { ...placement, scale: [x * k, y * k, z] } };
  }
  const wide = resizeShape(shape, 0, size[0] * k);
  const round = shapeSize(wide)![1] !== size[1];
  return { placement, shape: round ? wide : resizeShape(wide, 1, size[1] * k) };
}

/** How a slot looks; null gives it the usual look again. */
export function setMaterial(p: Project, slot: string, material: Omit<Material, 'slot'> | null): Project {
  const rest = p.materials.filter((m) => m.slot !== slot);
  return { ...p, materials: material ? [...rest, { ...material, slot }] : rest };
}
