<script setup lang="ts">
import { Plus } from '@lucide/vue';
import { computed, ref } from 'vue';
import {
  addCutter,
  addFitted,
  cutterName,
  findPart,
  giveOwnCourses,
  openingOf,
  partOffcut,
  CutParams,
  CutterSchema,
  removeCourse,
  removeCutter,
  renameCourse,
  reshapeCutter,
  scaleCutters,
  setCutter,
  setParams,
  sayRings,
  sayTidied,
  shapeTitle,
  type CutCourse,
  type Cutter,
  type FittedPiece,
  type Shape,
} from '@dusky-mason/core/courses';
import { formatArea, formatVolume } from '@dusky-mason/core/units';
import { useCommands } from '../words/commands.ts';
import { named } from '../words/stageCommands.ts';
import MasonMark from '../components/MasonMark.vue';
import { OPERATION_SAYS, OPERATION_WORDS, type CutOperationName } from '../words/operations.ts';
import InTurn from '../components/InTurn.vue';
import LengthField from '../components/LengthField.vue';
import PlacementForm from '../components/PlacementForm.vue';
import SchemaForm from '../components/SchemaForm.vue';
import { radioKeys } from '../components/radioKeys.ts';
import { heldOf } from '../stores/held.ts';
import { useMaking } from '../stores/making.ts';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';
import { useTools } from '../tools/tools.ts';
import CardTitle from './CardTitle.vue';
import CourseProblem from './CourseProblem.vue';
import DryFit from './DryFit.vue';
import FigureList from './FigureList.vue';
import PivotForm from './PivotForm.vue';
import PlaceActs from './PlaceActs.vue';
import VectorRow from '../components/VectorRow.vue';
import RepeatForm from './RepeatForm.vue';
import ShapeForm from './ShapeForm.vue';

const props = defineProps<{ course: CutCourse }>();
const store = useProject();
const notices = useNotices();
const tools = useTools();
const unit = computed(() => store.project!.unit);
const cutters = computed(() => props.course.params.cutters);
const cutter = computed(() => store.cutter);
const partId = () => store.part!.id;

const line = computed(() => {
  const list = store.part!.courses;
  return `Course ${list.indexOf(props.course)} of ${list.length - 1} on the base of ${store.part!.name}.`;
});

const set = (change: Partial<CutCourse['params']>, title: string): void =>
  store.change(`${title} of ${props.course.name}`, setParams(store.project!, partId(), props.course.id, change));
const rename = (name: string): void =>
  store.change(`Rename ${props.course.name}`, renameCourse(store.project!, partId(), props.course.id, name));
function setThe(change: Partial<Cutter>, title: string): void {
  const next = { ...cutter.value!, ...change };
  store.change(`${title} of ${cutterName(next)}`, setCutter(store.project!, partId(), props.course.id, next));
}

function reshape(shape: Shape, title: string): void {
  const c = cutter.value!;
  store.change(`${title} of ${cutterName(c)}`, reshapeCutter(store.project!, partId(), props.course, c, shape));
}

function another(): void {
  const c = cutter.value!;
  const p = store.project!;
  const copy = { ...c, name: `${shapeTitle(c.shape.kind)} ${cutters.value.length + 1}` };
  store.change(`Copy ${cutterName(c)}`, addCutter(p, partId(), props.course.id, copy));
  store.select({ cutter: p.nextId });
}
function removeThe(): void {
  const c = cutter.value!;
  store.change(`Remove ${cutterName(c)}`, removeCutter(store.project!, partId(), props.course.id, c.id));
}
const remove = (): void =>
  store.change(`Delete ${props.course.name}`, removeCourse(store.project!, partId(), props.course.id));

