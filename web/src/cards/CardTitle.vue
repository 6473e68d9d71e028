<script setup lang="ts">
/** The name at the head of a card, to be typed over. */
defineProps<{ name: string; label: string; line: string; disabled: boolean }>();
const emit = defineEmits<{ rename: [name: string] }>();

function put(e: Event): void {
  const name = (e.target as HTMLInputElement).value.trim();
  if (name) emit('rename', name);
}
</script>

<template>
  <header class="head">
    <h2>
      <input :value="name" :aria-label="label" maxlength="200" :disabled="disabled" @change="put" />
    </h2>
    <p class="soft">{{ line }}</p>
  </header>
</template>

<style scoped>
input {
  width: 100%;
  font-weight: 700;
  padding: 2px 5px;
  margin-left: -6px;
  border: 1px solid transparent;
  border-bottom: 1px dashed var(--joint);
  background: none;
  text-overflow: ellipsis;
}
input:hover:not(:disabled) {
  border-color: var(--joint);
}
p {
  line-height: 1.25;
  margin-top: 3px;
}
</style>
