<script setup lang="ts">
import { computed } from 'vue';
import {
  cutterName,
  findCourse,
  findCutter,
  findPart,
  renameCourse,
  reshapeBase,
  setParams,
  type Shape,
  type ShapeCourse,
} from '@dusky-mason/core/courses';
import PlacementForm from '../components/PlacementForm.vue';
import SchemaForm from '../components/SchemaForm.vue';
import { ShapeParams } from '@dusky-mason/core/courses';
import { heldOf } from '../stores/held.ts';
import { useProject } from '../stores/project.ts';
import CardTitle from './CardTitle.vue';
import CourseProblem from './CourseProblem.vue';
import PivotForm from './PivotForm.vue';
import PlaceActs from './PlaceActs.vue';
import ShapeForm from './ShapeForm.vue';

const props = defineProps<{ course: ShapeCourse }>();
const store = useProject();
const unit = computed(() => store.project!.unit);

const set = (change: Partial<ShapeCourse['params']>, title: string): void =>
  store.change(`${title} of ${props.course.name}`, setParams(store.project!, store.part!.id, props.course.id, change));
const reshape = (shape: Shape, title: string): void =>
  store.change(`${title} of ${props.course.name}`, reshapeBase(store.project!, store.part!.id, props.course, shape));
const source = computed(() => {
  const s = props.course.params.shape;
  return s.kind === 'fitted' ? s.source : null;
});
/** Which cutter a fitted part stands in, and stays with. */
const follows = computed(() => {
  const part = source.value && findPart(store.project!, source.value.part);
  const cutter = part && findCutter(findCourse(part, source.value!.course), source.value!.cutter);
  return cutter ? `It follows ${cutterName(cutter)} of ${part.name}: its outline and its place are that cutter's.` : '';
});
const others = computed(() => store.project!.parts.filter((p) => p.id !== store.part!.id));
const held = computed(() => heldOf(store));
const detach = (): void => set({ shape: { ...props.course.params.shape, source: null } as Shape }, 'Detach');

const rename = (name: string): void =>
  store.change(`Rename ${props.course.name}`, renameCourse(store.project!, store.part!.id, props.course.id, name));
</script>

<template>
  <CardTitle
    :name="course.name"
    label="Name of the base"
    :line="`The base of ${store.part!.name}: every course above is laid on it.`"
    :disabled="store.readOnly"
    @rename="rename"
  />
  <fieldset :disabled="store.readOnly">
    <legend class="unseen">Settings of the base</legend>
    <CourseProblem :course="course.id" />
    <ShapeForm
      :shape="course.params.shape"
      :unit="unit"
      :name="`base-${course.id}`"
      :closed-only="false"
      :parts="others"
      @change="reshape"
    />
    <div v-if="follows" class="follows">
      <p>{{ follows }}</p>
      <div class="acts"><button @click="detach">Detach</button></div>
    </div>
    <PlacementForm
      v-else
      :model-value="course.params.placement"
      :unit="unit"
      :name="`base-${course.id}`"
      :scaled="['mesh', 'part'].includes(course.params.shape.kind)"
      @change="(placement, title) => set({ placement }, title)"
    />
    <template v-if="held">
      <PivotForm :held="held" :name="`base-${course.id}`" />
      <PlaceActs :held="held" on-top />
    </template>
    <SchemaForm
      :schema="ShapeParams"
      :model-value="course.params"
      :unit="unit"
      :name="`base-${course.id}`"
      @change="(key, value, title) => set({ [key]: value }, title)"
    />
  </fieldset>
</template>

<style scoped>
.follows {
  padding: 8px 10px;
  display: grid;
  gap: 8px;
  background: var(--raised);
  border-left: 3px solid var(--verdigris);
}
</style>
