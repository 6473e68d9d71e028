import { addCutter, cutterName, setCutter, setParams, type Placed, type Project } from '@dusky-mason/core/courses';
import type { useProject } from './project.ts';

/** What is picked and stands somewhere: a cutter, or the base of a part. */
export interface Held {
  placed: Placed;
  name: string;
  kind: 'cutter' | 'base';
  /** The project with it changed. */
  put(p: Project, next: Placed): Project;
  /** The project with a copy of it beside it, in the same cut, which has the old `nextId`; null for what has no copies. */
  copied(p: Project, next: Placed): Project | null;
}

/** What is picked just now; null where it cannot be moved by itself. */
export function heldOf(store: ReturnType<typeof useProject>): Held | null {
  const { part, course, cutter } = store;
  if (!part || !course || part.locked) return null;
  if (course.kind === 'cut') {
    if (!cutter) return null;
    return {
      placed: cutter,
      name: cutterName(cutter),
      kind: 'cutter',
      put: (p, { shape, placement }) => setCutter(p, part.id, course.id, { ...cutter, shape, placement }),
      copied: (p, { shape, placement }) => addCutter(p, part.id, course.id, { ...cutter, name: `${cutterName(cutter)} copy`, shape, placement }), // prettier-ignore
    };
  }
  if (course.kind !== 'shape') return null;
  const { shape, placement } = course.params;
  // A fitted part stands where its cutter does.
  if (shape.kind === 'fitted' && shape.source) return null;
  return {
    placed: { shape, placement },
    name: course.name,
    kind: 'base',
    put: (p, next) => setParams(p, part.id, course.id, { shape: next.shape, placement: next.placement }),
    copied: () => null,
  };
}
