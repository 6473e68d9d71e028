<script setup lang="ts">
import InputText from 'primevue/inputtext';
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import type { LengthUnit } from '@dusky-mason/core/units';
import { sentenceOf } from '@dusky-mason/core/mesh';
import { refusalOf } from '../stores/refusals.ts';
import { useLabelDrag } from './labelDrag.ts';
import { boundProblem, readNumber, shownNumber, stepped, type NumberKind } from './typedNumber.ts';

/**
 * A typed number with a unit: a length (mm inside), an angle (degrees), a bare whole number, a factor or a share. Reads
 * sums, fractions and units; goes by steps with the arrow keys, the wheel and a drag on its label.
 */
const props = defineProps<{
  modelValue: number;
  as: NumberKind;
  label: string;
  unit: LengthUnit;
  /** Least and greatest value; without them a length is within 10 km either way, an angle within a hundred turns. */
  min?: number;
  max?: number;
  /** What is wrong with a value, in one sentence: what the schema says of it. */
  check?: (value: number) => string | null;
  id: string;
  /** One of three in a row: its unit stands beside the row, its axis before it. */
  narrow?: boolean;
}>();
const emit = defineEmits<{ 'update:modelValue': [value: number] }>();

/** Steps are committed once they rest for so long, ms: a key that is held makes one change. */
const REST = 150;

const shown = (x: number): string => shownNumber(x, props.as, props.unit);
const typed = ref(shown(props.modelValue));
const problem = ref('');
watch(
  () => [props.modelValue, props.unit] as const,
  () => {
    typed.value = shown(props.modelValue);
    problem.value = '';
  },
);
const suffix = computed(() =>
  props.narrow ? '' : props.as === 'length' ? props.unit : props.as === 'angle' ? '°' : props.as === 'share' ? '%' : '',
);

const problemOf = (x: number): string | null =>
  props.check?.(x) ?? boundProblem(x, props.as, props.unit, { min: props.min, max: props.max });

function settle(): void {
  clearTimeout(resting);
  resting = undefined;
  try {
    const x = readNumber(typed.value, props.as, props.unit);
    if (x === props.modelValue) {
      put();
      return;
    }
    // A refusal by the document shows here, too, and the old value stays.
    problem.value = problemOf(x) ?? refusalOf(() => emit('update:modelValue', x)) ?? '';
  } catch (e) {
    problem.value = sentenceOf(e);
  }
}

function put(): void {
  typed.value = shown(props.modelValue);
  problem.value = '';
}

/** Esc puts back what was typed; where nothing was, it steps back in what is going on. */
function escape(e: KeyboardEvent): void {
  if (typed.value !== shown(props.modelValue) || problem.value) e.stopPropagation();
  clearTimeout(resting);
  resting = undefined;
  put();
}

let resting: ReturnType<typeof setTimeout> | undefined;
const flush = (): void => {
  if (resting !== undefined) settle();
};

/** Goes some steps on from what is typed: ten times as far with Shift, a tenth with Alt; commits once that rests. */
function step(steps: number, keys: { shiftKey: boolean; altKey: boolean }, commits = true): void {
  const by = steps * (keys.shiftKey ? 10 : keys.altKey ? 0.1 : 1);
  let x = props.modelValue;
  try {
    // The field shows fewer digits than the value has.
    if (typed.value !== shown(x)) x = readNumber(typed.value, props.as, props.unit);
  } catch {
    // What cannot be read gives way to the value before.
  }
  typed.value = shown(stepped(x, by, props.as, props.unit, { min: props.min, max: props.max }));
  clearTimeout(resting);
  if (commits) resting = setTimeout(settle, REST);
}

function wheel(e: WheelEvent): void {
  if (document.activeElement !== e.currentTarget || !e.deltaY) return;
  e.preventDefault();
  step(-Math.sign(e.deltaY), e);
}

/** A click into a field that had not the focus selects all of it; a drag over its text selects that. */
let fresh = false;
function press(e: PointerEvent): void {
  fresh = document.activeElement !== e.currentTarget;
}
function release(e: PointerEvent): void {
  const input = e.currentTarget as HTMLInputElement;
  if (fresh && input.selectionStart === input.selectionEnd) input.select();
  fresh = false;
}

// A drag is one change, however slowly it goes.
useLabelDrag(
  props.id,
  (steps, e) => step(steps, e, false),
  (kept) => (kept ? settle() : put()),
);
onBeforeUnmount(() => clearTimeout(resting));
</script>

<template>
  <span class="field" :class="{ narrow }">
    <InputText
      :id="id"
      v-model="typed"
      class="number"
      :data-settled="typed === shown(modelValue)"
      :aria-label="label"
      :aria-invalid="!!problem"
      :aria-describedby="problem ? `${id}-problem` : undefined"
      :invalid="!!problem"
      autocomplete="off"
      spellcheck="false"
      @change="settle"
      @blur="flush"
      @pointerdown="press"
      @pointerup="release"
      @wheel="wheel"
      @keydown.up.prevent="step(1, $event)"
      @keydown.down.prevent="step(-1, $event)"
      @keydown.enter="settle"
      @keydown.esc="escape"
    />
    <span v-if="suffix" class="suffix soft" aria-hidden="true">{{ suffix }}</span>
    <span v-if="problem" :id="`${id}-problem`" class="problem" role="alert">{{ problem }}</span>
  </span>
</template>

<style scoped>
.field {
  position: relative;
  display: block;
  min-width: 0;
}
.field :deep(input) {
  width: 100%;
  padding-right: 30px;
}
.narrow :deep(input) {
  padding: 5px 2px 5px 15px;
  font-size: 12px;
}
.suffix {
  position: absolute;
  right: 8px;
  top: 7px;
  font-size: 12px;
  pointer-events: none;
}
.problem {
  display: block;
  color: var(--brick);
  font-size: 12px;
  line-height: 1.25;
  margin-top: 2px;
}
/* In a row of three a sentence has no room below its field: it lies over what follows, until it is put right. */
.narrow .problem {
  position: absolute;
  z-index: 2;
  left: 0;
  top: 100%;
  width: 190px;
  padding: 5px 7px;
  background: var(--raised);
  border: 1px solid var(--brick);
}
</style>