const result = computed(() => store.outcome?.courses.find((c) => c.id === props.course.id));
const figures = computed((): [string, string][] => {
  const r = result.value?.report;
  if (result.value?.state !== 'done' || r?.areaAfter === undefined) return [];
  const sheet = r.volumeAfter === null;
  const [before, after] = sheet ? [r.areaBefore!, r.areaAfter] : [r.volumeBefore!, r.volumeAfter!];
  const by = Math.abs(after - before) > 1e-9 * before ? after - before : 0;
  const words = (sheet ? formatArea : formatVolume)(Math.abs(by), unit.value);
  return [
    [by > 0 ? 'Adds' : 'Takes away', by ? words : 'nothing'],
    ['New walls', `${r.newWalls} face${r.newWalls === 1 ? '' : 's'}`],
    ['Cut edges', `${r.seamEdges}`],
    ...(r.enclosed ? [['Enclosed', `${r.enclosed} face${r.enclosed === 1 ? '' : 's'}`] as [string, string]] : []),
    ...(r.contacts
      ? [['Touches itself', `at ${r.contacts} place${r.contacts === 1 ? '' : 's'}, kept apart`] as [string, string]]
      : []),
    ...(r.tidied ? [['Tidied', sayTidied(r.tidied)] as [string, string]] : []),
    ...(r.rings ? [['Rings of quads', sayRings(r.rings)] as [string, string]] : []),
    ['Tolerance', `${r.relativeTolerance} of its size`],
    ['Time', `${result.value.ms.toFixed(1)} ms`],
  ];
});
const others = computed(() => store.project!.parts.filter((p) => p.id !== partId()));
/** A copy of the linked part, on which its further changes have no effect. */
async function copyLinked(): Promise<void> {
  const shape = cutter.value?.shape;
  const other = shape?.kind === 'part' && findPart(store.project!, shape.part);
  if (!other) return;
  try {
    setThe({ shape: await store.meshOf(other, other.courses.at(-1)!.id, other.name) }, `Copy ${other.name}`);
  } catch (e) {
    notices.fail(e);
  }
}

const drawn = computed(() => ['scribe', 'kerf'].includes(props.course.params.operation));
const direction = (to: readonly number[], title: string): void =>
  set({ along: 'set', direction: to.map((x) => +x.toFixed(4)) as [number, number, number] }, title);
/** The outline is projected as it is seen: towards where the camera stands. */
function alongView(): void {
  const view = store.viewNow();
  if (!view) return;
  const way = view.position.map((x, k) => x - view.target[k]!);
  direction(
    way.map((x) => x / Math.hypot(...way)),
    'Project along the view',
  );
}

const held = computed(() => heldOf(store));

const making = useMaking();
const ownCourses = (): void => {
  const p = giveOwnCourses(store.project!, partId(), props.course.id, cutter.value!.id);
  store.change(`Courses of its own for ${cutterName(cutter.value!)}`, p);
};
/** The part that the cutter is linked to, to be worked on. */
const linked = computed(() => {
  const shape = cutter.value?.shape;
  return shape?.kind === 'part' ? findPart(store.project!, shape.part) : undefined;
});

const factor = ref(1);
function scaleAll(): void {
  store.change(
    `Scale the cutters of ${props.course.name}`,
    scaleCutters(store.project!, partId(), props.course.id, factor.value),
  );
  factor.value = 1;
}

const PIECES = ['frame', 'leaf', 'pane'] as const;
function fitted(piece: FittedPiece): void {
  const p = addFitted(store.project!, partId(), props.course.id, cutter.value!, piece);
  store.change(`Add a ${piece}`, p);
  const made = p.parts.at(-1)!;
  store.select({ part: made.id, course: made.courses[0]!.id });
}

const offcut = (): void =>
  store.change(`Part the offcut of ${props.course.name}`, partOffcut(store.project!, partId(), props.course.id));

const operations = Object.entries(OPERATION_WORDS) as [CutOperationName, string][];
const setOperation = (operation: CutOperationName): void => set({ operation }, 'Operation');

