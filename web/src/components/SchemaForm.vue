<script setup lang="ts">
import InputText from 'primevue/inputtext';
import Select from 'primevue/select';
import ToggleSwitch from 'primevue/toggleswitch';
import { computed } from 'vue';
import type { z } from 'zod';
import { fieldsOf, settingProblem, type FieldMeta } from '@dusky-mason/core/courses';
import type { LengthUnit } from '@dusky-mason/core/units';
import LengthField from './LengthField.vue';
import VectorRow from './VectorRow.vue';

/** The form of a schema's described fields: what a course kind declares is all that is needed. */
const props = defineProps<{
  schema: z.ZodObject;
  modelValue: Record<string, unknown>;
  unit: LengthUnit;
  /** Names the form, so that the ids of its fields are its own. */
  name: string;
  /** Fields that are shown elsewhere. */
  without?: readonly string[];
}>();
const emit = defineEmits<{ change: [key: string, value: unknown, title: string] }>();

/** Fields of three numbers, and what each of them is. */
const TRIPLES: Partial<Record<FieldMeta['as'], 'length' | 'angle' | 'factor'>> = {
  lengths: 'length',
  angles: 'angle',
  factors: 'factor',
};
const fields = computed(() => fieldsOf(props.schema, props.modelValue).filter((f) => !props.without?.includes(f.key)));
/** What the schema minds in a value of a field. */
const problemOf = (key: string, value: unknown): string | null =>
  settingProblem(props.schema.shape[key] as z.ZodType, value, props.unit);
const options = (o: Record<string, string> | undefined) =>
  Object.entries(o ?? {}).map(([value, title]) => ({ value, title }));
</script>

<template>
  <div class="form">
    <template v-for="{ key, meta } in fields" :key="key">
      <VectorRow
        v-if="TRIPLES[meta.as]"
        :title="meta.title"
        :model-value="modelValue[key] as number[]"
        :as="TRIPLES[meta.as]!"
        :unit="unit"
        :name="`${name}-${key}`"
        :check="(v) => problemOf(key, v)"
        @update:model-value="emit('change', key, $event, meta.title)"
      />
      <div v-else class="field-row">
        <label :for="`${name}-${key}`">{{ meta.title }}</label>
        <div>
          <LengthField
            v-if="
              meta.as === 'length' ||
              meta.as === 'angle' ||
              meta.as === 'count' ||
              meta.as === 'factor' ||
              meta.as === 'share'
            "
            :id="`${name}-${key}`"
            :model-value="Number(modelValue[key])"
            :as="meta.as"
            :label="meta.title"
            :unit="unit"
            :check="(x) => problemOf(key, x)"
            @update:model-value="emit('change', key, $event, meta.title)"
          />
          <ToggleSwitch
            v-else-if="meta.as === 'flag'"
            :input-id="`${name}-${key}`"
            :model-value="Boolean(modelValue[key])"
            @update:model-value="emit('change', key, $event, meta.title)"
          />
          <Select
            v-else-if="meta.as === 'choice'"
            :input-id="`${name}-${key}`"
            :aria-label="meta.title"
            :model-value="modelValue[key]"
            :options="options(meta.options)"
            option-label="title"
            option-value="value"
            fluid
            @update:model-value="emit('change', key, $event, meta.title)"
          />
          <InputText
            v-else
            :id="`${name}-${key}`"
            :model-value="String(modelValue[key] ?? '')"
            fluid
            maxlength="200"
            @change="emit('change', key, ($event.target as HTMLInputElement).value.trim(), meta.title)"
          />
          <small v-if="meta.hint" class="soft">{{ meta.hint }}</small>
        </div>
      </div>
    </template>
  </div>
</template>

<style scoped>
.form {
  display: grid;
  gap: 7px;
}
small {
  display: block;
  font-size: 12px;
  line-height: 1.25;
  margin-top: 2px;
}
</style>
