<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue';
import {
  countWords,
  gatherStrokes,
  strokesInRow,
  scatterStrokes,
  courseSays,
  fieldsOf,
  STROKES,
  strokeOf,
  pickWords,
  renameCourse,
  setParams,
  type StrokeCourse,
} from '@dusky-mason/core/courses';
import { formatLength } from '@dusky-mason/core/units';
import SchemaForm from '../components/SchemaForm.vue';
import { usePicks } from '../stores/picks.ts';
import { useProject } from '../stores/project.ts';
import { useSurvey } from '../stores/survey.ts';
import CardTitle from './CardTitle.vue';
import BevelRoom from './BevelRoom.vue';
import CageForm from './CageForm.vue';
import ProfileForm from './ProfileForm.vue';
import FigureList from './FigureList.vue';
import { gapBins } from './gapBins.ts';
import CourseProblem from './CourseProblem.vue';

/** Drawn only where there is something to draw. */
const HeatBars = defineAsyncComponent(() => import('../components/HeatBars.vue'));

/** A stroke: what it works on, how, and what it did. */
const props = defineProps<{ course: StrokeCourse }>();
const store = useProject();
const picks = usePicks();
const survey = useSurvey();
const unit = computed(() => store.project!.unit);
const report = computed(() => store.outcome?.courses.find((c) => c.id === props.course.id)?.report);
const says = computed(() => courseSays(props.course, unit.value, report.value));
const nameOf = (id: number) => store.part?.courses.find((c) => c.id === id)?.name ?? 'a removed course';
const pick = computed(() => props.course.params.pick);
/** For a healing: what each step did, by its title. */
const healed = computed(() =>
  fieldsOf(STROKES.heal.settings)
    .filter(({ key, meta }) => meta.as === 'flag' && report.value?.counts?.[key] !== undefined)
    .map(({ key, meta }) => [meta.title, report.value!.counts![key]!.toLocaleString('en')] as const),
);
/** Figures of a layout, by their names in the report. */
const LAYOUT: Record<string, string> = {
  outAfter: 'Out of round',
  sharpest: 'Sharpest corner',
  aligned: 'Edges along the sides',
  poles: 'Poles',
  triangles: 'Triangles',
  left: 'N-gons left',
  split: 'Edges split',
  gathered: 'Rim vertices removed',
};
/** What a layout in quads is like. */
const layout = computed((): [string, string, number][] => {
  const counts = report.value?.counts;
  if (props.course.kind !== 'quads' || !counts?.faces) return [];
  const made = counts.quads! + counts.triangles!;
  const line = (key: string, value = counts[key]!.toLocaleString('en')): [string, string, number] => [
    LAYOUT[key]!,
    value,
    report.value?.places?.[key]?.length ?? 0,
  ];
  return [
    ['Quads', `${((100 * counts.quads!) / made).toFixed(1)} % of ${made.toLocaleString('en')} new faces`, 0],
    line('sharpest', `${counts.sharpest!.toFixed(1)}°`),
    ...(counts.aligned === undefined ? [] : [line('aligned', `${(100 * counts.aligned).toFixed(0)} %`)]),
    ...['poles', 'triangles', 'left', 'split', ...(counts.gathered ? ['gathered'] : [])].map((key) => line(key)),
  ];
});
/** How round a subdivision left seams, and how far it is from the surfaces that are meant. */
const subdivided = computed((): [string, string, number][] => {
  const counts = report.value?.counts;
  if (props.course.kind !== 'subdivide' || !counts) return [];
  const mm = (key: string) => formatLength(counts[key]!, unit.value, 3);
  return [
    ...(counts.rims
      ? ([
          ['Round rims', `${counts.rims}`, 0],
          ['Out of round', `${mm('outAfter')}, before ${mm('outBefore')}`, report.value?.places?.outAfter?.length ?? 0],
          ['Radius off by', mm('radius'), 0],
        ] as [string, string, number][])
      : []),
    ...(counts.offAfter === undefined
      ? []
      : ([['Off its surfaces', `${mm('offAfter')}, before ${mm('offBefore')}`, 0]] as [string, string, number][])),
  ];
});
/** Which of its places each figure leads to next. */
const next: Record<string, number> = {};
function go(title: string): void {
  const key = Object.keys(LAYOUT).find((k) => LAYOUT[k] === title)!;
  const list = report.value?.places?.[key] ?? [];
  if (!list.length) return;
  const at = (next[key] ?? 0) % list.length;
  next[key] = at + 1;
  survey.flyTo(list[at]!);
}
/** Where a bevel has less room than wanted, a rim has no ring, or a smooth surface would cut through itself. */
const HELD_BACK = { narrowed: 'Narrower', none: 'No ring', eased: 'Nearer to the cage' } as const;
const heldBack = computed(() => {
  const places = report.value?.places ?? {};
  const what = (Object.keys(HELD_BACK) as (keyof typeof HELD_BACK)[]).find((k) => places[k]?.length);
  const at = (what && places[what]) ?? [];
  const where =
    what === 'none' ? `${at.length} side${at.length === 1 ? '' : 's'} of rims` : countWords('vertex', at.length);
  return { words: what ? `${HELD_BACK[what]} at ${where}` : '', at };
});
let heldBackAt = 0;
const goHeldBack = (): void => survey.flyTo(heldBack.value.at[heldBackAt++ % heldBack.value.at.length]!);
/** Where the width of a bevel is kept: as a length, or as a share. */
const widthKey = computed(() =>
  'measure' in props.course.params && props.course.params.measure === 'share' ? 'share' : 'width',
);
/** The angle of a pick by rule, which is typed on the card. */
const setAngle = (angle: number): void => {
  if (pick.value.by === 'sharper') set('pick', { ...pick.value, angle }, 'Angle');
};
const gaps = computed(() => gapBins(report.value?.gaps ?? []));
/** What a healing could not mend: then a part is rebuilt. */
const unhealed = computed(() => {
  const counts = report.value?.counts;
  // Openings that stay are those of a sheet, or were meant.
  return (
    props.course.kind === 'heal' && !!counts && (!!counts.odd || !!counts.crossing || (!!counts.open && !counts.stay))
  );
});
const lost = computed(() => report.value?.lost ?? []);

