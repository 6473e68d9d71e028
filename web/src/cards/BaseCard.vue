<script setup lang="ts">
import { computed } from 'vue';
import { renameCourse, setParams, type ShapeCourse } from '@dusky-mason/core/courses';
import PlacementForm from '../components/PlacementForm.vue';
import SchemaForm from '../components/SchemaForm.vue';
import { ShapeParams } from '@dusky-mason/core/courses';
import { useProject } from '../stores/project.ts';
import CardTitle from './CardTitle.vue';
import CourseProblem from './CourseProblem.vue';
import ShapeForm from './ShapeForm.vue';

const props = defineProps<{ course: ShapeCourse }>();
const store = useProject();
const unit = computed(() => store.project!.unit);

const set = (change: Partial<ShapeCourse['params']>, title: string): void =>
  store.change(`${title} of ${props.course.name}`, setParams(store.project!, store.part!.id, props.course.id, change));
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
      @change="(shape, title) => set({ shape }, title)"
    />
    <PlacementForm
      :model-value="course.params.placement"
      :unit="unit"
      :name="`base-${course.id}`"
      :scaled="course.params.shape.kind === 'mesh'"
      @change="(placement, title) => set({ placement }, title)"
    />
    <SchemaForm
      :schema="ShapeParams"
      :model-value="course.params"
      :unit="unit"
      :name="`base-${course.id}`"
      @change="(key, value, title) => set({ [key]: value }, title)"
    />
  </fieldset>
</template>
