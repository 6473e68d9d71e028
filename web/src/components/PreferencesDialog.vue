<script setup lang="ts">
import Dialog from 'primevue/dialog';
import Select from 'primevue/select';
import { computed } from 'vue';
import { SHORTEST } from '@dusky-mason/core/courses';
import { usePreferences, type PointerHabits } from '../stores/preferences.ts';
import { useProject } from '../stores/project.ts';
import LengthField from './LengthField.vue';

const open = defineModel<boolean>('open', { required: true });
const prefs = usePreferences();
const store = useProject();
const unit = computed(() => store.project?.unit ?? 'mm');
/** A closed list would keep the key to itself. */
function escape(e: KeyboardEvent): void {
  if ((e.target as HTMLElement).getAttribute('aria-expanded') !== 'true') open.value = false;
}

const HABITS = [
  {
    key: 'left',
    title: 'Left drag',
    options: [
      { value: 'turn', title: 'turns the view, right drag shifts it' },
      { value: 'shift', title: 'shifts the view, right drag turns it' },
    ],
  },
  {
    key: 'wheel',
    title: 'Wheel forward',
    options: [
      { value: 'towards', title: 'goes nearer' },
      { value: 'away', title: 'goes away' },
    ],
  },
  {
    key: 'touch',
    title: 'One finger',
    options: [
      { value: 'turn', title: 'turns the view, two shift it and zoom' },
      { value: 'shift', title: 'shifts the view, two turn it and zoom' },
    ],
  },
] satisfies { key: keyof PointerHabits; title: string; options: { value: string; title: string }[] }[];
const SMOOTH = [
  { value: 'card', title: 'with a graphics card' },
  { value: 'always', title: 'always' },
  { value: 'never', title: 'never' },
];
const THEMES = [
  { value: 'system', title: 'Same as the system' },
  { value: 'light', title: 'Light' },
  { value: 'night', title: 'Night' },
];
</script>

<template>
  <Dialog v-model:visible="open" header="Preferences" modal :draggable="false" dismissable-mask class="preferences">
    <div class="rows" @keydown.esc.capture="escape">
      <label for="pref-theme">Theme</label>
      <Select
        v-model="prefs.now.theme"
        input-id="pref-theme"
        aria-label="Theme"
        :options="THEMES"
        option-label="title"
        option-value="value"
        fluid
      />
      <label for="pref-step">Step</label>
      <div>
        <LengthField id="pref-step" v-model="prefs.now.step" as="length" label="Step" :unit="unit" :min="SHORTEST" />
        <small class="soft">Of handles with Shift, and of the arrow keys.</small>
      </div>
      <template v-for="h in HABITS" :key="h.key">
        <label :for="`pref-${h.key}`">{{ h.title }}</label>
        <Select
          v-model="prefs.now.pointer[h.key]"
          :input-id="`pref-${h.key}`"
          :aria-label="h.title"
          :options="h.options"
          option-label="title"
          option-value="value"
          fluid
        />
      </template>
      <label for="pref-smooth">Smooth lines</label>
      <div>
        <Select
          v-model="prefs.now.smooth"
          input-id="pref-smooth"
          aria-label="Smooth lines"
          :options="SMOOTH"
          option-label="title"
          option-value="value"
          fluid
        />
        <small class="soft">Applies when a view is opened next. Slows drawing without a graphics card.</small>
      </div>
      <label for="pref-limit">Longest run</label>
      <div>
        <LengthField
          id="pref-limit"
          v-model="prefs.now.limit"
          as="count"
          label="Longest run, seconds"
          :unit="unit"
          :min="2"
          :max="3600"
        />
        <small class="soft">Seconds. A course that takes longer is stopped and switched off.</small>
      </div>
    </div>
  </Dialog>
</template>

<style>
.preferences {
  width: min(420px, calc(100vw - 32px));
}
.preferences .rows {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 12px 10px;
  align-items: start;
}
.preferences label {
  padding-top: 6px;
}
.preferences small {
  display: block;
  margin-top: 3px;
  line-height: 1.25;
}
</style>
