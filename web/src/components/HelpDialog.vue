<script setup lang="ts">
import Dialog from 'primevue/dialog';
import { computed, ref } from 'vue';
import pages from 'virtual:guide';
import { useWalk } from '../stores/walk.ts';

/** The guide, what each of our words means, and the first walk again. */
const open = defineModel<boolean>('open', { required: true });
const walk = useWalk();
const at = ref(pages[0]!.id);
const page = computed(() => pages.find((p) => p.id === at.value) ?? pages[0]!);
function begin(): void {
  walk.begin();
  open.value = false;
}
</script>

<template>
  <Dialog v-model:visible="open" header="Help" modal :draggable="false" dismissable-mask class="help-dialog">
    <div class="help">
      <nav aria-label="Pages of the guide">
        <button v-for="p in pages" :key="p.id" :aria-current="p.id === at ? 'page' : undefined" @click="at = p.id">
          {{ p.title }}
        </button>
        <button class="walk" @click="begin">Take the first walk</button>
      </nav>
      <article :key="page.id" tabindex="0" :aria-label="page.title">
        <h2>{{ page.title }}</h2>
        <!-- Made from our own documents when the page is built. -->
        <!-- eslint-disable-next-line vue/no-v-html -->
        <div v-html="page.html"></div>
      </article>
    </div>
  </Dialog>
</template>

<style scoped>
.help {
  display: grid;
  grid-template-columns: 170px minmax(0, 1fr);
  gap: 18px;
  width: min(860px, calc(100vw - 80px));
  height: min(560px, calc(100vh - 150px));
}
nav {
  display: flex;
  flex-direction: column;
  gap: 2px;
}
nav button {
  padding: 7px 10px;
  border: 0;
  background: none;
  text-align: left;
  cursor: pointer;
}
nav button:hover {
  background: var(--raised);
}
nav [aria-current] {
  background: var(--block);
  box-shadow: inset 3px 0 var(--verdigris);
  font-weight: 600;
}
nav .walk {
  margin-top: auto;
  border: 1px solid var(--joint);
  background: var(--raised);
}
article {
  overflow: auto;
  padding-right: 12px;
  line-height: 1.5;
}
article :deep(h2) {
  margin: 18px 0 6px;
  font-size: 16px;
}
article > h2 {
  margin-top: 0;
  font-size: 19px;
}
article :deep(table) {
  border-collapse: collapse;
}
article :deep(td),
article :deep(th) {
  padding: 4px 14px 4px 0;
  border-bottom: 1px solid var(--joint);
  text-align: left;
  vertical-align: top;
}
article :deep(ul) {
  padding-left: 18px;
}
@media (max-width: 820px) {
  .help {
    grid-template-columns: 1fr;
    grid-template-rows: auto minmax(0, 1fr);
    gap: 8px;
  }
  nav {
    flex-flow: row wrap;
  }
}
</style>