const withParam = (key: string, value: unknown) =>
  setParams(store.project!, store.part!.id, props.course.id, { [key]: value } as Partial<StrokeCourse['params']>);
const set = (key: string, value: unknown, title: string): void =>
  store.change(`${title} of ${props.course.name}`, withParam(key, value));
async function anew(): Promise<void> {
  const next = await picks.stored();
  if (next && next.on === pick.value.on) set('pick', next, 'Pick');
}
const row = computed(() => (store.part ? strokesInRow(store.part, props.course.id) : []));
function gather(): void {
  const course = store.project!.nextId;
  store.change('Gather strokes', gatherStrokes(store.project!, store.part!.id, props.course.id));
  store.select({ course });
}
function scatter(): void {
  const course = store.project!.nextId;
  store.change('Lay strokes singly', scatterStrokes(store.project!, store.part!.id, props.course.id));
  store.select({ course });
}
const rename = (name: string): void =>
  store.change(`Rename ${props.course.name}`, renameCourse(store.project!, store.part!.id, props.course.id, name));
</script>

<template>
  <CardTitle :name="course.name" label="Name of the stroke" :line="says" :disabled="store.readOnly" @rename="rename" />
  <fieldset :disabled="store.readOnly">
    <legend class="unseen">Settings of the stroke</legend>
    <CourseProblem :course="course.id" />
    <p v-if="report?.surfaceDrift?.distance" class="drift">
      <span
        >Drift, the furthest the surface moved: {{ report.surfaceDrift.atLeast ? 'at least ' : ''
        }}<span class="number">{{ formatLength(report.surfaceDrift.distance, unit, 4) }}</span></span
      >
      <button @click="survey.flyTo(report.surfaceDrift.point)">Go there</button>
    </p>
    <section v-if="layout.length">
      <h3>The layout</h3>
      <FigureList :figures="layout" @go="go" />
    </section>
    <section v-if="subdivided.length">
      <h3>Accuracy</h3>
      <FigureList :figures="subdivided" @go="go" />
    </section>
    <section v-if="course.kind === 'heal' && report?.counts">
      <h3>What each step did</h3>
      <FigureList :figures="healed" />
      <p v-if="unhealed" class="offer">
        <span>Mend the rest by hand, or rebuild the part through a volume grid on top of this.</span>
        <button @click="picks.lay('recast', STROKES.recast.title, {}, null)">Recast</button>
      </p>
    </section>
    <section v-if="gaps">
      <h3>Gaps between open edges</h3>
      <HeatBars :bins="gaps.bins" :told="(share) => formatLength(gaps!.sizeAt(share), unit, 4)" label="Gaps" />
      <p class="soft ends">
        <span class="number">{{ formatLength(gaps.sizeAt(0), unit, 4) }}</span>
        <span>cracks closed up to {{ formatLength(report!.counts!.tolerance!, unit, 4) }}</span>
        <span class="number">{{ formatLength(gaps.sizeAt(1), unit, 4) }}</span>
      </p>
    </section>
    <SchemaForm
      :schema="STROKES[course.kind].settings"
      :model-value="course.params"
      :unit="unit"
      :name="`stroke-${course.id}`"
      @change="set"
    />
    <ProfileForm
      v-if="'profile' in course.params && course.params.profile === 'drawn'"
      :points="course.params.drawn"
      :disabled="store.readOnly"
      @change="(points) => set('drawn', points, 'Profile')"
      @preview="(points) => store.preview(withParam('drawn', points))"
    />
    <CageForm
      v-if="course.kind === 'cage'"
      :params="course.params"
      :unit="unit"
      :disabled="store.readOnly"
      @change="(moves) => set('moves', moves, 'Points')"
    />
    <BevelRoom
      v-if="course.kind === 'bevel' || course.kind === 'finish'"
      :course="course"
      @width="(x) => set(widthKey, x, 'Width')"
      @preview="(x) => store.preview(withParam(widthKey, x))"
    />
    <section v-if="heldBack.at.length" class="held-back">
      <p>
        <span>{{ heldBack.words }}</span>
        <button @click="goHeldBack">Go to the next</button>
      </p>
    </section>
    <section v-if="course.kind !== 'gathered'">
      <h3>Works on</h3>
      <p>{{ pickWords(pick, nameOf) }}</p>
      <label v-if="pick.by === 'sharper'" class="angle">
        <span>Sharper than</span>
        <input
          type="number"
          min="1"
          max="179"
          step="1"
          :value="pick.angle"
          @change="
            setAngle(Math.max(1, Math.min(179, Number(($event.target as HTMLInputElement).value) || pick.angle)))
          "
        />
        <span>°</span>
      </label>
      <p v-if="lost.length" class="told">
        {{ countWords(pick.on, lost.length) }} of {{ report!.of }} no longer exist, and are kept in case they come back.
      </p>
      <div class="acts">
        <button
          :disabled="picks.on !== pick.on || !picks.count"
          :title="`Pick ${pick.on === 'vertex' ? 'vertices' : `${pick.on}s`} in the view first`"
          @click="anew"
        >
          Work on what is picked now
        </button>
        <button v-if="row.length > 1" title="Makes one course of this and the strokes beside it" @click="gather">
          Gather {{ row.length }} strokes
        </button>
      </div>
    </section>
    <section v-if="course.kind === 'gathered'">
      <h3>In this order</h3>
      <ol>
        <li v-for="(e, i) in course.params.edits" :key="i">{{ e.name }}</li>
      </ol>
      <div class="acts">
        <button @click="scatter">Lay them one by one again</button>
      </div>
    </section>
    <p class="soft">{{ strokeOf(course.kind).explains }}</p>
  </fieldset>
</template>

<style scoped>
.ends .number {
  white-space: nowrap;
}
.ends {
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
.acts {
  flex-wrap: wrap;
}
ol {
  margin: 0 0 6px;
  padding-left: 22px;
}
.held-back p,
.angle {
  display: flex;
  align-items: center;
  gap: 8px;
  justify-content: space-between;
}
.angle input {
  width: 6em;
  margin-left: auto;
}
.offer {
  display: flex;
  align-items: center;
  gap: 8px;
}
.offer button,
.held-back button {
  padding: 3px 9px;
  border: 1px solid var(--joint);
  background: var(--raised);
  cursor: pointer;
}
.went {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.went button {
  padding: 3px 9px;
  border: 1px solid var(--joint);
  background: var(--raised);
  cursor: pointer;
}
.told {
  padding-left: 9px;
  border-left: 3px solid var(--ochre);
}
</style>
