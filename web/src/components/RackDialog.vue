<script setup lang="ts">
import Dialog from 'primevue/dialog';
import { computed, ref, watch } from 'vue';
import { rackPicture, sizeWords, type RackItem } from '@dusky-mason/core/courses';
import { saveFile } from '../stores/files.ts';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';
import { usePanels } from '../stores/panels.ts';
import { useRack } from '../stores/rack.ts';
import { useTools } from '../tools/tools.ts';
import { useCommands } from '../words/commands.ts';

/** Cutters kept across projects: found, stamped, named, tagged, taken out and brought in. */
const rack = useRack();
const panels = usePanels();
const store = useProject();
const tools = useTools();
const notices = useNotices();
const typed = ref('');
const editing = ref<string | null>(null);
const chooser = ref<HTMLInputElement>();
const unit = computed(() => store.project?.unit ?? 'mm');
const shown = computed(() => (panels.rack ? rack.find(typed.value) : []));

watch(
  () => panels.rack,
  (is) => {
    editing.value = null;
    if (is) rack.load().catch((e: unknown) => notices.fail(e));
  },
);

async function stamp(i: RackItem): Promise<void> {
  try {
    const item = await rack.ready(i);
    panels.rack = false;
    tools.stampWith(item);
  } catch (e) {
    notices.fail(e);
  }
}
const offer = (): void => saveFile('rack.json', new TextEncoder().encode(rack.file()), 'application/json');
async function bring(): Promise<void> {
  const [file] = chooser.value?.files ?? [];
  chooser.value!.value = '';
  if (!file) return;
  try {
    notices.say('said', `${await rack.addFile(await file.text())} cutters added to the rack.`);
  } catch (e) {
    notices.fail(e);
  }
}
const tagsOf = (text: string) =>
  text
    .split(/[\s,]+/)
    .filter(Boolean)
    .slice(0, 20);
useCommands([
  {
    id: 'rack',
    title: 'Open the rack',
    also: 'library stamp kept cutters',
    keys: 'K',
    when: () => !!store.part && !store.readOnly,
    run: () => {
      panels.rack = true;
    },
  },
]);
</script>

<template>
  <Dialog v-model:visible="panels.rack" header="Rack" modal :draggable="false" dismissable-mask>
    <div class="rack">
      <div class="top">
        <input v-model="typed" aria-label="Find on the rack" placeholder="Find by name or tag" />
        <button @click="offer">Save as a file</button>
        <button @click="chooser?.click()">Load a file</button>
        <input
          ref="chooser"
          type="file"
          accept=".json"
          class="unseen"
          tabindex="-1"
          aria-label="Rack file"
          @change="bring"
        />
      </div>
      <p v-if="!shown.length" class="soft">No cutter of that name. Add one from its card: “Put it on the rack”.</p>
      <ul>
        <li v-for="i in shown" :key="i.id">
          <button class="item" :title="`Stamp ${i.name} on faces`" @click="stamp(i)">
            <svg viewBox="0 0 100 100" aria-hidden="true"><path :d="rackPicture(i)" /></svg>
            <span>{{ i.name }}</span>
            <span class="soft number">{{ sizeWords(i.shape, unit) }}</span>
          </button>
          <template v-if="editing === i.id">
            <input
              :value="i.name"
              :aria-label="`Name of ${i.name}`"
              maxlength="200"
              @change="rack.change(i.id, { name: ($event.target as HTMLInputElement).value || i.name })"
            />
            <input
              :value="i.tags.join(' ')"
              :aria-label="`Tags of ${i.name}`"
              placeholder="tags"
              @change="rack.change(i.id, { tags: tagsOf(($event.target as HTMLInputElement).value) })"
            />
            <button :aria-label="`Take ${i.name} off the rack`" @click="rack.remove(i.id)">Remove</button>
          </template>
          <button v-else class="edit" :aria-label="`Change ${i.name}`" @click="editing = i.id">Change</button>
        </li>
      </ul>
    </div>
  </Dialog>
</template>

<style scoped>
.rack {
  width: min(720px, 88vw);
  max-height: 66vh;
  overflow: auto;
  display: grid;
  gap: 10px;
}
.top {
  display: flex;
  gap: 6px;
}
.top input:not(.unseen) {
  flex: 1;
}
input,
button {
  min-height: 30px;
  padding: 1px 8px;
  border: 1px solid var(--joint);
  background: var(--raised);
}
button {
  cursor: pointer;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(156px, 1fr));
  gap: 8px;
}
li {
  display: grid;
  gap: 3px;
  align-content: start;
}
.item {
  display: grid;
  justify-items: center;
  gap: 2px;
  padding: 8px;
}
.item:hover {
  border-color: var(--ink);
}
svg {
  width: 84px;
  height: 84px;
}
path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1;
}
.edit {
  min-height: 24px;
  background: none;
}
</style>
