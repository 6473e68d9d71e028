<script lang="ts">
import { ref as stateOf } from 'vue';

/** Stays as it was left, from one card to the next. */
const open = stateOf(false);
</script>

<script setup lang="ts">
import { computed, ref } from 'vue';
import {
  alongEdge,
  betweenEdges,
  centredAt,
  centredOn,
  droppedTo,
  movedAlong,
  ownAxes,
  placedBounds,
  seatedOn,
  turnedEndForEnd,
  type Placed,
} from '@dusky-mason/core/courses';
import type { Vec3 } from '@dusky-mason/core/mesh';
import { sketchPlane } from '@dusky-mason/core/shapes';
import { useCommands } from '../words/commands.ts';
import VectorRow from '../components/VectorRow.vue';
import type { Held } from '../stores/held.ts';
import { useProject } from '../stores/project.ts';
import { useShapes } from '../stores/shapes.ts';
import { useTools } from '../tools/tools.ts';

/** Ways to put what is picked in its place: by the part, by a face, by edges, by numbers. */
const props = defineProps<{ held: Held; onTop: boolean }>();
const store = useProject();
const shapes = useShapes();
const tools = useTools();
const unit = computed(() => store.project!.unit);

const extent = computed(() => shapes.box(props.held.placed.shape));
/** What it is centred on: of a cutter the part, of a base nothing but the origin. */
const box = computed(() => (props.held.kind === 'cutter' ? (store.outcome?.counts.bounds ?? null) : ORIGIN));
const ORIGIN = { min: [0, 0, 0], max: [0, 0, 0] } as const;
const face = computed(() => (tools.face?.part === store.part?.id || props.held.kind === 'base' ? tools.face : null));

const replace = (next: Placed, title: string): void =>
  store.change(`${title} ${props.held.name}`, props.held.put(store.project!, next));
const now = () => props.held.placed;

const centre = (axes: number[]): void => {
  if (box.value) replace(centredOn(now(), box.value, axes, extent.value), 'Centre');
};
const drop = (z: number): void => replace(droppedTo(now(), z, extent.value), 'Drop');
/** Height of the part's own bottom, mm; null for what is no cutter of a part. */
const bottom = computed(() => (props.held.kind === 'cutter' ? (store.outcome?.counts.bounds.min[2] ?? null) : null));
const turnOver = (): void => replace(turnedEndForEnd(now(), extent.value), 'Turn');
function seat(): void {
  const at = face.value;
  if (at) replace(seatedOn(now(), at.point, at.normal, props.onTop, extent.value), 'Seat');
}
const edge = (): void =>
  tools.pick({
    wants: 'edge',
    asks: ['the edge that it runs along'],
    got: [],
    done: ([e]) => replace(alongEdge(now(), e!.edge!, extent.value), 'Align'),
  });
const edges = (): void =>
  tools.pick({
    wants: 'edge',
    asks: ['the first edge, which it runs along', 'the second edge: it stands midway'],
    got: [],
    done: ([a, b]) => replace(betweenEdges(now(), a!.edge!, b!.edge!, extent.value), 'Align'),
  });
const onPoint = (): void =>
  tools.pick({
    wants: 'point',
    asks: ['a vertex, the middle of a face, of an opening or of an edge'],
    got: [],
    done: ([p]) => replace(centredAt(now(), p!.point, extent.value), 'Centre'),
  });

// Typed moves.
const AXIS_CHOICES = { own: 'its own axes', part: 'the part’s axes', face: 'the clicked face’s' } as const;
const along = ref<keyof typeof AXIS_CHOICES>('own');
const by = ref<[number, number, number]>([0, 0, 0]);
const axes = computed((): readonly [Vec3, Vec3, Vec3] | null => {
  if (along.value === 'own') return ownAxes(now().placement);
  if (along.value === 'part')
    return [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ];
  return tools.face && sketchPlane(tools.face.point, tools.face.normal, [1, 0, 0]).axes;
});
function move(): void {
  if (axes.value && by.value.some((x) => x !== 0)) replace(movedAlong(now(), by.value, axes.value), 'Move');
}

