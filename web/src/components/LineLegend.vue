<script setup lang="ts">
import { LINE_LOOKS } from '../viewport/lines.ts';
</script>

<template>
  <section>
    <h3>Lines in the view</h3>
    <ul>
      <li v-for="(look, name) in LINE_LOOKS" :key="name">
        <svg width="44" height="8" aria-hidden="true">
          <line
            x1="0"
            y1="4"
            x2="44"
            y2="4"
            stroke="currentColor"
            :stroke-width="look.width"
            :stroke-dasharray="look.dash.join(' ')"
            :opacity="Math.max(0.5, look.opacity)"
          />
        </svg>
        {{ look.title }}
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 56px 1fr;
  align-items: center;
  padding: 2px 0;
}
</style>
