<script setup lang="ts">
import { shallowRef, watch } from 'vue';
import { lengthOf, sub, dot, type Vec3 } from '@dusky-mason/core/mesh';
import { formatAngle, formatLength, type LengthUnit } from '@dusky-mason/core/units';
import { useCommands } from '../components/commands.ts';
import { useProject } from '../stores/project.ts';
import { useTools } from '../tools/tools.ts';
import FigureList from './FigureList.vue';

/** Distances, lengths and angles between what is picked. */
const props = defineProps<{ unit: LengthUnit }>();
const tools = useTools();
const store = useProject();
const figures = shallowRef<[string, string][]>([]);
watch(
  () => store.outcome?.key,
  () => (figures.value = []),
);
const l = (x: number) => formatLength(x, props.unit, 4);

const distance = (): void =>
  tools.pick({
    wants: 'point',
    asks: ['one point', 'another point'],
    got: [],
    done: ([a, b]) => {
      const d = sub(b!.point, a!.point);
      figures.value = [['Distance', l(lengthOf(d))], ...(['x', 'y', 'z'] as const).map((k, i): [string, string] => [`Along ${k}`, l(d[i]!)])]; // prettier-ignore
    },
  });
const outline = (): void =>
  tools.pick({
    wants: 'edge',
    asks: ['an edge of the outline'],
    got: [],
    done: ([e]) => {
      const run = e!.outline!;
      const around = run.reduce((s, p, i) => s + lengthOf(sub(run[(i + 1) % run.length]!, p)), 0);
      figures.value = [['Edge', l(lengthOf(sub(e!.edge![1], e!.edge![0])))], ['Its outline', `${l(around)}, ${run.length} edges`]]; // prettier-ignore
    },
  });
const angle = (): void =>
  tools.pick({
    wants: 'edge',
    asks: ['one edge', 'another edge'],
    got: [],
    done: ([a, b]) => {
      const way = (e: readonly [Vec3, Vec3]) => sub(e[1], e[0]);
      const [u, v] = [way(a!.edge!), way(b!.edge!)];
      const between = (p: Vec3, q: Vec3) => (Math.acos(Math.min(1, Math.abs(dot(p, q)) / (lengthOf(p) * lengthOf(q)))) * 180) / Math.PI; // prettier-ignore
      figures.value = [
        ['Between the edges', formatAngle(+between(u, v).toFixed(4))],
        ['Between their faces', formatAngle(+(180 - (Math.acos(Math.max(-1, Math.min(1, dot(a!.normal, b!.normal)))) * 180) / Math.PI).toFixed(4))], // prettier-ignore
      ];
    },
  });
useCommands([
  { id: 'measure-distance', title: 'Measure the distance between two points', also: 'gauge length ruler', when: () => !!store.picture, run: distance },
  { id: 'measure-outline', title: 'Measure the length of an outline', also: 'loop perimeter edge', when: () => !!store.picture, run: outline },
  { id: 'measure-angle', title: 'Measure the angle between two edges', also: 'dihedral', when: () => !!store.picture, run: angle },
]); // prettier-ignore
</script>

<template>
  <section>
    <h3>Measure</h3>
    <div class="acts">
      <button @click="distance">Distance</button>
      <button @click="outline">Outline</button>
      <button @click="angle">Angle</button>
    </div>
    <FigureList v-if="figures.length" :figures="figures" />
  </section>
</template>
