<script setup lang="ts">
import InputText from 'primevue/inputtext';
import { computed, ref, watch } from 'vue';
import { formatAngle, lengthNumber, parseAngle, parseLength, type LengthUnit } from '@dusky-mason/core/units';

/** A typed number with a unit: a length (mm inside), an angle (degrees), a bare whole number or a factor. Reads sums, fractions and units. */
const props = defineProps<{
  modelValue: number;
  as: 'length' | 'angle' | 'count' | 'factor' | 'share';
  label: string;
  unit: LengthUnit;
  min?: number;
  max?: number;
  /** Whether a length may be 0. */
  zero?: boolean;
  id: string;
  /** One of three in a row: its unit stands beside the row, its axis before it. */
  narrow?: boolean;
}>();
const emit = defineEmits<{ 'update:modelValue': [value: number] }>();

const shown = (x: number): string =>
  props.as === 'length'
    ? lengthNumber(x, props.unit)
    : props.as === 'angle'
      ? formatAngle(x).replace('°', '')
      : props.as === 'share'
        ? String(+(100 * x).toPrecision(6))
        : String(x);
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

function read(text: string): number {
  if (props.as === 'length') return parseLength(text, props.unit);
  if (props.as === 'angle') return parseAngle(text);
  if (props.as === 'share') return readShare(text);
  const n = Number(text.trim().replace(',', '.'));
  if (props.as === 'factor') {
    if (!Number.isFinite(n) || n === 0 || Math.abs(n) > 1e6) throw new Error('A number other than 0 is needed.');
    return n;
  }
  if (!Number.isInteger(n)) throw new Error('A whole number is needed.');
  return n;
}

/** Percent, or a fraction of the whole: `25`, `25 %`, `1/3`. */
function readShare(text: string): number {
  const plain = text.trim().replace(/%$/, '').replace(',', '.');
  const parts = plain.split('/').map((s) => (s.trim() ? Number(s) : NaN));
  const x = parts.length === 2 ? parts[0]! / parts[1]! : parts[0]! / 100;
  if (parts.length > 2 || !Number.isFinite(x)) throw new Error('Percent, or a fraction such as 1/3.');
  return x;
}

function check(x: number): void {
  const say = (n: number) =>
    props.as === 'length'
      ? `${lengthNumber(n, props.unit)} ${props.unit}`
      : props.as === 'share'
        ? `${100 * n} %`
        : String(n);
  if (props.as === 'length' && props.min === 0 && !props.zero && x <= 0) throw new Error('It must be above 0.');
  if (props.min !== undefined && x < props.min) throw new Error(`At least ${say(props.min)}.`);
  if (props.max !== undefined && x > props.max) throw new Error(`At most ${say(props.max)}.`);
}

function settle(): void {
  try {
    const x = read(typed.value);
    if (x !== props.modelValue) check(x);
    problem.value = '';
    if (x === props.modelValue) typed.value = shown(x);
    else emit('update:modelValue', x);
  } catch (e) {
    problem.value = e instanceof Error ? e.message : String(e);
  }
}

function put(): void {
  typed.value = shown(props.modelValue);
  problem.value = '';
}
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
      @keydown.enter="settle"
      @keydown.esc="put"
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
</style>
