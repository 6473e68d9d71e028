import type { z } from 'zod';
import { sayIssue } from '../base/settingProblem.ts';
import { CutterSchema } from '../settings/cutSettings.ts';
import {
  type Course,
  CourseSchema,
  type Material,
  MaterialSchema,
  newProject,
  oneShapeFirst,
  type Part,
  PartSchema,
  PictureSchema,
  type Project,
  readProject,
  type ReferencePicture,
} from './document.ts';
import { upToDate } from './migrations.ts';

/** A project that could not be read whole: what was read, and a sentence about each thing left out. */
export interface Rescued {
  project: Project;
  left: string[];
}

/** A project, or whatever of it can be read. Throws `bad-file` as `rescueProject` does. */
export function readOrRescue(data: unknown): Rescued {
  try {
    return { project: readProject(data), left: [] };
  } catch {
    return rescueProject(data);
  }
}

type Loose = Record<string, unknown>;
const listOf = (x: unknown): Loose[] =>
  Array.isArray(x) ? x.filter((y): y is Loose => typeof y === 'object' && y !== null) : [];
const nameOf = (x: Loose, otherwise: string): string =>
  typeof x.name === 'string' && x.name ? `"${x.name.slice(0, 60)}"` : otherwise;

/**
 * Reads the readable pieces of a document that `readProject` refuses: parts, courses, cutters, materials and pictures
 * that are valid each by itself; a part without a base that can be read is left out whole. Throws `bad-file` where it
 * is no project document at all, or a newer one.
 */
export function rescueProject(data: unknown): Rescued {
  const d = upToDate(data);
  const left: string[] = [];
  const used = new Set<number>();
  const read = <T extends z.ZodType>(schema: T, x: Loose, name: string): z.infer<T> | null => {
    const r = schema.safeParse(x);
    if (r.success) return r.data;
    left.push(`${name} is left out. ${sayIssue(schema, x, r.error.issues[0]!)}`);
    return null;
  };
  /** Whether a number is free; the second of two that have the same one is left out. */
  const fresh = (id: number, name: string): boolean => {
    if (used.has(id)) left.push(`${name} is left out: it has the number of something else.`);
    const is = !used.has(id);
    used.add(id);
    return is;
  };

  const courseFrom = (c: Loose, where: string): Course | null => {
    const name = `${nameOf(c, 'A course')} ${where}`;
    const params = c.params as Loose | undefined;
    let looked = c;
    if (c.kind === 'cut' && params) {
      const cutters = listOf(params.cutters).filter((k) =>
        read(CutterSchema, k, `The cutter ${nameOf(k, 'without a name')} of ${name}`),
      );
      if (cutters.length < listOf(params.cutters).length) looked = { ...c, params: { ...params, cutters } };
      if (!cutters.length) {
        left.push(`${name} is left out: none of its cutters can be read.`);
        return null;
      }
    }
    const course = read(CourseSchema, looked, name);
    const ids = course?.kind === 'cut' ? course.params.cutters.map((k) => k.id) : [];
    return course && [course.id, ...ids].every((id) => fresh(id, name)) ? course : null;
  };

  const parts = listOf(d.parts).flatMap((p): Part[] => {
    const name = `The part ${nameOf(p, 'without a name')}`;
    const where = `of ${nameOf(p, 'a part')}`;
    const courses = listOf(p.courses).flatMap((c) => courseFrom(c, where) ?? []);
    const whole = courses[0]?.kind === 'shape' ? courses.filter((c, i) => (c.kind === 'shape') === (i === 0)) : [];
    if (!whole.length || !oneShapeFirst(whole)) {
      left.push(`${name} is left out: its base cannot be read.`);
      return [];
    }
    const part = read(PartSchema, { ...p, courses: whole }, name);
    return part && fresh(part.id, name) ? [part] : [];
  });
  const materials = listOf(d.materials).flatMap((m): Material[] => {
    const material = read(MaterialSchema, m, `The look of ${String(m.slot).slice(0, 60)}`);
    return material ? [material] : [];
  });
  const pictures = listOf(d.pictures).flatMap((x): ReferencePicture[] => {
    const picture = read(PictureSchema, x, `The picture ${nameOf(x, 'without a name')}`);
    return picture && fresh(picture.id, `The picture "${picture.name}"`) ? [picture] : [];
  });
  const plain = newProject(
    typeof d.id === 'string' && d.id ? d.id.slice(0, 100) : 'rescued',
    typeof d.name === 'string' ? d.name.slice(0, 200) : 'Rescued',
  );
  const unit = d.unit === 'cm' || d.unit === 'm' || d.unit === 'in' || d.unit === 'ft' ? d.unit : 'mm';
  const project = readProject({
    ...plain,
    unit,
    parts,
    materials: materials.slice(0, 1000),
    pictures: pictures.slice(0, 20),
    nextId: Math.max(0, ...used) + 1,
  });
  return { project, left };
}
