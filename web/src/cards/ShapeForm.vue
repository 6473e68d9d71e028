<script setup lang="ts">
import Select from 'primevue/select';
import { computed } from 'vue';
import {
  isPointed,
  newShape,
  resizeShape,
  Shape,
  shapeKinds,
  shapeSchema,
  shapeSize,
  shapeTitle,
  type ShapeKind,
} from '@dusky-mason/core/courses';
import type { LengthUnit } from '@dusky-mason/core/units';
import SchemaForm from '../components/SchemaForm.vue';
import OutlineForm from './OutlineForm.vue';

/** Which shape it is, and its sizes. */
const props = defineProps<{
  shape: Shape;
  unit: LengthUnit;
  name: string;
  closedOnly: boolean;
  parts?: readonly { id: number; name: string }[];
}>();
const emit = defineEmits<{ change: [shape: Shape, title: string] }>();

const kinds = computed(() => {
  const list = shapeKinds(props.closedOnly);
  return (list.includes(props.shape.kind) ? list : [props.shape.kind, ...list]).map((value) => ({
    value,
    title: shapeTitle(value),
  }));
});

const partEntry = (id: number) => `part ${id}`;
const chosen = computed(() => (props.shape.kind === 'part' ? partEntry(props.shape.part) : props.shape.kind));
/** The linked part stays in the list after it was removed. */
const listed = computed(() => {
  const { shape, parts = [] } = props;
  const gone = shape.kind === 'part' && !parts.some((p) => p.id === shape.part);
  return gone ? [...parts, { id: shape.part, name: `${shape.title}, gone` }] : parts;
});
const choices = computed(() => [
  ...kinds.value.filter((k) => k.value !== 'part'),
  ...listed.value.map((p) => ({ value: partEntry(p.id), title: `Part: ${p.name}` })),
]);
function choose(value: string): void {
  const other = props.parts?.find((p) => partEntry(p.id) === value);
  if (other) emit('change', { kind: 'part', part: other.id, title: other.name }, `Cut with ${other.name}`);
  else swap(value as ShapeKind);
}

/** Another kind keeps the size of the one before. */
function swap(kind: ShapeKind): void {
  let next = newShape(kind);
  const size = shapeSize(props.shape);
  if (size) for (const k of [2, 1, 0] as const) if (size[k] > 0) next = resizeShape(next, k, size[k]);
  emit('change', next, `Make it a ${shapeTitle(kind).toLowerCase()}`);
}
const set = (key: string, value: unknown, title: string): void =>
  emit('change', { ...props.shape, [key]: value } as Shape, title);
</script>

<template>
  <div class="shape">
    <div class="field-row">
      <label :for="`${name}-kind`">Shape</label>
      <Select
        :input-id="`${name}-kind`"
        :aria-label="'Shape'"
        :model-value="chosen"
        :options="choices"
        option-label="title"
        option-value="value"
        fluid
        @update:model-value="choose"
      />
    </div>
    <SchemaForm :schema="shapeSchema(shape.kind)" :model-value="shape" :unit="unit" :name="name" @change="set" />
    <OutlineForm
      v-if="isPointed(shape)"
      :shape="shape"
      :unit="unit"
      :name="name"
      @change="(next, title) => emit('change', next, title)"
    />
    <p v-if="shape.kind === 'mesh'" class="soft">From the file {{ shape.title }}, as it was read.</p>
  </div>
</template>

<style scoped>
.shape {
  display: grid;
  gap: 7px;
}
</style>
