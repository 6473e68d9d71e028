import * as THREE from 'three';
import { ref } from 'vue';
import { sayFit } from '@dusky-mason/core/courses';
import { formatLength, type LengthUnit } from '@dusky-mason/core/units';
import type { Command } from '../words/commands.ts';
import { useCompany } from '../stores/company.ts';
import type { useProject } from '../stores/project.ts';
import { placementMatrix } from '../tools/handleMath.ts';
import type { CutterLayer } from './cutterLayer.ts';
import type { PartLayer } from './partLayer.ts';
import type { Stage } from './stage.ts';

export const CUTTER_LOOKS = { drawn: 'drawn', outlined: 'as outlines', hidden: 'hidden' } as const;
export type CutterLook = keyof typeof CUTTER_LOOKS;

/** A finding of the dry fit, where it is. */
export interface Note {
  text: string;
  x: number;
  y: number;
}

/** What the kinds of findings measure, in a word, for a note in the view. */
const WORDS: Record<string, string> = {
  short: 'skin',
  graze: 'sliver',
  thin: 'wall',
  misses: 'gap',
  inside: 'below the skin',
  behind: 'behind',
  inTheWay: 'before it',
};

/**
 * Ways of looking while a cutter is placed: through the part, cut open, straight at a face; and findings where they
 * are.
 */
export class ViewHelps {
  readonly glass = ref(false);
  readonly open = ref(false);
  readonly cutterLook = ref<CutterLook>('drawn');
  readonly notes = ref<Note[]>([]);
  /** The normal of the face that was clicked last. */
  normal: THREE.Vector3 | null = null;

  constructor(
    private readonly stage: Stage,
    /** The part at hand, then others that are seen in its place. */
    private readonly parts: readonly [PartLayer, ...PartLayer[]],
    private readonly cutters: CutterLayer,
    private readonly store: ReturnType<typeof useProject>,
  ) {}

  /** Shows all of it as it is set. */
  apply(): void {
    for (const p of this.parts) p.seeThrough(this.glass.value);
    this.cutters.look(this.cutterLook.value);
    this.stage.section = this.open.value ? this.sectionPlane() : null;
    this.stage.redraw();
  }

  /**
   * A plane through the middle of the picked cutter (or of the part), along its axis: the half towards the viewer is
   * taken off.
   */
  private sectionPlane(): THREE.Plane {
    const c = this.store.cutter;
    const view = this.stage.camera.getWorldDirection(new THREE.Vector3());
    if (!c) return new THREE.Plane().setFromNormalAndCoplanarPoint(mainWay(view), this.parts[0].centre);
    const m = placementMatrix(c.placement);
    const axes = [0, 1].map((k) => new THREE.Vector3().setFromMatrixColumn(m, k).normalize());
    // The one of the two planes along its own z that the view faces more squarely.
    const [a, b] = axes as [THREE.Vector3, THREE.Vector3];
    const normal = Math.abs(a.dot(view)) > Math.abs(b.dot(view)) ? a : b;
    if (normal.dot(view) < 0) normal.negate();
    return new THREE.Plane().setFromNormalAndCoplanarPoint(normal, new THREE.Vector3().setFromMatrixPosition(m));
  }

  /** Puts the findings of the dry fit where they are, for the camera as it stands. */
  place(shown: boolean, unit: LengthUnit): void {
    const course = this.store.course;
    const fits = shown && course && this.store.fits?.course === course.id ? this.store.fits.list : [];
    const notes = fits.flatMap((f): Note[] => {
      if (!f.point || f.length === undefined || !WORDS[f.kind] || !sayFit(f, unit).warns) return [];
      return [
        {
          text: `${WORDS[f.kind]} ${formatLength(f.length, unit, 3)}`,
          ...this.stage.onCanvas(new THREE.Vector3(...f.point)),
        },
      ];
    });
    if (JSON.stringify(notes) !== JSON.stringify(this.notes.value)) this.notes.value = notes;
  }

  /** Looks straight at the face that was clicked last. */
  straightAt(): void {
    if (this.normal) this.stage.fit(this.parts[0].centre, this.parts[0].radius, this.normal.toArray());
  }

  commands(): Command[] {
    const seen = () => !!this.store.picture;
    const toggle = (flag: typeof this.glass) => () => {
      flag.value = !flag.value;
      this.apply();
    };
    const looks = Object.keys(CUTTER_LOOKS) as CutterLook[];
    const company = useCompany();
    return [
      {
        id: 'see-through',
        title: 'See through the part',
        also: 'transparent glass',
        keys: 'G',
        when: seen,
        run: toggle(this.glass),
      },
      {
        id: 'cut-open',
        title: 'Cut the view open at the cutter',
        also: 'section plane clip inside',
        keys: 'X',
        when: seen,
        run: toggle(this.open),
      },
      {
        id: 'straight-at',
        title: 'Look straight at the face clicked last',
        also: 'normal facing view',
        keys: 'N',
        when: () => seen() && !!this.normal,
        run: () => this.straightAt(),
      },
      {
        id: 'company',
        title: 'This part alone, or with the others that are shown',
        also: 'hide everything isolate context parts',
        keys: 'O',
        when: () => (this.store.project?.parts.length ?? 0) > 1,
        run: () => {
          company.shown = !company.shown;
        },
      },
      {
        id: 'cutter-look',
        title: 'Cutters: drawn, as outlines, hidden',
        also: 'hide show cutter',
        keys: 'H',
        when: seen,
        run: () => {
          this.cutterLook.value = looks[(looks.indexOf(this.cutterLook.value) + 1) % looks.length]!;
          this.apply();
        },
      },
    ];
  }
}

/** The main axis that is nearest to a direction, to the same side. */
function mainWay(d: THREE.Vector3): THREE.Vector3 {
  const k = [0, 1, 2].reduce((a, b) => (Math.abs(d.getComponent(b)) > Math.abs(d.getComponent(a)) ? b : a));
  return new THREE.Vector3().setComponent(k, Math.sign(d.getComponent(k)));
}
