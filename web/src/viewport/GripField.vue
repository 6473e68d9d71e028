<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import LengthField from '../components/LengthField.vue';
import { grippedOf } from '../stores/grips.ts';
import { useProject } from '../stores/project.ts';
import { useTools } from '../tools/tools.ts';

/** The settings of the picked stroke that have a bead in the view, as typed values. */
const store = useProject();
const tools = useTools();
const unit = computed(() => store.project?.unit ?? 'mm');
const gripped = computed(() => grippedOf(store));
const at = computed(() => gripped.value?.list.find((h) => h.key === tools.grip) ?? gripped.value?.list[0]);

// What is typed while the view has the focus goes here.
const frame = ref<HTMLElement>();
onMounted(() => (tools.typedField = frame.value!.querySelector('input')));
onBeforeUnmount(() => (tools.typedField = null));

function set(value: number): void {
  if (!at.value || !gripped.value) return;
  store.change(`${at.value.title} of ${gripped.value.name}`, gripped.value.put(store.project!, at.value.key, value));
}
</script>

<template>
  <span ref="frame" class="grip">
    <select
      v-if="gripped && gripped.list.length > 1"
      :value="at?.key"
      aria-label="Setting to type"
      @change="tools.grip = ($event.target as HTMLSelectElement).value"
    >
      <option v-for="h in gripped.list" :key="h.key" :value="h.key">{{ h.title }}</option>
    </select>
    <label v-else-if="at" for="grip-value">{{ at.title }}</label>
    <LengthField
      v-if="at"
      id="grip-value"
      class="value"
      :model-value="at.value"
      :as="at.as"
      :label="`Bead: ${at.title}`"
      :unit="unit"
      :min="at.min"
      :max="at.max"
      @update:model-value="set"
    />
  </span>
</template>

<style scoped>
.grip {
  display: flex;
  align-items: center;
  gap: 6px;
}
.value {
  width: 96px;
}
</style>
