<script setup lang="ts">
import { computed, onBeforeUnmount, shallowRef } from 'vue';
import { applyRemedy, cutterName, findPart, sayFit, type CutCourse, type Project } from '@dusky-mason/core/courses';
import type { Fit } from '@dusky-mason/core/carve';
import { useCommands } from '../words/commands.ts';
import { useProject } from '../stores/project.ts';

/** The dry fit's findings, each with the act that clears it; pointing at the act previews it. */
const props = defineProps<{ course: CutCourse }>();
const store = useProject();

const partName = (id: number): string => findPart(store.project!, id)?.name ?? 'another part';
const found = computed(() => (store.fits?.course === props.course.id ? store.fits.list : null));
const rows = computed(() =>
  (found.value ?? [])
    .filter((f) => props.course.params.cutters[f.cutter])
    .map((fit) => {
      const cutter = props.course.params.cutters[fit.cutter]!;
      const { text, warns, act } = sayFit(fit, store.project!.unit, partName);
      // An act that would change nothing is not offered.
      const can = changed(store.project!, fit) !== store.project;
      const whose = props.course.params.cutters.length > 1 ? `${cutterName(cutter)}: ` : '';
      return { fit, text: whose + text, warns, act: can ? act : undefined };
    }),
);
/** While an act is shown beforehand: the rows and the project as they were, as the shown state has another dry fit. */
const held = shallowRef<{ rows: typeof rows.value; project: Project } | null>(null);
const shown = computed(() => held.value?.rows ?? rows.value);

const changed = (p: Project, fit: Fit) => applyRemedy(p, store.part!.id, props.course.id, fit);
function show(fit: Fit): void {
  if (store.readOnly || held.value) return;
  held.value = { rows: rows.value, project: store.project! };
  store.preview(changed(held.value.project, fit));
}
function hide(): void {
  if (!held.value) return;
  held.value = null;
  store.dropPreview();
}
function apply(fit: Fit, act: string): void {
  const from = held.value?.project ?? store.project!;
  held.value = null;
  store.change(`${act}: ${props.course.name}`, changed(from, fit));
  if (fit.remedy?.kind === 'part') store.select({ part: fit.remedy.part, course: props.course.id });
}
onBeforeUnmount(hide);

useCommands(() =>
  rows.value.flatMap(({ fit, text, act }, i) =>
    act
      ? [
          {
            id: `fit-${i}`,
            title: `${act}`,
            also: `dry fit ${text}`,
            when: () => !store.readOnly,
            run: () => apply(fit, act),
          },
        ]
      : [],
  ),
);
</script>

<template>
  <section>
    <h3>Dry fit</h3>
    <p v-if="!found" class="soft">Looking …</p>
    <p v-else-if="!shown.length" class="soft">No problems: it meets the part, and clears its corners and ends.</p>
    <ul v-else>
      <li v-for="r in shown" :key="r.text" :class="{ warning: r.warns }">
        <span>{{ r.warns ? '▲ ' : '' }}{{ r.text }}</span>
        <button
          v-if="r.act"
          :disabled="store.readOnly"
          title="Point here to preview it"
          @pointermove="show(r.fit)"
          @pointerleave="hide"
          @focus="show(r.fit)"
          @blur="hide"
          @click="apply(r.fit, r.act)"
        >
          {{ r.act }}
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
li {
  padding: 4px 0 4px 9px;
  border-left: 3px solid var(--joint);
  line-height: 1.3;
}
li.warning {
  border-left-color: var(--ochre);
}
button {
  margin-left: 6px;
  padding: 1px 8px;
  min-height: 24px;
  border: 1px solid var(--joint);
  background: var(--raised);
  cursor: pointer;
}
button:hover {
  border-color: var(--ink);
}
</style>
