import { carve, CarveMemory, type CarveSettings } from '../../carve/index.ts';
import type { BevelPlan, GuideSurface } from '../../dress/index.ts';
import { LayoutMemory } from '../../mend/index.ts';
import type { OpContext, PolyMesh } from '../../mesh/index.ts';
import type { BodySizes } from '../base/picks.ts';
import type { MeshStore } from '../base/shapeMesh.ts';

/** What a course is given to run with, beside its input and settings. */
export interface CourseEnv {
  store: MeshStore;
  /** The number of the course: what it makes is marked with it. */
  course: number;
  /** How many faces the part's own bodies have just now; picks are found by them. */
  bodies?: BodySizes;
  /** The guide surface of a state of the part. */
  guide?: (m: PolyMesh) => GuideSurface;
  /** What the course remembers of its last run. */
  memory?: CourseMemory;
  /**
   * The cutter that is being moved just now, or the course whose width is: only the picture counts, not the order of
   * its faces.
   */
  moving?: number;
}

/** What a course remembers of its last run, so that the next one costs what has changed. */
export class CourseMemory {
  readonly carve = new CarveMemory();
  /** Layouts of faces in quads. */
  readonly layouts = new LayoutMemory();
  /** Plan of a bevel whose width is dragged. */
  plan: BevelPlan | null = null;
  /** The cutters of the last run, where they stood, by all that they were made from. */
  private cutters = new Map<string, PolyMesh>();

  private done: { target: PolyMesh; cutters: PolyMesh[]; options: string; cut: ReturnType<typeof carve> } | null = null;

  /** The cut by cutters that do not move, reused while target and cutters stay the same. */
  still(target: PolyMesh, cutters: PolyMesh[], options: CarveSettings, ctx?: OpContext): ReturnType<typeof carve> {
    const { memory, ...settings } = options;
    const words = JSON.stringify(settings);
    const { done } = this;
    const same =
      done?.target === target &&
      done.options === words &&
      done.cutters.length === cutters.length &&
      cutters.every((m, i) => m === done.cutters[i]);
    if (!same)
      this.done = { target, cutters, options: words, cut: carve(target, { cutters, ...settings, memory }, ctx) };
    return this.done!.cut;
  }

  /** Drops what is useful only while a cutter moves. */
  rest(): void {
    this.done = this.plan = null;
  }

  /** Gives the cutters of a run one by one; cutters of the last run are reused. */
  cutterRun(): (key: string, make: () => PolyMesh) => PolyMesh {
    const last = this.cutters;
    const now = (this.cutters = new Map<string, PolyMesh>());
    return (key, make) => {
      const mesh = last.get(key) ?? make();
      now.set(key, mesh);
      return mesh;
    };
  }
}
