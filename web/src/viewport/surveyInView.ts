import { Vector3 } from 'three';
import { watch } from 'vue';
import { LOOKS } from '@dusky-mason/core/survey';
import { useLooks } from '../stores/looks.ts';
import { useProject } from '../stores/project.ts';
import { useSurvey } from '../stores/survey.ts';
import { useWipe } from '../stores/wipe.ts';
import type { FindingLayer } from './findingLayer.ts';
import type { PartLayer } from './partLayer.ts';
import type { Stage } from './stage.ts';

/** What of a view the survey acts on. */
interface Surveyed {
  stage: Stage;
  part: PartLayer;
  /** Shown in the place of the part: what it was, or what it would become. */
  before: PartLayer;
  findings: FindingLayer;
}

/** Shows in the view what is chosen on the survey: looks, before and after, a subdivided preview, findings and their places. */
export function useSurveyInView(now: () => Surveyed | null): void {
  const store = useProject();
  const survey = useSurvey();
  const looks = useLooks();
  const wipe = useWipe();

  watch(
    () => [looks.shown, looks.values, looks.thin] as const,
    ([shown, values, thin]) => {
      const view = now();
      if (!view) return;
      for (const layer of [view.part, view.before]) layer.bands(shown === 'bands');
      view.part.colourBy(values, !!values && LOOKS[values.look].kind === 'heat', values?.look === 'thickness' ? thin : 0); // prettier-ignore
      view.stage.redraw();
    },
  );
  watch(
    () => [wipe.compared, wipe.at, wipe.beside] as const,
    ([compared, at, beside], was) => {
      const view = now();
      if (!view) return;
      const { part, before, stage } = view;
      if (compared !== was?.[0]) {
        before.wear(store.project?.materials ?? []);
        before.show(compared?.picture ?? null);
      }
      const show = (side: 'before' | 'after') => {
        before.group.visible = side === 'before';
        part.group.visible = side === 'after';
      };
      stage.wipe = compared && { at, beside, show };
      show('after');
      stage.redraw();
    },
  );
  watch(
    () => looks.preview,
    (p) => {
      const view = now();
      if (!view || wipe.compared) return;
      // In the place of the part.
      view.before.show(p);
      view.before.group.visible = !!p;
      view.part.group.visible = !p;
      view.stage.redraw();
    },
  );
  /** A finding that is picked is shown, and the place that is looked at is flown to. */
  watch(
    () => [survey.finding, survey.place, survey.alone] as const,
    ([finding, place, alone], before) => {
      const view = now();
      if (!view) return;
      view.findings.show(finding, place?.point ?? null);
      view.part.fade(alone && finding ? (finding.on === 'face' ? new Set(finding.ids) : new Set()) : null);
      if (place && place !== before?.[1]) view.stage.flyTo(place.point, place.normal, Math.min(view.part.radius, Math.max(6 * place.reach, view.part.radius / 12))); // prettier-ignore
      view.stage.redraw();
    },
  );
  watch(
    () => survey.spot,
    (p) => {
      const view = now();
      if (view && p) view.stage.fit(new Vector3(...p), view.part.radius / 6);
    },
  );
}
