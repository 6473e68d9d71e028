<script setup lang="ts">
import { computed, ref } from 'vue';
import {
  PICTURE_VIEWS,
  removePicture,
  setPicture,
  sizedByPoints,
  type PictureView,
  type ReferencePicture,
  SHORTEST,
} from '@dusky-mason/core/courses';
import { onPlane, sketchPlane, type Point2 } from '@dusky-mason/core/shapes';
import { parseLength } from '@dusky-mason/core/units';
import { SaidError, sentenceOf } from '@dusky-mason/core/mesh';
import { useCommands } from '../words/commands.ts';
import LengthField from '../components/LengthField.vue';
import { useNotices } from '../stores/notices.ts';
import { PICTURE_ENDINGS, usePictures } from '../stores/pictures.ts';
import { useProject } from '../stores/project.ts';
import { useTools } from '../tools/tools.ts';

/** Reference pictures pinned behind straight-on views, to trace over. They stay in this browser. */
const store = useProject();
const pictures = usePictures();
const tools = useTools();
const notices = useNotices();
const unit = computed(() => store.project!.unit);
const list = computed(() => store.project!.pictures);
const view = ref<PictureView>('front');
const chooser = ref<HTMLInputElement>();

const change = (title: string, x: ReferencePicture, to: Partial<ReferencePicture>): void =>
  store.change(`${title} of ${x.name}`, setPicture(store.project!, x.id, to));

async function pin(): Promise<void> {
  const [file] = chooser.value?.files ?? [];
  chooser.value!.value = '';
  if (!file) return;
  try {
    await pictures.pin(file, view.value);
    notices.say('said', `Look from ${PICTURE_VIEWS[view.value].title.toLowerCase()} to see it; size it by two points.`);
  } catch (e) {
    notices.fail(e);
  }
}

/** Two points of a picture that are a known distance apart: picked, then the distance is typed. */
const measured = ref<{ id: number; points: [Point2, Point2] } | null>(null);
const distance = ref('');
const wrong = ref<string | null>(null);
function measure(x: ReferencePicture): void {
  const { towards, right } = PICTURE_VIEWS[x.view];
  const plane = sketchPlane([0, 0, 0], towards, right);
  measured.value = null;
  tools.pick({
    wants: 'place',
    plane,
    asks: ['one point of the picture', 'another, a known distance away'],
    got: [],
    done: ([a, b]) => {
      measured.value = { id: x.id, points: [onPlane(plane, a!.point), onPlane(plane, b!.point)] };
    },
  });
}
function size(x: ReferencePicture): void {
  const [a, b] = measured.value!.points;
  try {
    const mm = parseLength(distance.value, unit.value);
    if (!(mm > 0)) throw new SaidError('Type a distance above 0.');
    const next = sizedByPoints(x, a, b, mm);
    if (next === x) throw new SaidError('Both points are the same. Pick two that are apart.');
    change('Size', x, { width: next.width, at: next.at });
    measured.value = null;
    distance.value = '';
    wrong.value = null;
  } catch (e) {
    wrong.value = sentenceOf(e);
  }
}
useCommands([
  {
    id: 'picture-pin',
    title: 'Pin a reference picture behind a view',
    also: 'image background blueprint trace',
    when: () => !store.readOnly,
    run: () => chooser.value?.click(),
  },
]);
</script>

<template>
  <section>
    <h3>Reference pictures</h3>
    <p v-if="!list.length" class="soft">
      Pin a picture behind a straight-on view and trace over it. It stays in this browser.
    </p>
    <fieldset v-for="x in list" :key="x.id" class="picture">
      <legend>{{ x.name }}, {{ PICTURE_VIEWS[x.view].title.toLowerCase() }}</legend>
      <fieldset class="bare" :disabled="x.locked">
        <label class="field">
          <span class="soft">Width</span>
          <LengthField
            :id="`picture-${x.id}-width`"
            :model-value="x.width"
            as="length"
            :label="`Width of ${x.name}`"
            :unit="unit"
            :min="SHORTEST"
            narrow
            @update:model-value="change('Width', x, { width: $event })"
          />
        </label>
        <label v-for="(title, k) in ['right', 'up']" :key="title" class="field">
          <span class="soft">{{ title }}</span>
          <LengthField
            :id="`picture-${x.id}-${k}`"
            :model-value="x.at[k]!"
            as="length"
            :label="`${x.name}, ${title}`"
            :unit="unit"
            narrow
            @update:model-value="change('Place', x, { at: k ? [x.at[0], $event] : [$event, x.at[1]] })"
          />
        </label>
        <label class="field">
          <span class="soft">Strength</span>
          <input
            type="range"
            min="0.05"
            max="1"
            step="0.05"
            :value="x.opacity"
            :aria-label="`Strength of ${x.name}`"
            @change="change('Strength', x, { opacity: Number(($event.target as HTMLInputElement).value) })"
          />
        </label>
      </fieldset>
      <form v-if="measured?.id === x.id" class="acts" @submit.prevent="size(x)">
        <input
          v-model="distance"
          class="number"
          :placeholder="`40 ${unit}`"
          :aria-label="`Distance between both points, in ${unit}`"
          :aria-invalid="!!wrong"
        />
        <button>Size it</button>
        <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
      </form>
      <div class="acts">
        <button :disabled="x.locked" @click="measure(x)">Size by two points</button>
        <button :aria-pressed="!x.shown" @click="change(x.shown ? 'Hide' : 'Show', x, { shown: !x.shown })">
          {{ x.shown ? 'Hide' : 'Show' }}
        </button>
        <button :aria-pressed="x.locked" @click="change(x.locked ? 'Unlock' : 'Lock', x, { locked: !x.locked })">
          {{ x.locked ? 'Unlock' : 'Lock' }}
        </button>
        <button :disabled="x.locked" @click="store.change(`Remove ${x.name}`, removePicture(store.project!, x.id))">
          Remove
        </button>
      </div>
    </fieldset>
    <div class="acts">
      <select v-model="view" aria-label="View to pin it behind">
        <option v-for="(v, key) in PICTURE_VIEWS" :key="key" :value="key">{{ v.title }}</option>
      </select>
      <button @click="chooser?.click()">Pin a picture</button>
      <input
        ref="chooser"
        type="file"
        class="unseen"
        tabindex="-1"
        aria-label="Picture to pin"
        :accept="PICTURE_ENDINGS.join(',')"
        @change="pin"
      />
    </div>
  </section>
</template>

<style scoped>
.picture {
  border: 1px solid var(--joint);
  padding: 4px 8px 8px;
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 6px 8px;
  margin-bottom: 6px;
}
legend {
  padding: 0 4px;
  font-size: 13px;
  overflow-wrap: anywhere;
}
.bare {
  grid-column: 1 / -1;
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 6px 8px;
}
.field {
  display: grid;
  font-size: 12px;
}
.acts {
  grid-column: 1 / -1;
}
input[type='range'] {
  width: 100%;
  accent-color: var(--verdigris);
}
.acts input.number {
  width: 90px;
  min-height: 28px;
  border: 1px solid var(--joint);
  background: var(--raised);
  padding: 0 6px;
}
select {
  min-height: 28px;
  border: 1px solid var(--joint);
  background: var(--raised);
}
.wrong {
  color: var(--brick);
}
</style>
