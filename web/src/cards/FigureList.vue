<script setup lang="ts">
/** Numbers that matter about a thing, each with its unit. */
defineProps<{ figures: readonly (readonly [title: string, value: string, places?: number])[] }>();
/** A figure with places was clicked: the next of them is wanted. */
defineEmits<{ go: [title: string] }>();
</script>

<template>
  <dl>
    <template v-for="[title, value, places] in figures" :key="title">
      <dt>{{ title }}</dt>
      <dd class="number">
        <button
          v-if="places"
          :title="places > 1 ? `Go to the next of ${places}` : 'Go there'"
          @click="$emit('go', title)"
        >
          {{ value }}<span class="unseen">: go to the next</span>
        </button>
        <template v-else>{{ value }}</template>
      </dd>
    </template>
  </dl>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: minmax(104px, auto) 1fr;
  gap: 3px 8px;
  margin: 0;
}
dt {
  color: var(--soft);
}
dd button {
  padding: 0 5px;
  font: inherit;
  color: inherit;
  border: 1px solid var(--joint);
  background: var(--raised);
  cursor: pointer;
}
dd button:hover {
  border-color: var(--verdigris);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
</style>
