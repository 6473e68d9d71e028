<script setup lang="ts">
import { useProject } from '../stores/project.ts';
import BaseCard from './BaseCard.vue';
import CutCard from './CutCard.vue';
import StrokeCard from './StrokeCard.vue';
import PartCard from './PartCard.vue';
import PicturesForm from './PicturesForm.vue';

/** The card of the picked thing; of the part when nothing is picked. */
const store = useProject();
</script>

<template>
  <CutCard v-if="store.course?.kind === 'cut'" :key="store.course.id" :course="store.course" />
  <BaseCard v-else-if="store.course?.kind === 'shape'" :key="store.course.id" :course="store.course" />
  <StrokeCard v-else-if="store.course" :key="store.course.id" :course="store.course" />
  <PartCard v-else-if="store.part" :part="store.part" />
  <template v-else>
    <p class="soft">
      Nothing is here yet. Make a new part below the wall, open a mesh file, or draw a profile in a straight-on view (T)
      and turn it.
    </p>
    <PicturesForm />
  </template>
</template>
