<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue';
import { MasonError } from '@dusky-mason/core/mesh';
import { clearanceOf, gauge, type Gauged } from '@dusky-mason/core/survey';
import { SHORTEST } from '@dusky-mason/core/courses';
import { formatLength, type LengthUnit } from '@dusky-mason/core/units';
import { useCommands } from '../words/commands.ts';
import { named } from '../words/stageCommands.ts';
import LengthField from '../components/LengthField.vue';
import { EngineError } from '../engine/client.ts';
import { sideEngine } from '../engine/engine.ts';
import { useProject } from '../stores/project.ts';
import { useTools } from '../tools/tools.ts';
import FigureList from './FigureList.vue';

/** The plug gauge: is a hole round, how wide, and does a plug go in? */
const props = defineProps<{ unit: LengthUnit }>();
const tools = useTools();
const store = useProject();
const found = shallowRef<Gauged | null>(null);
const problem = ref('');
const plug = ref(0);

watch(
  () => store.outcome?.key,
  () => (found.value = null),
);

async function measure(fit: () => Gauged | Promise<Gauged>): Promise<void> {
  try {
    found.value = await fit();
    problem.value = '';
    plug.value = +(2 * found.value.radius).toFixed(3);
  } catch (e) {
    if (!(e instanceof MasonError || e instanceof EngineError)) throw e;
    found.value = null;
    problem.value = e.message;
  }
}
const rims = (asks: string[]): void =>
  tools.pick({
    wants: 'edge',
    corners: 5,
    asks,
    got: [],
    done: (picks) => void measure(() => gauge(picks.flatMap((p) => p.boundary!))),
  });
const one = (): void => rims(['an edge of the rim']);
const both = (): void => rims(['an edge of one rim', 'an edge of the other']);

const wall = (): void =>
  tools.pick({
    wants: 'face',
    asks: ['a flat of a round wall'],
    got: [],
    done: ([p]) =>
      void measure(async () => (await sideEngine().ask({ kind: 'gauge', part: store.part!, face: p!.face! })).gauged),
  });

const l = (x: number) => formatLength(x, props.unit, 4);
const figures = computed((): [string, string][] => {
  const g = found.value;
  if (!g) return [];
  return [
    ['Diameter', l(2 * g.radius)],
    ['Centre', g.centre.map((x) => formatLength(x, props.unit, 3).replace(/ \S+$/, '')).join(', ')],
    ['Axis', g.axis.map((x) => +x.toFixed(4) + 0).join(', ')],
    ['Greatest error', l(g.worst)],
    ['Out of round', `${l(g.outOfRound)}; at best ${l(g.leastZone)}`],
    ...(g.taper ? [['Taper', `${+(1000 * g.taper).toFixed(3)} mm a m`] as [string, string]] : []),
    ['Flats', `cost ${l(g.sagitta)}; no error`],
    ['Rim', g.flat ? 'in one plane' : 'on a curved surface'],
  ];
});
const room = computed(() => (found.value ? clearanceOf(found.value, plug.value) : 0));

/** Side of the picture, and the radius at which the fitted circle is drawn in it, its units. */
const SIZE = 200;
const RING = 70;
/** How much departures are drawn larger than they are: the worst is a quarter of the ring. */
const times = computed(() => {
  const g = found.value;
  if (!g || g.worst < 1e-9 * g.radius) return 1;
  return (0.25 * g.radius) / g.worst;
});
const path = computed(() => {
  const g = found.value;
  if (!g) return '';
  const order = [...g.angles.keys()].sort((i, j) => g.angles[i]! - g.angles[j]!);
  const points = order.map((i) => {
    const r = RING * (1 + (times.value * g.departures[i]!) / g.radius);
    const a = (g.angles[i]! * Math.PI) / 180;
    return `${(SIZE / 2 + r * Math.cos(a)).toFixed(2)} ${(SIZE / 2 - r * Math.sin(a)).toFixed(2)}`;
  });
  return `M${points.join('L')}Z`;
});
useCommands([
  {
    ...named('gauge'),
    when: () => !!store.picture,
    run: one,
  },
  {
    ...named('gauge-wall'),
    when: () => !!store.picture,
    run: wall,
  },
]);
</script>

<template>
  <section>
    <h3>Plug gauge</h3>
    <div class="acts">
      <button title="Click an edge of a round rim" @click="one">A rim</button>
      <button title="Click a flat of a round wall: all of its corners" @click="wall">A wall</button>
      <button title="Both rims of a wall: its taper, too" @click="both">Both rims</button>
    </div>
    <p v-if="problem" class="warning">{{ problem }}</p>
    <template v-if="found">
      <FigureList :figures="figures" />
      <svg
        :viewBox="`0 0 ${SIZE} ${SIZE}`"
        role="img"
        :aria-label="`Deviations from the circle, ${times.toPrecision(2)} times larger`"
      >
        <circle :cx="SIZE / 2" :cy="SIZE / 2" :r="RING" />
        <path :d="path" />
      </svg>
      <p class="soft small">
        {{
          times === 1 ? 'Every corner lies on the circle.' : `Deviations drawn ${times.toPrecision(2)} times larger.`
        }}
      </p>
      <div class="plug">
        <label for="plug">A plug of</label>
        <LengthField id="plug" v-model="plug" as="length" label="Diameter of the plug" :unit="unit" :min="SHORTEST" />
        <span :class="{ warning: room < 0 }">{{
          room >= 0 ? `fits, with ${l(room)} of clearance all round` : `does not fit: ${l(-room)} too wide`
        }}</span>
      </div>
    </template>
  </section>
</template>

<style scoped>
svg {
  width: 200px;
  height: 200px;
  display: block;
  margin: 6px auto 0;
}
circle {
  fill: none;
  stroke: var(--joint);
  stroke-dasharray: 4 3;
}
path {
  fill: none;
  stroke: var(--verdigris);
  stroke-width: 1.6;
}
.small {
  font-size: 12.5px;
  text-align: center;
}
.plug {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 6px 8px;
  align-items: center;
}
.plug span {
  grid-column: 1 / -1;
}
.warning {
  padding-left: 9px;
  border-left: 3px solid var(--ochre);
}
</style>
