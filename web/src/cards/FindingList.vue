<script setup lang="ts">
import { computed } from 'vue';
import { RULES, type RuleName, type ShownFinding } from '@dusky-mason/core/survey';
import { formatLength, type LengthUnit } from '@dusky-mason/core/units';
import { everything, type StrokeName } from '@dusky-mason/core/courses';
import { usePicks } from '../stores/picks.ts';
import { useProject } from '../stores/project.ts';
import { useSurvey } from '../stores/survey.ts';

/** Findings with their numbers, why they matter, and the way to their places. */
defineProps<{ list: readonly ShownFinding[]; unit: LengthUnit; at: string }>();
const survey = useSurvey();
const picks = usePicks();
const store = useProject();

interface Offered {
  kind: StrokeName;
  title: string;
  says: string;
  params: Record<string, unknown>;
}
const consistent: Offered = {
  kind: 'orient',
  title: 'Turn the odd ones',
  says: 'Turns over the minority in each piece, as a course on top',
  params: { way: 'consistent' },
};
const outward: Offered = {
  kind: 'orient',
  title: 'Turn all outward',
  says: 'Turns whole shells outward, as a course on top',
  params: { way: 'outward' },
};
/** What mends a finding, where there is something. */
const MENDS: Partial<Record<RuleName, Offered>> = {
  flippedFaces: consistent,
  flippedEdges: consistent,
  insideOut: outward,
  innerShells: outward,
};

const MARKS = { error: '▲', warning: '△', note: '○' } as const;
const rule = (f: ShownFinding) => RULES[f.rule];
const picked = computed(() => survey.picked);

/** The value of a place, with its unit. */
function value(name: RuleName, x: number | null | undefined, unit: LengthUnit): string {
  const r = RULES[name] as { worst?: { unit: string; title: string } };
  if (x === null || x === undefined || !r.worst) return '';
  if (r.worst.unit === 'mm') return formatLength(x, unit, 3);
  return `${+x.toPrecision(4)}${r.worst.unit === 'count' ? '' : r.worst.unit === '°' ? '°' : ` ${r.worst.unit}`}`;
}
const worst = (f: ShownFinding, unit: LengthUnit): string => {
  const r = rule(f) as { worst?: { title: string } };
  return r.worst ? `${r.worst.title} ${value(f.rule, f.worst, unit)}` : '';
};
</script>

<template>
  <ul>
    <li
      v-for="f in list"
      :id="`row-${f.rule}`"
      :key="f.rule"
      :class="[f.severity, { at: f.rule === at || picked?.rule === f.rule }]"
    >
      <button
        class="row"
        :aria-pressed="picked?.rule === f.rule"
        @click="survey.pick(picked?.rule === f.rule ? null : f.rule)"
      >
        <span class="mark" :title="f.severity">{{ MARKS[f.severity] }}</span>
        <span class="title">{{ rule(f).title }}</span>
        <span class="number">{{ f.count }}</span>
        <small v-if="worst(f, unit)" class="soft">{{ worst(f, unit) }}</small>
      </button>
      <template v-if="picked?.rule === f.rule">
        <p class="soft">{{ rule(f).why }} Spoils {{ rule(f).spoils.join(', ') }}.</p>
        <div class="acts">
          <button aria-label="The place before" title="The place before" @click="survey.step(-1)">‹</button>
          <span class="number"
            >{{ picked.at + 1 }} of {{ f.ids.length }}{{ f.count > f.ids.length ? ` (${f.count})` : '' }}</span
          >
          <button aria-label="The next place" title="The next place" @click="survey.step(1)">›</button>
          <span v-if="f.values.length" class="number soft">{{ value(f.rule, f.values[picked.at], unit) }}</span>
          <button :aria-pressed="survey.alone" title="Everything else fades" @click="survey.alone = !survey.alone">
            Alone
          </button>
        </div>
        <div class="acts">
          <button
            title="Picks all of them, for a stroke"
            @click="picks.take(f.on, f.ids, { by: 'finding', on: f.on, rule: f.rule })"
          >
            Pick them all
          </button>
          <button
            v-if="MENDS[f.rule]"
            :disabled="store.readOnly"
            :title="MENDS[f.rule]!.says"
            @click="picks.lay(MENDS[f.rule]!.kind, MENDS[f.rule]!.title, MENDS[f.rule]!.params, everything('face'))"
          >
            {{ MENDS[f.rule]!.title }}
          </button>
        </div>
      </template>
    </li>
  </ul>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  display: grid;
  gap: 2px;
}
li {
  border-left: 3px solid var(--joint);
}
li.error {
  border-left: 5px double var(--brick);
}
li.warning {
  border-left-color: var(--ochre);
}
li.at {
  background: var(--raised);
}
.row {
  width: 100%;
  display: grid;
  grid-template-columns: 18px 1fr auto;
  gap: 0 6px;
  padding: 4px 6px;
  text-align: left;
  border: 0;
  background: none;
  cursor: pointer;
}
.row:hover {
  background: var(--raised);
}
.error .title,
.error .number {
  font-weight: 700;
}
small {
  grid-column: 2 / -1;
  font-size: 12.5px;
}
p {
  padding: 2px 6px 4px 30px;
  font-size: 13px;
  line-height: 1.3;
}
.acts {
  padding: 0 6px 6px 30px;
  align-items: center;
}
</style>
