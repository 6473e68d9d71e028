<script setup lang="ts">
import { shallowRef, watch } from 'vue';
import { lengthOf, sub, dot, type Vec3 } from '@dusky-mason/core/mesh';
import { loopDistance } from '@dusky-mason/core/survey';
import { formatAngle, formatArea, formatLength, type LengthUnit } from '@dusky-mason/core/units';
import { useCommands } from '../words/commands.ts';
import { named } from '../words/stageCommands.ts';
import { sideEngine } from '../engine/engine.ts';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';
import { useSurvey } from '../stores/survey.ts';
import { useTools } from '../tools/tools.ts';
import FigureList from './FigureList.vue';

/** Distances, lengths and angles between what is picked. */
const props = defineProps<{ unit: LengthUnit }>();
const tools = useTools();
const store = useProject();
const notices = useNotices();
const survey = useSurvey();
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
      figures.value = [
        ['Distance', l(lengthOf(d))],
        ...(['x', 'y', 'z'] as const).map((k, i): [string, string] => [`Along ${k}`, l(d[i]!)]),
      ];
    },
  });
const boundary = (): void =>
  tools.pick({
    wants: 'edge',
    asks: ['an edge of the boundary'],
    got: [],
    done: ([e]) => {
      const run = e!.boundary!;
      const around = run.reduce((s, p, i) => s + lengthOf(sub(run[(i + 1) % run.length]!, p)), 0);
      figures.value = [
        ['Edge', l(lengthOf(sub(e!.edge![1], e!.edge![0])))],
        ['Its boundary', `${l(around)}, ${run.length} edges`],
      ];
    },
  });
const between = (): void =>
  tools.pick({
    wants: 'edge',
    corners: 3,
    asks: ['an edge of one boundary', 'an edge of the other'],
    got: [],
    done: ([a, b]) => {
      const d = loopDistance(a!.boundary!, b!.boundary!);
      figures.value = [
        ['Where nearest', l(d.least)],
        ['Between middles', l(d.middles)],
      ];
    },
  });
/** Asks the workshop, and shows its answer. */
async function told(work: () => Promise<[string, string][]>): Promise<void> {
  try {
    figures.value = await work();
  } catch (e) {
    notices.fail(e);
  }
}
const thick = (x: number | null) => (x === null ? 'nothing is across' : l(x));
const face = (): void =>
  tools.pick({
    wants: 'face',
    asks: ['a face, at the place where the wall below it is wanted'],
    got: [],
    done: ([p]) =>
      void told(async () => {
        const m = await sideEngine().ask({ kind: 'measure', part: store.part!, face: p!.face!, point: p!.point });
        return [
          ['Area', formatArea(m.area, props.unit)],
          ['Boundary', `${l(m.boundaries[0]!.length)}, ${m.boundaries[0]!.corners} corners`],
          ...m.boundaries
            .slice(1)
            .map((o, i): [string, string] => [`Hole ${i + 1}`, `${l(o.length)}, ${o.corners} corners`]),
          ['Bend', l(m.bend)],
          ['Wall, straight in', thick(m.ray)],
          ['Wall, by ball', thick(m.ball)],
        ];
      }),
  });
const wall = (): void =>
  tools.pick({
    wants: 'face',
    asks: ['a wall that a cut has made'],
    got: [],
    done: ([p]) =>
      void told(async () => {
        const cut = store.part!.courses.find((c) => c.id === p!.course);
        const { wall: w } = await sideEngine().ask({ kind: 'wall', part: store.part!, course: p!.course! });
        if (w) survey.flyTo(w.point);
        return [
          ['Beside', cut?.name ?? 'this face'],
          ['Thinnest, straight', w ? l(w.ray) : 'nothing is across'],
          ...(w ? [['Thinnest, by ball', l(w.ball)] as [string, string]] : []),
        ];
      }),
  });
const angle = (): void =>
  tools.pick({
    wants: 'edge',
    asks: ['one edge', 'another edge'],
    got: [],
    done: ([a, b]) => {
      const way = (e: readonly [Vec3, Vec3]) => sub(e[1], e[0]);
      const [u, v] = [way(a!.edge!), way(b!.edge!)];
      const lean = (p: Vec3, q: Vec3) =>
        (Math.acos(Math.min(1, Math.abs(dot(p, q)) / (lengthOf(p) * lengthOf(q)))) * 180) / Math.PI;
      figures.value = [
        ['Between the edges', formatAngle(+lean(u, v).toFixed(4))],
        [
          'Between their faces',
          formatAngle(
            +(180 - (Math.acos(Math.max(-1, Math.min(1, dot(a!.normal, b!.normal)))) * 180) / Math.PI).toFixed(4),
          ),
        ],
      ];
    },
  });
useCommands([
  {
    ...named('measure-distance'),
    when: () => !!store.picture,
    run: distance,
  },
  {
    ...named('measure-boundary'),
    when: () => !!store.picture,
    run: boundary,
  },
  {
    ...named('measure-between'),
    when: () => !!store.picture,
    run: between,
  },
  {
    ...named('measure-face'),
    when: () => !!store.picture,
    run: face,
  },
  {
    ...named('measure-wall'),
    when: () => !!store.picture,
    run: wall,
  },
  {
    ...named('measure-angle'),
    when: () => !!store.picture,
    run: angle,
  },
]);
</script>

<template>
  <section>
    <h3>Measure</h3>
    <div class="acts">
      <button @click="distance">Distance</button>
      <button @click="boundary">Boundary</button>
      <button @click="angle">Angle</button>
      <button title="Where two boundaries come nearest" @click="between">Two boundaries</button>
      <button title="Area, boundaries, and the wall below a place" @click="face">A face</button>
      <button title="The thinnest wall beside a cut, and where" @click="wall">Wall left</button>
    </div>
    <FigureList v-if="figures.length" :figures="figures" />
  </section>
</template>
