<script setup lang="ts">
import { computed } from 'vue';
import { useProject } from '../stores/project.ts';
import { useShapes } from '../stores/shapes.ts';
import { useTools } from '../tools/tools.ts';
import StripField from './StripField.vue';

/** How the cutter of the rack at hand is stamped. */
const store = useProject();
const shapes = useShapes();
const tools = useTools();
const unit = computed(() => store.project?.unit ?? 'mm');
const depth = computed(() => tools.stamping.depth ?? (tools.stamp && shapes.box(tools.stamp.shape)?.size[2]) ?? 0);
const set = (change: Partial<typeof tools.stamping>): void => {
  tools.stamping = { ...tools.stamping, ...change };
};
/** A factor within reason, and never one that leaves nothing. */
const size = (x: number): number => Math.min(1000, Math.max(0.001, Math.abs(x) || 1));
</script>

<template>
  <strong>{{ tools.stamp!.name }}</strong>
  <StripField
    id="stamp-turn"
    title="Turn"
    label="Turn of the stamp"
    as="angle"
    :unit="unit"
    :model-value="tools.stamping.turn"
    @update:model-value="set({ turn: $event })"
  />
  <StripField
    id="stamp-size"
    title="Size ×"
    label="Size of the stamp, as a factor"
    as="factor"
    :unit="unit"
    :model-value="tools.stamping.size"
    @update:model-value="set({ size: size($event) })"
  />
  <StripField
    id="stamp-depth"
    title="Depth"
    label="Depth of the stamp"
    as="length"
    :unit="unit"
    :min="0"
    :model-value="depth"
    @update:model-value="set({ depth: $event || null })"
  />
</template>
