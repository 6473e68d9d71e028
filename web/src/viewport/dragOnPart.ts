import * as THREE from 'three';
import type { Grab } from '@dusky-mason/core/mend';
import type { Vec3 } from '@dusky-mason/core/mesh';
import { engine } from '../engine/engine.ts';
import type { useNotices } from '../stores/notices.ts';
import type { usePicks } from '../stores/picks.ts';
import type { useProject } from '../stores/project.ts';
import { nearestWay, type OnScreen, type Way } from '../tools/dragging.ts';
import type { useTools } from '../tools/tools.ts';
import type { Tag } from './drawOnPart.ts';
import { OCHRE, VERDIGRIS } from '../theme/colours.ts';
import type { At, Gesture } from './gesture.ts';
import { disposeTree, strongLines } from './lines.ts';
import type { PartLayer } from './partLayer.ts';
import type { Stage } from './stage.ts';

/** Between two places of a path so many pixels are looked at, one by one: it passes no face unseen that is wider. */
const STEP = 2;
/** A path goes through vertices that are so near, pixels. */
const SNAP = 9;
/** Half the size of a mark, pixels. */
const MARK = 5;

/**
 * Drags a vertex along its edges, or an end of a tie to another vertex; or draws a line over the part freehand. Letting
 * go lays the stroke.
 */
export class DragOnPart implements Gesture {
  readonly group = new THREE.Group();
  /** Set by who shows it: the tag beside the pointer. */
  tag: (tag: Tag | null) => void = () => undefined;
  private pressed = false;
  private grab: Grab | null = null;
  private way: Way | null = null;
  private path: { face: number; point: Vec3 }[] = [];
  private last: OnScreen | null = null;

  constructor(
    private readonly stage: Stage,
    private readonly part: PartLayer,
    private readonly store: ReturnType<typeof useProject>,
    private readonly tools: ReturnType<typeof useTools>,
    private readonly picks: ReturnType<typeof usePicks>,
    private readonly notices: ReturnType<typeof useNotices>,
  ) {}

  /** Takes hold of what is under the pointer on the part; empty ground turns the view. */
  begin(p: At): boolean {
    const { tools } = this;
    if (!tools.dragging && !(tools.freehand && tools.picking)) return false;
    const hit = this.part.hit(p.ray);
    if (!hit || !this.store.part) return false;
    this.pressed = true;
    const point = hit.point.toArray() as Vec3;
    if (this.tools.freehand) {
      this.path = [{ face: hit.face, point }];
      this.last = p;
      return true;
    }
    const what = this.tools.dragging!;
    engine()
      .ask({ kind: 'grab', part: this.store.part, what, face: hit.face, point })
      .then(({ grab }) => {
        if (!this.pressed || this.tools.dragging !== what) return;
        if (!grab)
          this.notices.say(
            'warning',
            'This face has no tie: no edge runs across a flat here. Take hold of a dotted edge, near the end that is to go elsewhere.',
          );
        this.grab = grab;
        this.draw();
      })
      .catch((e: unknown) => this.notices.fail(e));
    return true;
  }

  move(p: At): void {
    if (this.last) return this.onward(p);
    if (!this.grab) return;
    const on = (q: Vec3) => this.stage.onCanvas(new THREE.Vector3(...q));
    this.way = nearestWay(this.grab, p, on);
    this.draw();
  }

  /** Lays the stroke that the drag makes, if it is to be kept. */
  end(keep: boolean): void {
    const { grab, way, path } = this;
    this.stop();
    if (!keep) return;
    if (path.length) {
      const pixel = this.stage.pixelAt(new THREE.Vector3(...path[0]!.point));
      this.tools.end();
      return void this.picks.line(path, SNAP * pixel);
    }
    if (!grab || !way || way.share === 0) return;
    if (grab.fixed) void this.picks.dragged('moveTie', [grab.fixed.vertex, grab.vertex, way.vertex], {});
    else void this.picks.dragged('slide', [grab.vertex, way.vertex], { share: way.share });
  }

  stop(): void {
    this.pressed = false;
    this.grab = this.way = this.last = null;
    this.path = [];
    this.draw();
  }

  /** The path goes on to a place on the screen, with all that lies between. */
  private onward(p: OnScreen): void {
    const from = this.last!;
    const steps = Math.max(1, Math.ceil(Math.hypot(p.x - from.x, p.y - from.y) / STEP));
    for (let i = 1; i <= steps; i++) {
      const hit = this.part.hit(
        this.stage.ray(from.x + ((p.x - from.x) * i) / steps, from.y + ((p.y - from.y) * i) / steps),
      );
      if (hit) this.path.push({ face: hit.face, point: hit.point.toArray() });
    }
    this.last = p;
    this.draw();
  }

  private draw(): void {
    disposeTree(this.group);
    this.group.clear();
    const { grab, way, path } = this;
    const line = (places: readonly Vec3[], colour: number) =>
      places.length > 1 &&
      this.group.add(
        strongLines(
          places.slice(1).flatMap((q, i) => [...places[i]!, ...q]),
          colour,
        ),
      );
    line(
      path.map((x) => x.point),
      OCHRE,
    );
    if (grab) {
      if (grab.fixed) for (const w of grab.ways) this.mark(w.at, VERDIGRIS);
      else for (const w of grab.ways) line([grab.at, w.at], VERDIGRIS);
      line([grab.fixed?.at ?? grab.at, way?.point ?? grab.at], OCHRE);
      this.mark(way?.point ?? grab.at, OCHRE);
    }
    this.tag(grab && way && { text: way.name, at: new THREE.Vector3(...way.point) });
    this.stage.redraw();
  }

  private mark(p: Vec3, colour: number): void {
    const at = new THREE.Vector3(...p);
    const k = MARK * this.stage.pixelAt(at);
    const [u, v] = [new THREE.Vector3(k, 0, 0), new THREE.Vector3(0, k, 0)].map((w) =>
      w.applyQuaternion(this.stage.camera.quaternion),
    ) as [THREE.Vector3, THREE.Vector3];
    const ring = [u, v, u.clone().negate(), v.clone().negate()].map((w) => w.add(at).toArray());
    this.group.add(
      strongLines(
        ring.flatMap((q, i) => [...q, ...ring[(i + 1) % 4]!]),
        colour,
      ),
    );
  }
}