const can = () => !store.readOnly;
const picked = () => can() && !!cutter.value;
useCommands([
  ...operations.map(([op, word], i) => ({
    id: `operation-${op}`,
    keys: `${i + 1}`,
    title: `The cut: ${word}`,
    also: `${op} ${OPERATION_SAYS[op]}`,
    when: can,
    run: () => setOperation(op),
  })),
  {
    id: 'offcut',
    title: 'Make the offcut a part of its own',
    also: 'split separate',
    when: () => can() && props.course.params.operation === 'split',
    run: offcut,
  },
  {
    id: 'freeze',
    title: 'Freeze the part up to this cut',
    also: 'bake apply collapse',
    when: can,
    run: () => void store.freeze(props.course.id),
  },
  ...PIECES.map((piece) => ({
    id: `fitted-${piece}`,
    title: `Add a ${piece} fitted to the cutter`,
    when: () => picked() && openingOf(cutter.value!) !== null,
    run: () => fitted(piece),
  })),
  {
    id: 'along-view',
    title: 'Project the outline along the view',
    also: 'scribe kerf direction',
    when: () => can() && drawn.value,
    run: alongView,
  },
  {
    id: 'cutter-more',
    title: 'Place one more cutter in this cut',
    also: 'add',
    when: can,
    run: () => tools.begin(props.course.id),
  },
  {
    ...named('cutter-repeat'),
    when: picked,
    run: () => document.querySelector<HTMLElement>('.repeat select, .repeat input, .repeat [role=combobox]')?.focus(),
  },
  { id: 'cutter-copy', title: 'Copy the picked cutter', also: 'duplicate', when: picked, run: another },
  {
    id: 'cutter-remove',
    title: 'Remove the picked cutter',
    also: 'delete',
    keys: 'Delete',
    when: () => picked() && cutters.value.length > 1,
    run: removeThe,
  },
]);
</script>

