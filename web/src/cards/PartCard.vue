<script setup lang="ts">
import Select from 'primevue/select';
import { computed } from 'vue';
import { renamePart, setUnit, type Part, type Project } from '@dusky-mason/core/courses';
import { formatArea, formatVolume, LENGTH_UNITS, shortLength, type LengthUnit } from '@dusky-mason/core/units';
import { solidState } from '../words/counts.ts';
import InTurn from '../components/InTurn.vue';
import LineLegend from '../components/LineLegend.vue';
import { useProject } from '../stores/project.ts';
import CardTitle from './CardTitle.vue';
import FigureList from './FigureList.vue';
import MaterialForm from './MaterialForm.vue';
import NextActs from './NextActs.vue';
import PartActs from './PartActs.vue';
import PicturesForm from './PicturesForm.vue';

const props = defineProps<{ part: Part }>();
const store = useProject();
const unit = computed(() => store.project!.unit);
const units = Object.keys(LENGTH_UNITS) as LengthUnit[];

const change = (title: string, p: Project): void => store.change(`${title} ${props.part.name}`, p);
const counts = computed(() => store.outcome?.counts ?? null);
const figures = computed((): [string, string][] => {
  const c = counts.value;
  if (!c || !c.faces) return [];
  const size = c.bounds.max.map((x, k) => shortLength(x - c.bounds.min[k]!, unit.value).replace(/ \S+$/, ''));
  return [
    ['State', solidState(c).words],
    ['Size', `${size.join(' × ')} ${unit.value}`],
    ['Volume', c.volume === null ? 'none: not closed' : formatVolume(c.volume, unit.value)],
    ['Surface', formatArea(c.area, unit.value)],
    ['Vertices', `${c.vertices}`],
    ['Faces', `${c.faces}: ${c.quads} quads, ${c.ngons} n-gons, ${c.triangles} triangles`],
  ];
});
</script>

<template>
  <CardTitle
    :name="part.name"
    label="Name of the part"
    :line="`${part.courses.length} course${part.courses.length === 1 ? '' : 's'}. Click a face in the view to pick the course that made it.`"
    :disabled="store.readOnly"
    @rename="(name) => change('Rename', renamePart(store.project!, part.id, name))"
  />
  <fieldset :disabled="store.readOnly">
    <legend class="unseen">Settings of the part</legend>
    <NextActs />
    <FigureList :figures="figures" />
    <div class="row">
      <label for="unit">Unit of the project</label>
      <Select
        input-id="unit"
        aria-label="Unit of the project"
        :model-value="unit"
        :options="units"
        fluid
        @update:model-value="(u) => store.change('Unit of the project', setUnit(store.project!, u))"
      />
    </div>
    <p v-if="part.locked" class="soft">This part is locked. Unlock it to change it.</p>
    <PartActs :key="part.id" :part="part" />
    <InTurn><MaterialForm /></InTurn>
    <InTurn><PicturesForm /></InTurn>
  </fieldset>
  <InTurn><LineLegend title="Lines in the view" /></InTurn>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 1fr 92px;
  gap: 8px;
  align-items: center;
}
label {
  color: var(--soft);
}
</style>
