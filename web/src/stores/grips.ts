import { fieldsOf, isStroke, setParams, STROKES, type Grip, type Project } from '@dusky-mason/core/courses';
import type { useProject } from './project.ts';

/** A setting of the picked stroke that can be taken hold of in the view: what it is called, and its bounds. */
export interface HeldSetting extends Grip {
  title: string;
  as: 'length' | 'share';
  value: number;
  min: number;
  max: number;
}

/** The settings of one stroke that can be taken hold of. */
export interface Gripped {
  course: number;
  name: string;
  list: HeldSetting[];
  /** The project with one of them set. */
  put(p: Project, key: string, value: number): Project;
}

/** What of the picked stroke can be taken hold of; null where nothing can, or nothing may be changed. */
export function grippedOf(store: ReturnType<typeof useProject>): Gripped | null {
  const { part, course } = store;
  if (!part || !course || !isStroke(course) || part.locked || store.readOnly) return null;
  const grips = store.outcome?.courses.find((c) => c.id === course.id)?.report.grips ?? [];
  const fields = new Map(fieldsOf(STROKES[course.kind].settings).map(({ key, meta }) => [key, meta]));
  const params = course.params as Record<string, unknown>;
  const list = grips.flatMap((g): HeldSetting[] => {
    const meta = fields.get(g.key);
    const value = params[g.key];
    if (!meta || typeof value !== 'number') return [];
    const as = meta.as === 'share' ? 'share' : 'length';
    return [
      {
        ...g,
        title: meta.title,
        as,
        value,
        min: meta.min ?? -Infinity,
        max: Math.min(g.most ?? Infinity, meta.max ?? Infinity),
      },
    ];
  });
  if (!list.length) return null;
  return {
    course: course.id,
    name: course.name,
    list,
    put: (p, key, value) => setParams(p, part.id, course.id, { [key]: value }),
  };
}
