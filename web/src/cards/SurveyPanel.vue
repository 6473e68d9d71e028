<script setup lang="ts">
import { computed, nextTick, watch } from 'vue';
import { useRoute } from 'vue-router';
import { SLIVER_ANGLE } from '@dusky-mason/core/survey';
import { formatArea, formatLength, formatVolume } from '@dusky-mason/core/units';
import { solidState } from '../components/counts.ts';
import LineLegend from '../components/LineLegend.vue';
import { useProject } from '../stores/project.ts';

const store = useProject();
const route = useRoute();
const unit = computed(() => store.project!.unit);
const c = computed(() => store.outcome?.counts ?? null);
const state = computed(() => solidState(c.value));

interface Row {
  id: string;
  title: string;
  value: string;
  bad: boolean;
  /** What it is and why it matters, where it is not plain. */
  why?: string;
}

const groups = computed((): { title: string; rows: Row[] }[] => {
  const s = c.value;
  if (!s) return [];
  const row = (id: string, title: string, n: number, why: string): Row => ({ id, title, value: String(n), bad: n > 0, why });
  const plain = (id: string, title: string, value: string | number, why?: string): Row => ({ id, title, value: String(value), bad: false, why });
  const size = s.bounds.max.map((x, k) => formatLength(x - s.bounds.min[k]!, unit.value, 2).replace(/ \S+$/, ''));
  return [
    {
      title: 'What would spoil it',
      rows: [
        row('openEdges', 'Open edges', s.openEdges, 'One face only. The part has no inside there: no cut, no print.'),
        row('nonManifoldEdges', 'Non-manifold edges', s.nonManifoldEdges, 'Three faces or more. A bevel cannot tell which way to go.'),
        row('nonManifoldVertices', 'Pinched vertices', s.nonManifoldVertices, 'Faces meet at a point only.'),
        row('flippedEdges', 'Flipped edges', s.flippedEdges, 'One of the two faces looks inward: it shades dark, and renderers drop it.'),
        row('degenerateFaces', 'Faces without area', s.degenerateFaces, 'They have no direction, so shading breaks at them.'),
        row('duplicateFaces', 'Doubled faces', s.duplicateFaces, 'Two faces on the same vertices.'),
        row('slivers', 'Slivers', s.slivers, `A corner under ${SLIVER_ANGLE}°. They streak in the light and stop a bevel short.`),
      ],
    },
    {
      title: 'What it is made of',
      rows: [
        plain('faces', 'Faces', s.faces),
        plain('quads', 'Quads', s.quads),
        plain('ngons', 'N-gons', s.ngons, 'Five corners or more, or holes in the face. Fine on flat faces.'),
        plain('triangles', 'Triangles', s.triangles),
        plain('vertices', 'Vertices', s.vertices),
        plain('edges', 'Edges', s.edges),
        plain('components', 'Separate bodies', s.components),
        plain('boundaryLoops', 'Open outlines', s.boundaryLoops),
        plain('genus', 'Holes through (genus)', s.genus ?? 'unknown: not closed'),
      ],
    },
    {
      title: 'What it measures',
      rows: [
        plain('volume', 'Volume', s.volume === null ? 'none: not closed' : formatVolume(s.volume, unit.value)),
        plain('area', 'Surface', formatArea(s.area, unit.value)),
        plain('size', 'Size', `${size.join(' × ')} ${unit.value}`),
      ],
    },
  ];
}); // prettier-ignore

const at = computed(() => String(route.query.at ?? ''));
watch(
  [at, c],
  async () => {
    await nextTick();
    document.getElementById(`row-${at.value}`)?.scrollIntoView({ block: 'nearest' });
  },
  { immediate: true },
);
</script>

<template>
  <header>
    <h2>Survey</h2>
    <p class="soft">
      {{ store.part ? `What ${store.part.name} is like after its last course.` : 'There is no part to look at.' }}
    </p>
  </header>
  <p v-if="c" class="verdict" :class="{ bad: !state.sound }">
    <strong>{{ state.mark }} {{ state.words }}.</strong>
    {{
      state.sound
        ? 'Nothing here would stop a bevel, a print or an export.'
        : 'The lines marked ▲ say what is in the way.'
    }}
  </p>
  <p v-else-if="store.part" class="soft">Measuring …</p>
  <section v-for="g in groups" :key="g.title">
    <h3>{{ g.title }}</h3>
    <ul>
      <li v-for="r in g.rows" :id="`row-${r.id}`" :key="r.id" :class="{ at: r.id === at, bad: r.bad }">
        <span class="title">{{ r.title }}</span>
        <span class="number">{{ r.bad ? '▲ ' : '' }}{{ r.value }}</span>
        <small v-if="r.why && (r.bad || r.id === at || r.id === 'ngons')" class="soft">{{ r.why }}</small>
      </li>
    </ul>
  </section>
  <LineLegend v-if="store.part" />
</template>

<style scoped>
ul {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 8px;
  padding: 3px 6px;
  border-left: 3px solid transparent;
}
li.at {
  background: var(--raised);
  border-left-color: var(--verdigris);
}
li.bad .number,
li.bad .title {
  font-weight: 700;
}
li.bad {
  border-left: 5px double var(--brick);
}
small {
  grid-column: 1 / -1;
  font-size: 12.5px;
  line-height: 1.25;
}
</style>
