<script setup lang="ts">
import { X } from '@lucide/vue';
import { useNotices } from '../stores/notices.ts';

const notices = useNotices();
const words = { said: 'Note', warning: 'Mind', problem: 'Problem' } as const;
</script>

<template>
  <div class="notices" aria-live="polite" role="status">
    <div v-for="n in notices.list" :key="n.id" class="notice" :class="n.kind">
      <p>
        <strong>{{ words[n.kind] }}.</strong> {{ n.text }}
      </p>
      <button v-if="n.act" class="act" @click="(n.act.run(), notices.close(n.id))">{{ n.act.title }}</button>
      <button class="close" aria-label="Dismiss this note" @click="notices.close(n.id)"><X :size="16" /></button>
    </div>
  </div>
</template>

<style scoped>
.notices {
  position: fixed;
  z-index: 50;
  left: 50%;
  bottom: 92px;
  transform: translateX(-50%);
  display: grid;
  gap: 6px;
  width: min(560px, calc(100vw - 32px));
  pointer-events: none;
}
.notice {
  pointer-events: auto;
  display: flex;
  gap: 12px;
  align-items: start;
  padding: 10px 12px;
  background: var(--raised);
  border: 1px solid var(--joint);
  border-left: 5px solid var(--verdigris);
}
.notice p {
  flex: 1;
  overflow-wrap: anywhere;
}
.warning {
  border-left-color: var(--ochre);
}
.problem {
  border-left: 5px double var(--brick);
}
button {
  background: none;
  border: 0;
  padding: 2px 4px;
  min-width: 24px;
  min-height: 24px;
  cursor: pointer;
}
.act {
  text-decoration: underline;
  font-weight: 600;
  white-space: nowrap;
}
</style>