<template>
  <CardTitle :name="course.name" label="Name of the cut" :line="line" :disabled="store.readOnly" @rename="rename" />
  <fieldset :disabled="store.readOnly">
    <legend class="unseen">Settings of the cut</legend>
    <CourseProblem :course="course.id" />
    <p v-if="!course.on" class="soft">This course is switched off: the part is made without it.</p>
    <div class="operations" role="radiogroup" aria-label="What the cutters do" @keydown="radioKeys">
      <button
        v-for="([op, word], i) in operations"
        :key="op"
        role="radio"
        :aria-checked="course.params.operation === op"
        :tabindex="course.params.operation === op ? 0 : -1"
        :title="`${OPERATION_SAYS[op]} (${i + 1})`"
        @click="setOperation(op)"
      >
        <MasonMark :name="op" />{{ word }}
      </button>
    </div>
    <p class="soft">{{ OPERATION_SAYS[course.params.operation] }}.</p>

    <DryFit :course="course" />

    <section>
      <h3>{{ cutters.length === 1 ? 'Cutter' : `${cutters.length} cutters, cut as one` }}</h3>
      <div v-if="cutters.length > 1" class="cutters" role="group" aria-label="Cutters of this cut">
        <button
          v-for="c in cutters"
          :key="c.id"
          :aria-pressed="c.id === cutter?.id"
          @click="store.select({ cutter: c.id })"
        >
          {{ cutterName(c) }}
        </button>
      </div>
      <p v-if="!cutter" class="soft">Pick a cutter to see its sizes.</p>
      <template v-else>
        <InTurn>
          <ShapeForm
            :shape="cutter.shape"
            :unit="unit"
            :name="`cutter-${cutter.id}`"
            closed-only
            :parts="others"
            @change="reshape"
          />
        </InTurn>
        <p v-if="cutter.shape.kind === 'part'" class="soft">
          Linked: it follows the part.
          <button class="small" @click="copyLinked">Take a copy instead</button>
          <button v-if="linked" class="small" @click="store.select({ part: linked.id })">Work on it</button>
        </p>
        <InTurn>
          <SchemaForm
            :schema="CutterSchema"
            :model-value="cutter"
            :unit="unit"
            :name="`cutter-${cutter.id}`"
            :without="course.params.wallSlots === 'cutter' ? [] : ['slot']"
            @change="(key, value, title) => setThe({ [key]: value }, title)"
          />
          <PlacementForm
            :model-value="cutter.placement"
            :unit="unit"
            :name="`cutter-${cutter.id}`"
            :scaled="['mesh', 'part', 'outline'].includes(cutter.shape.kind)"
            @change="(placement, title) => setThe({ placement }, title)"
          />
        </InTurn>
      </template>
      <InTurn v-if="held">
        <PivotForm :held="held" :name="`cutter-${cutter!.id}`" />
        <PlaceActs :held="held" :on-top="course.params.operation === 'union'" />
      </InTurn>
      <InTurn v-if="cutter">
        <RepeatForm
          :key="cutter.id"
          :cutter="cutter"
          :unit="unit"
          @change="(repeat, title) => setThe({ repeat }, title)"
        />
      </InTurn>
      <div class="acts">
        <button @click="tools.begin(course.id)"><Plus :size="14" aria-hidden="true" /> Place one more</button>
        <button v-if="cutter" @click="another">Copy it</button>
        <button v-if="cutter" @click="making.shapeToRack(cutterName(cutter), cutter.shape)">Put it on the rack</button>
        <button
          v-if="cutter && cutter.shape.kind !== 'part'"
          title="Makes the cutter a hidden part of its own, which you can cut like any other"
          @click="ownCourses"
        >
          Give it courses
        </button>
        <button v-if="cutter && cutters.length > 1" @click="removeThe">Remove it</button>
      </div>
    </section>

    <section v-if="cutters.length > 1 || cutter?.shape.kind === 'outline'">
      <h3>Scale {{ cutters.length > 1 ? 'all of them' : 'it' }}</h3>
      <div class="scale">
        <LengthField id="scale-all" v-model="factor" as="factor" label="Factor of the scale" :unit="unit" narrow />
        <span class="soft">times as large in its plane, about the middle</span>
        <button :disabled="!(factor > 0) || factor === 1" @click="scaleAll">Scale</button>
      </div>
    </section>

    <section v-if="cutter && openingOf(cutter)">
      <h3>Fitted parts</h3>
      <p class="soft">A new part in its place, with a gap all round; it follows the cutter.</p>
      <div class="acts">
        <button v-for="piece in PIECES" :key="piece" @click="fitted(piece)">Add a {{ piece }}</button>
      </div>
    </section>

    <section>
      <h3>The cut</h3>
      <FigureList v-if="figures.length" :figures="figures" />
      <InTurn>
        <SchemaForm
          :schema="CutParams"
          :model-value="course.params"
          :unit="unit"
          :name="`cut-${course.id}`"
          :without="['operation']"
          @change="(key, value, title) => set({ [key]: value }, title)"
        />
      </InTurn>
      <template v-if="drawn">
        <VectorRow
          v-if="course.params.along === 'set'"
          title="Towards"
          :model-value="course.params.direction"
          as="factor"
          :unit="unit"
          :name="`cut-${course.id}-direction`"
          @update:model-value="direction($event, 'Direction')"
        />
        <div class="acts">
          <button title="Projects the outline onto the part along the view you have now" @click="alongView">
            Project along the view
          </button>
        </div>
      </template>
      <div class="acts">
        <button v-if="course.params.operation === 'split'" @click="offcut">Offcut as a part of its own</button>
        <button
          title="The courses up to this one become one mesh; they are kept in a copy"
          @click="store.freeze(course.id)"
        >
          Freeze up to here
        </button>
        <button @click="remove">Delete this cut</button>
      </div>
    </section>
  </fieldset>
</template>

<style scoped>
.small {
  min-height: 24px;
  padding: 1px 8px;
  border: 1px solid var(--joint);
  background: var(--raised);
  cursor: pointer;
}
.scale {
  display: grid;
  grid-template-columns: 70px 1fr auto;
  gap: 6px;
  align-items: center;
}
.scale button {
  padding: 4px 10px;
  border: 1px solid var(--joint);
  background: var(--raised);
  cursor: pointer;
}
.operations {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
}
.operations button {
  display: grid;
  justify-items: center;
  gap: 2px;
  padding: 6px 4px;
  border: 1px solid var(--joint);
  background: var(--raised);
  cursor: pointer;
}
.operations button + button {
  border-left: 0;
}
.operations [aria-checked='true'] {
  background: var(--ink);
  color: var(--panel);
}
.cutters {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  max-height: 96px;
  overflow: auto;
}
.cutters button {
  min-height: 26px;
  padding: 1px 8px;
  border: 1px solid var(--joint);
  background: none;
  cursor: pointer;
}
.cutters [aria-pressed='true'] {
  border-color: var(--verdigris);
  box-shadow: inset 0 -3px var(--verdigris);
  background: var(--raised);
}
</style>
