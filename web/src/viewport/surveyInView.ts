import { Vector3 } from 'three';
import { watch } from 'vue';
import { LOOKS } from '@dusky-mason/core/survey';
import { useLooks } from '../stores/looks.ts';
import { usePicks } from '../stores/picks.ts';
import { useProject } from '../stores/project.ts';
import { useSurvey } from '../stores/survey.ts';
import { useWipe } from '../stores/wipe.ts';
import type { FindingLayer } from './findingLayer.ts';
import type { PartLayer } from './partLayer.ts';
import type { PickedLayer } from './pickedLayer.ts';
import type { Stage } from './stage.ts';

/** What of a view the survey acts on. */
interface Surveyed {
  stage: Stage;
  part: PartLayer;
  /** Shown in the place of the part: what it was, or what it would become. */
  before: PartLayer;
  /** What it was at a state that is compared with another one. */
  after: PartLayer;
  findings: FindingLayer;
  picks: PickedLayer;
}

/**
 * Shows in the view what is chosen on the survey: looks, before and after, a subdivided preview, findings and their
 * places.
 */
export function useSurveyInView(now: () => Surveyed | null): void {
  const store = useProject();
  const survey = useSurvey();
  const looks = useLooks();
  const wipe = useWipe();
  const picks = usePicks();

  watch(
    () => [looks.shown, looks.values, looks.thin] as const,
    ([shown, values, thin]) => {
      const view = now();
      if (!view) return;
      for (const layer of [view.part, view.before]) layer.bands(shown === 'bands');
      const thick = values?.look === 'thickness' || values?.look === 'ball';
      view.part.colourBy(values, values ? LOOKS[values.look].kind : 'classes', thick ? thin : 0);
      view.stage.redraw();
    },
  );
  watch(
    () => [wipe.compared, wipe.at, wipe.beside, wipe.heat] as const,
    ([compared, at, beside, heat], was) => {
      const view = now();
      if (!view) return;
      const { part, before, after, stage } = view;
      if (compared !== was?.[0]) {
        for (const layer of [before, after]) layer.wear(store.project?.materials ?? []);
        before.show(compared?.picture ?? null);
        after.show(compared?.now ?? null);
      }
      const right = compared?.now ? after : part;
      const colour = heat ? compared?.heat : null;
      before.colourBy(colour?.before ?? null, 'heat');
      if (compared || was?.[0]) right.colourBy(colour?.after ?? null, 'heat');
      const show = (side: 'before' | 'after') => {
        before.group.visible = side === 'before';
        part.group.visible = side === 'after' && right === part;
        after.group.visible = side === 'after' && right === after;
      };
      stage.wipe = compared && { at, beside, show };
      show('after');
      // Halves are narrow: what filled the width must be seen from further off.
      if (beside !== was?.[2]) stage.zoom(beside ? 1 / stage.halfRoom : stage.halfRoom);
      stage.redraw();
    },
  );
  watch(
    () => [looks.preview, looks.offGuide, looks.off] as const,
    ([p, coloured, off], was) => {
      const view = now();
      if (!view || wipe.compared) return;
      // In the place of the part.
      if (p !== was?.[0]) view.before.show(p);
      view.before.colourBy(p && coloured ? off : null, 'heat');
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
      if (place && place !== before?.[1])
        view.stage.flyTo(
          place.point,
          place.normal,
          Math.min(view.part.radius, Math.max(6 * place.reach, view.part.radius / 12)),
        );
      view.stage.redraw();
    },
  );
  watch(
    () => [picks.shape, store.course?.id, store.outcome?.key] as const,
    ([shape]) => {
      // What the picked stroke has moved, from where to where.
      const moved = store.outcome?.courses.find((c) => c.id === store.course?.id)?.report.lines;
      now()?.picks.show(shape, moved);
      now()?.stage.redraw();
    },
  );
  watch(
    () => survey.spot,
    (p) => {
      const view = now();
      if (!view || !p) return;
      view.findings.show(survey.finding, p);
      view.stage.fit(new Vector3(...p), view.part.radius / 6);
    },
  );
}
