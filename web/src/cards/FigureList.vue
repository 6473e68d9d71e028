<script setup lang="ts">
/** Numbers that matter about a thing, each with its unit. */
defineProps<{ figures: readonly (readonly [title: string, value: string])[] }>();
</script>

<template>
  <dl>
    <template v-for="[title, value] in figures" :key="title">
      <dt>{{ title }}</dt>
      <dd class="number">{{ value }}</dd>
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
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
</style>
