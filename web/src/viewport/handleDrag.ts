import type * as THREE from 'three';
import type { MeetsBy, Placed, Project } from '@dusky-mason/core/courses';
import type { LengthUnit } from '@dusky-mason/core/units';
import { heldOf, type Held } from '../stores/held.ts';
import type { useProject } from '../stores/project.ts';
import type { useTools } from '../tools/tools.ts';
import type { Tag } from './drawOnPart.ts';
import type { At, Gesture } from './gesture.ts';
import { slideLabel, type Follow, type Handles } from './handles.ts';

const WORDS = { slide: 'Slide', turn: 'Turn', resize: 'Resize', points: 'Reshape' } as const;

/** What is dragged comes level with what stands beside it within so many pixels. */
const LEVEL_WITHIN = 8;
const LEVEL_WORDS = { side: 'level with a side', middle: 'level with a middle' } as const;

interface Drag {
  follow: Follow;
  held: Held;
  /** The project before it began; of a copy, with the copy in it. */
  from: Project;
  copy: number | null;
  now: Placed | null;
}

/**
 * A handle of what is picked is dragged: shown beforehand on the way, one change at the end. With Ctrl a copy of it is.
 */
export class HandleDrag implements Gesture {
  private drag: Drag | null = null;

  constructor(
    private readonly handles: Handles,
    private readonly store: ReturnType<typeof useProject>,
    private readonly tools: ReturnType<typeof useTools>,
    private readonly habits: () => { step: number; unit: LengthUnit },
    private readonly tag: (tag: Tag | null) => void,
    private readonly pixelAt: (p: THREE.Vector3) => number,
  ) {}

  begin({ ray, ctrlKey, metaKey }: At): boolean {
    const { store, tools } = this;
    const held = tools.busy ? null : heldOf(store);
    const grabbed = held && this.handles.grab(ray, this.habits().unit);
    if (!held || !grabbed || !store.project) return false;
    tools.axis = grabbed.axis;
    const copied = ctrlKey || metaKey ? held.copied(store.project, held.placed) : null;
    const copy = copied ? store.project.nextId : null;
    this.drag = { follow: grabbed.follow, held, from: store.project, copy, now: null };
    return true;
  }

  move({ ray, shiftKey, altKey }: At): void {
    const drag = this.drag!;
    const step = shiftKey ? this.habits().step : null;
    const d = drag.follow(ray, { step, both: this.tools.aboutMiddle !== altKey });
    if (!d) return;
    // Alt keeps it from being drawn to what stands beside it.
    const reach = LEVEL_WITHIN * this.pixelAt(d.at);
    const level = d.placed && !altKey && step === null ? drag.held.level?.(d.placed, this.tools.axis, reach) : null;
    this.tag({ text: level ? this.levelLabel(drag, level) : d.label, at: d.at });
    if (!d.placed) return;
    drag.now = level?.placed ?? d.placed;
    this.store.preview(this.dragged(drag));
  }

  /** How far it went with what it was drawn to: not how far the pointer is. */
  private levelLabel({ held }: Drag, { placed, meets }: { placed: Placed; meets: MeetsBy }): string {
    const { axis } = this.tools;
    const by = placed.placement.position[axis] - held.placed.placement.position[axis];
    return `${slideLabel(axis, by, this.habits().unit)}, ${LEVEL_WORDS[meets]}`;
  }

  end(keep: boolean): void {
    const { drag, store, tools } = this;
    this.drag = null;
    this.tag(null);
    if (!drag) return;
    if (!keep || !drag.now) return store.dropPreview();
    store.change(`${drag.copy === null ? WORDS[tools.handles] : 'Copy'} ${drag.held.name}`, this.dragged(drag));
    if (drag.copy !== null) store.select({ cutter: drag.copy });
  }

  private dragged = ({ held, from, copy, now }: Drag): Project =>
    copy === null ? held.put(from, now!) : held.copied(from, now!)!;
}
