<script setup lang="ts">
import InputText from 'primevue/inputtext';
import { computed, ref, watch } from 'vue';
import {
  formatAngle,
  formatLength,
  lengthNumber,
  parseAngle,
  parseLength,
  type LengthUnit,
} from '@dusky-mason/core/units';
import { LONGEST } from '@dusky-mason/core/courses';
import { SaidError, sentenceOf } from '@dusky-mason/core/mesh';
import { refusalOf } from '../stores/refusals.ts';

/**
 * A typed number with a unit: a length (mm inside), an angle (degrees), a bare whole number or a factor. Reads sums,
 * fractions and units.
 */
const props = defineProps<{
  modelValue: number;
  as: 'length' | 'angle' | 'count' | 'factor' | 'share';
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
    if (!text.trim() || !Number.isFinite(n)) throw new SaidError('Type a number.');
    if (n === 0) throw new SaidError('A factor of 0 leaves nothing.');
    if (Math.abs(n) > MOST_FACTOR || Math.abs(n) < 1 / MOST_FACTOR)
      throw new SaidError(
        `Type a factor from ${1 / MOST_FACTOR} to ${MOST_FACTOR.toLocaleString('en')}, or the same below 0.`,
      );
    return n;
  }
  if (!text.trim() || !Number.isInteger(n)) throw new SaidError('Type a whole number.');
  return n;
}

/** The greatest factor, and the least one its inverse. */
const MOST_FACTOR = 1e6;
/**
 * How far a number may be from 0 where its field says nothing closer: angles go round a hundred times, and whole
 * numbers are exact.
 */
const BOUNDS = { length: LONGEST, angle: 36_000, count: 1e9, factor: MOST_FACTOR, share: 1e3 };

/** Percent, or a fraction of the whole: `25`, `25 %`, `1/3`. */
function readShare(text: string): number {
  const plain = text.trim().replace(/%$/, '').replace(',', '.');
  const parts = plain.split('/').map((s) => (s.trim() ? Number(s) : NaN));
  const x = parts.length === 2 ? parts[0]! / parts[1]! : parts[0]! / 100;
  if (parts.length > 2 || !Number.isFinite(x)) throw new SaidError('Percent, or a fraction such as 1/3.');
  return x;
}

function problemOf(x: number): string | null {
  const own = props.check?.(x);
  if (own) return own;
  const say = (n: number) =>
    props.as === 'length'
      ? Math.abs(n) >= 1e5
        ? formatLength(n, 'm')
        : formatLength(n, props.unit, 8)
      : props.as === 'share'
        ? `${100 * n} %`
        : String(n);
  const bound = BOUNDS[props.as];
  const [min, max] = [props.min ?? -bound, props.max ?? bound];
  if (x < min) return `At least ${say(min)}.`;
  return x > max ? `At most ${say(max)}.` : null;
}

function settle(): void {
  try {
    const x = read(typed.value);
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
  put();
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