const what = computed(() => (props.held.kind === 'cutter' ? 'the cutter' : 'the base'));
const can = () => !store.readOnly;
const placed = computed(() => !!placedBounds(now(), extent.value));
useCommands(() => [
  {
    id: 'centre',
    title: `Centre ${what.value} on ${props.held.kind === 'cutter' ? 'the part' : 'the origin'}`,
    also: 'align middle',
    when: () => can() && placed.value && !!box.value,
    run: () => centre([0, 1, 2]),
  },
  {
    id: 'to-ground',
    title: bottom.value === null ? `Put ${what.value} at height 0` : `Put ${what.value} on the part’s bottom`,
    also: 'align floor ground drop sill',
    when: () => can() && placed.value,
    run: () => drop(bottom.value ?? 0),
  },
  {
    id: 'end-for-end',
    title: `Turn ${what.value} end for end`,
    also: 'flip reverse upside down mouth rotate 180',
    keys: 'I',
    when: () => can() && placed.value,
    run: turnOver,
  },
  {
    id: 'onto-face',
    title: `Seat ${what.value} on the face clicked last`,
    also: 'align normal re-seat',
    when: () => can() && !!face.value,
    run: seat,
  },
  { id: 'along-edge', title: `Align ${what.value} to an edge`, also: 'turn parallel', keys: 'E', when: can, run: edge },
  {
    id: 'between-edges',
    title: `Put ${what.value} midway between two edges`,
    also: 'align centre middle',
    when: can,
    run: edges,
  },
  {
    id: 'on-point',
    title: `Centre ${what.value} on a vertex, a face or an opening`,
    also: 'align snap move',
    when: can,
    run: onPoint,
  },
]);
</script>

<template>
  <details class="place-acts" :open="open" @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary>Put it in place</summary>
    <div class="acts" role="group" aria-label="Put it in place">
      <template v-if="placed">
        <button v-for="(axis, k) in ['x', 'y', 'z']" :key="axis" :title="`Along ${axis}`" @click="centre([k])">
          Centre {{ axis }}
        </button>
        <button v-if="bottom !== null" title="Moves its lowest point to the bottom of the part" @click="drop(bottom)">
          Onto the part’s bottom
        </button>
        <button title="Moves its lowest point to height 0 of the project" @click="drop(0)">To height 0</button>
        <button title="Turns it by half a turn about its middle, the other end first (I)" @click="turnOver">
          Turn end for end
        </button>
      </template>
      <button
        :disabled="!face"
        title="Stands it square on the face you clicked last, with its end in that face"
        @click="seat"
      >
        Onto the clicked face
      </button>
      <button title="Turns it to run along an edge (E)" @click="edge">Along an edge</button>
      <button title="Along the first, midway to the second" @click="edges">Between two edges</button>
      <button title="A vertex, the middle of a face, an opening or an edge" @click="onPoint">Onto a point</button>
    </div>
    <VectorRow v-model="by" title="Move by" as="length" :unit="unit" name="move-by" />
    <div class="acts">
      <select v-model="along" aria-label="Axes of the move">
        <option v-for="(title, key) in AXIS_CHOICES" :key="key" :value="key" :disabled="key === 'face' && !tools.face">
          {{ title }}
        </option>
      </select>
      <button :disabled="!axes" @click="move">Move</button>
    </div>
  </details>
</template>

<style scoped>
.place-acts {
  display: grid;
  gap: 8px;
}
.place-acts > :not(summary) {
  margin-top: 8px;
}
summary {
  cursor: pointer;
  color: var(--soft);
}
select {
  min-height: 28px;
  border: 1px solid var(--joint);
  background: var(--raised);
}
</style>
