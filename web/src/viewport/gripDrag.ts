import * as THREE from 'three';
import { formatLength, type LengthUnit } from '@dusky-mason/core/units';
import { grippedOf, type Gripped, type HeldSetting } from '../stores/grips.ts';
import type { useProject } from '../stores/project.ts';
import { alongAxis } from '../tools/handleMath.ts';
import { heldValue } from '../tools/gripValue.ts';
import type { useTools } from '../tools/tools.ts';
import type { Tag } from './drawOnPart.ts';
import type { At, Gesture } from './gesture.ts';
import { bead, clearHandles, leader, paint } from './handleShapes.ts';
import type { Stage } from './stage.ts';

const vec = (p: readonly number[]) => new THREE.Vector3(p[0], p[1], p[2]);

/** What is shown of a setting: a bead where it stands, and a line from where it would be 0. */
interface Shown {
  held: HeldSetting;
  bead: THREE.Group;
  line: THREE.Line;
}

/**
 * Settings of the picked stroke as beads in the view: the width of a bevel, the distance of an inset, the place of a
 * loop. A drag shows the change beforehand, with its number beside it, and makes one change at its end.
 */
export class GripDrag implements Gesture {
  readonly group = new THREE.Group();
  private gripped: Gripped | null = null;
  private shown: Shown[] = [];
  private hot: Shown | null = null;
  private drag: { of: Shown; from: number; start: number; now: number | null } | null = null;

  constructor(
    private readonly stage: Stage,
    private readonly store: ReturnType<typeof useProject>,
    private readonly tools: ReturnType<typeof useTools>,
    private readonly habits: () => { step: number; unit: LengthUnit },
    private readonly tag: (tag: Tag | null) => void,
  ) {}

  /** Shows what can be taken hold of; null takes it away. */
  show(gripped: Gripped | null): void {
    const keys = (g: Gripped | null) => g?.list.map((h) => h.key).join() ?? '';
    const same = keys(gripped) === keys(this.gripped);
    this.gripped = gripped;
    if (same) this.shown.forEach((s, i) => (s.held = gripped!.list[i]!));
    else this.build();
    this.place();
  }

  private build(): void {
    clearHandles(this.group);
    this.hot = null;
    this.shown = (this.gripped?.list ?? []).map((held) => ({ held, bead: bead(), line: leader() }));
    for (const s of this.shown) this.group.add(s.line, s.bead);
  }

  /** Puts the beads where they belong for the camera as it stands. */
  place(): void {
    for (const s of this.shown) {
      const from = vec(s.held.at);
      s.bead.position.copy(from).addScaledVector(vec(s.held.along), s.held.value);
      s.bead.scale.setScalar(this.stage.pixelAt(s.bead.position));
      const ends = s.line.geometry.getAttribute('position') as THREE.BufferAttribute;
      ends.setXYZ(0, ...from.toArray());
      ends.setXYZ(1, ...s.bead.position.toArray());
      ends.needsUpdate = true;
      paint(s.bead, s === this.hot);
    }
  }

  private under(ray: THREE.Ray): Shown | null {
    this.group.updateMatrixWorld(true);
    const caster = new THREE.Raycaster(ray.origin, ray.direction);
    const targets = this.shown.flatMap((s) => s.bead.children.filter((c) => c.userData.grip));
    const hit = caster.intersectObjects(targets, false)[0];
    return this.shown.find((s) => s.bead === hit?.object.parent) ?? null;
  }

  /** Marks the bead under the pointer, and says what it sets; true when there is one. */
  hover(ray: THREE.Ray): boolean {
    const before = this.hot;
    this.hot = this.tools.busy ? null : this.under(ray);
    if (before !== this.hot) {
      this.tell(this.hot);
      this.place();
      this.stage.redraw();
    }
    return this.hot !== null;
  }

  begin({ ray }: At): boolean {
    const of = this.tools.busy ? null : this.under(ray);
    const start = of && this.along(of.held, ray);
    if (!of || start === null) return false;
    this.tools.grip = of.held.key;
    this.drag = { of, from: of.held.value, start, now: null };
    this.tell(of);
    return true;
  }

  /** How far along its way a ray comes nearest to it, in the setting's own measure. */
  private along({ at, along }: HeldSetting, ray: THREE.Ray): number | null {
    const way = vec(along);
    const rate = way.length();
    const t = alongAxis(ray, vec(at), way.normalize());
    return t === null ? null : t / rate;
  }

  move({ ray, shiftKey }: At): void {
    const { of, from, start } = this.drag!;
    const t = this.along(of.held, ray);
    if (t === null || !this.gripped) return;
    const pixel = this.stage.pixelAt(of.bead.position) / vec(of.held.along).length();
    const now = heldValue(of.held, from + t - start, pixel, shiftKey ? this.habits().step : null);
    this.drag!.now = now;
    this.store.preview(this.gripped.put(this.store.project!, of.held.key, now));
    // The bead goes along at once, before what it sets is worked out.
    of.held = { ...of.held, value: now };
    this.tell(of);
    this.place();
    this.stage.redraw();
  }

  end(keep: boolean): void {
    const { drag, gripped, store } = this;
    this.drag = null;
    this.tag(null);
    if (!drag) return;
    if (keep && drag.now !== null && gripped)
      store.change(`${drag.of.held.title} of ${gripped.name}`, gripped.put(store.project!, drag.of.held.key, drag.now));
    else store.dropPreview();
    this.show(grippedOf(store));
  }

  private tell(s: Shown | null): void {
    const { unit } = this.habits();
    const number = (h: HeldSetting) =>
      h.as === 'share' ? `${+(100 * h.value).toFixed(1)} %` : formatLength(h.value, unit, 3);
    this.tag(s && { text: `${s.held.title} ${number(s.held)}`, at: s.bead.position });
  }
}
