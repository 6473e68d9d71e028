<script setup lang="ts">
import { computed } from 'vue';
import { MaterialSchema, setMaterial, type Material, checked } from '@dusky-mason/core/courses';
import { useProject } from '../stores/project.ts';

/** How the slots of the part look: preview materials, which travel with GLB. */
const store = useProject();
const slots = computed(() => store.picture?.slots ?? []);
const lookOf = (slot: string): Material | undefined => store.project!.materials.find((m) => m.slot === slot);

const FELT = [
  { key: 'roughness', title: 'Rough', min: 0 },
  { key: 'metal', title: 'Metal', min: 0 },
  { key: 'opacity', title: 'Solid', min: 0.05 },
] as const;

function set(slot: string, change: Partial<Material>): void {
  const now = lookOf(slot) ?? checked(MaterialSchema, { slot, colour: '#d8ccba' });
  store.change(`Look of ${slot}`, setMaterial(store.project!, slot, { ...now, ...change }));
}
const drop = (slot: string): void => store.change(`Usual look of ${slot}`, setMaterial(store.project!, slot, null));
</script>

<template>
  <section v-if="slots.length">
    <h3>Materials to preview</h3>
    <fieldset v-for="slot in slots" :key="slot" class="slot">
      <legend>{{ slot }}</legend>
      <input
        type="color"
        :value="lookOf(slot)?.colour ?? '#d8ccba'"
        :aria-label="`Colour of ${slot}`"
        @change="set(slot, { colour: ($event.target as HTMLInputElement).value })"
      />
      <label v-for="f in FELT" :key="f.key">
        <span class="soft">{{ f.title }}</span>
        <input
          type="range"
          :min="f.min"
          max="1"
          step="0.05"
          :value="lookOf(slot)?.[f.key] ?? (f.key === 'opacity' ? 1 : f.key === 'metal' ? 0 : 0.8)"
          :aria-label="`${f.title}: ${slot}`"
          @change="set(slot, { [f.key]: Number(($event.target as HTMLInputElement).value) })"
        />
      </label>
      <button v-if="lookOf(slot)" :aria-label="`Usual look of ${slot}`" title="The usual look" @click="drop(slot)">
        Usual
      </button>
    </fieldset>
  </section>
</template>

<style scoped>
.slot {
  border: 1px solid var(--joint);
  padding: 4px 8px 8px;
  display: grid;
  grid-template-columns: 34px repeat(3, minmax(0, 1fr));
  gap: 4px 8px;
  align-items: end;
}
.slot + .slot {
  margin-top: 6px;
}
legend {
  padding: 0 4px;
  font-size: 13px;
}
label {
  display: grid;
  font-size: 12px;
}
input[type='color'] {
  width: 34px;
  height: 30px;
  padding: 1px;
  border: 1px solid var(--joint);
  background: none;
}
input[type='range'] {
  width: 100%;
  min-height: 24px;
  accent-color: var(--verdigris);
}
button {
  grid-column: 1 / -1;
  justify-self: start;
  min-height: 24px;
  padding: 0 8px;
  border: 1px solid var(--joint);
  background: none;
  cursor: pointer;
}
</style>
