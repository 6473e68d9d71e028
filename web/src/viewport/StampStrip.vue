<script setup lang="ts">
import { computed } from 'vue';
import LengthField from '../components/LengthField.vue';
import { useProject } from '../stores/project.ts';
import { shapes } from '../stores/shapes.ts';
import { useTools } from '../tools/tools.ts';

/** How the cutter of the rack at hand is stamped. */
const store = useProject();
const tools = useTools();
const unit = computed(() => store.project?.unit ?? 'mm');
const depth = computed(() => tools.stamping.depth ?? (tools.stamp && shapes.box(tools.stamp.shape)?.size[2]) ?? 0);
const set = (change: Partial<typeof tools.stamping>): void => {
  tools.stamping = { ...tools.stamping, ...change };
};
</script>

<template>
  <strong>{{ tools.stamp!.name }}</strong>
  <label>
    Turn
    <span class="narrow">
      <LengthField
        id="stamp-turn"
        :model-value="tools.stamping.turn"
        as="angle"
        label="Turn of the stamp"
        :unit="unit"
        narrow
        @update:model-value="set({ turn: $event })"
      />
    </span>
  </label>
  <label>
    Size ×
    <span class="narrow">
      <LengthField
        id="stamp-size"
        :model-value="tools.stamping.size"
        as="factor"
        label="Size of the stamp, as a factor"
        :unit="unit"
        narrow
        @update:model-value="set({ size: Math.min(1000, Math.max(0.001, Math.abs($event) || 1)) })"
      />
    </span>
  </label>
  <label>
    Depth
    <span class="narrow">
      <LengthField
        id="stamp-depth"
        :model-value="depth"
        as="length"
        label="Depth of the stamp"
        :unit="unit"
        :min="0"
        narrow
        @update:model-value="set({ depth: $event || null })"
      />
    </span>
  </label>
</template>

<style scoped>
label {
  display: flex;
  align-items: center;
  gap: 5px;
  color: var(--soft);
}
.narrow {
  width: 76px;
}
</style>
