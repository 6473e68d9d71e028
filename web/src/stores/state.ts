import { computed, ref, shallowRef } from 'vue';
import { findCourse, findCutter, findPart, type Project } from '@dusky-mason/core/courses';

/** The document at hand and what is picked in it: what every piece of the project store looks at. */
export function projectState() {
  const project = shallowRef<Project | null>(null);
  const selection = ref<{ part: number | null; course: number | null; cutter: number | null }>({
    part: null,
    course: null,
    cutter: null,
  });
  const readOnly = ref(false);
  const part = computed(() => (project.value ? findPart(project.value, selection.value.part) : undefined));
  const course = computed(() => findCourse(part.value, selection.value.course));
  const cutter = computed(() => findCutter(course.value, selection.value.cutter));

  /** Drops picks whose thing no longer exists. */
  function settle(): void {
    const s = selection.value;
    const p = findPart(project.value!, s.part) ?? project.value!.parts[0];
    const c = findCourse(p, s.course);
    selection.value = { part: p?.id ?? null, course: c?.id ?? null, cutter: findCutter(c, s.cutter)?.id ?? null };
  }

  /** Picks a part, a course or a cutter; true when what is shown of it has to be asked for anew. */
  function select(s: Partial<{ part: number | null; course: number | null; cutter: number | null }>): boolean {
    const { part: before, course: was } = selection.value;
    const next = { ...selection.value, ...s };
    if (s.part !== undefined && s.part !== before) {
      next.course = s.course ?? null;
      next.cutter = s.cutter ?? null;
    } else if (s.course !== undefined && s.cutter === undefined) {
      const c = findCourse(part.value, s.course);
      next.cutter = c?.kind === 'cut' && c.params.cutters.length === 1 ? c.params.cutters[0]!.id : null;
    }
    // What is not there, as after a change that was refused, is not picked.
    const there = project.value && findPart(project.value, next.part);
    if (next.part !== null && !there) return false;
    if (next.course !== null && !findCourse(there ?? undefined, next.course)) next.course = next.cutter = null;
    selection.value = next;
    // Another course has another dry fit.
    return next.part !== before || (next.course !== null && next.course !== was);
  }

  return { project, selection, readOnly, part, course, cutter, settle, select };
}

export type ProjectState = ReturnType<typeof projectState>;
