import * as THREE from 'three';
import type { Vec3 } from '@dusky-mason/core/mesh';
import { onPlane, type Sketch } from '@dusky-mason/core/shapes';
import type { useNotices } from '../stores/notices.ts';
import { candidates, faceOn, nearestPick, picked, placeOn, stopOn, unpicked, type Picked } from '../tools/picking.ts';
import type { useTools } from '../tools/tools.ts';
import { rayOnPlane, type FaceSketches } from './faceSketches.ts';
import { OCHRE, VERDIGRIS } from '../theme/colours.ts';
import { disposeTree, overlayLines } from './lines.ts';
import type { PartLayer } from './partLayer.ts';
import type { Stage } from './stage.ts';
import type { Tag } from './drawOnPart.ts';

type Hit = NonNullable<ReturnType<PartLayer['hit']>>;

/** How near to a snapped place the pointer must come, pixels. */
const SNAP = 9;
/** Half the size of a point's mark, pixels. */
const MARK = 7;

/** Picks edges or points of the face under the pointer, or of the one in the middle of the view by keyboard. */
export class PickOnPart {
  readonly group = new THREE.Group();
  /** Set by who shows it: the tag beside the pointer. */
  tag: (tag: Tag | null) => void = () => undefined;
  private face = '';
  private sketch: Sketch | null = null;
  private list: Picked[] = [];
  private near: Picked | null = null;
  private at = -1;

  constructor(
    private readonly stage: Stage,
    private readonly part: PartLayer,
    private readonly sketches: FaceSketches,
    private readonly tools: ReturnType<typeof useTools>,
    private readonly notices: ReturnType<typeof useNotices>,
  ) {}

  /** The pointer moves over the part: what it means is marked. */
  move(ray: THREE.Ray): void {
    const plane = this.tools.picking?.plane;
    if (plane) {
      const p = rayOnPlane(plane, ray);
      return this.mark(p && placeOn(plane, p));
    }
    const hit = this.part.hit(ray);
    if (!hit) return this.mark(null);
    this.withFace(hit, () => this.mark(this.under(hit)));
  }

  /** What a hit of the face that is known means. */
  private under(hit: Hit): Picked | null {
    const point = hit.point.toArray() as Vec3;
    const now = this.tools.picking;
    if (now?.wants === 'stop')
      return stopOn(this.list, { point, face: hit.face }, SNAP * this.stage.pixelAt(hit.point), now.got.at(-1)?.point);
    if (now?.wants !== 'face') return nearestPick(this.list, point);
    return this.sketch && faceOn(this.sketch, { point, face: hit.face, course: hit.course });
  }

  private withFace(hit: Hit, then: () => void): void {
    const key = this.sketches.key(hit);
    if (key === this.face) return then();
    const wants = this.tools.picking?.wants;
    if (!wants || wants === 'place') return;
    this.face = key;
    this.sketches.of(hit).then(
      (sketch) => {
        if (this.face !== key || this.tools.picking?.wants !== wants) return;
        this.sketch = sketch;
        this.list =
          wants === 'face' ? [] : candidates(sketch, wants === 'stop' ? 'edge' : wants, this.tools.picking?.corners);
        this.at = -1;
        then();
      },
      (e) => this.notices.fail(e),
    );
  }

  /** A click takes what is marked; whether there was anything. */
  click(ray: THREE.Ray): boolean {
    const plane = this.tools.picking?.plane;
    if (plane) {
      const p = rayOnPlane(plane, ray);
      this.take(p && placeOn(plane, p));
      return p !== null;
    }
    const hit = this.part.hit(ray);
    if (!hit) return false;
    this.withFace(hit, () => this.take(this.under(hit)));
    return true;
  }

  /** Arrows move the place on a plane by a step of pixels. */
  private nudge(plane: Sketch, key: string, large: boolean): boolean {
    const way = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[key];
    if (!way) return false;
    const from: Vec3 = this.near?.point ?? plane.origin;
    const k = this.stage.pixelAt(new THREE.Vector3(...from)) * (large ? 20 : 2);
    const [x, y] = onPlane(plane, from);
    this.mark(placeOn(plane, this.near ? [x + way[0]! * k, y + way[1]! * k] : [x, y]));
    return true;
  }

  /**
   * Keys: arrows go through what can be picked of the face in the middle of the view, Enter takes it. Whether one was
   * used.
   */
  key(key: string, large: boolean): boolean {
    const plane = this.tools.picking?.plane;
    if (plane && key !== 'Enter') return this.nudge(plane, key, large);
    if (this.tools.picking?.wants === 'face') return this.faceKey(key);
    const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[key];
    if (step) {
      const go = () => {
        this.at = (this.at + step + this.list.length) % this.list.length;
        this.mark(this.list[this.at] ?? null);
      };
      if (this.list.length) go();
      else {
        const hit = this.part.hit(this.stage.middleRay());
        if (hit) this.withFace(hit, () => this.mark(this.list[(this.at = 0)] ?? null));
        else this.notices.say('warning', 'There is no face in the middle of the view. Turn the view, or click one.');
      }
      return true;
    }
    if (key !== 'Enter') return false;
    if (this.near) this.take(this.near);
    else this.key('ArrowRight', large);
    return true;
  }

  /** When faces are picked, Enter takes the one in the middle of the view. */
  private faceKey(key: string): boolean {
    if (key !== 'Enter') return false;
    const hit = this.part.hit(this.stage.middleRay());
    if (hit) this.withFace(hit, () => this.take(this.under(hit)));
    else this.notices.say('warning', 'There is no face in the middle of the view. Turn the view, or click one.');
    return true;
  }

  private take(pick: Picked | null): void {
    const now = this.tools.picking;
    if (!now || !pick) return;
    this.tools.picking = picked(now, pick);
    if (this.tools.picking) this.mark(null);
  }

  /** One step back; picking ends when there is none left. */
  back(): void {
    const now = this.tools.picking;
    if (now) this.tools.picking = unpicked(now);
    this.mark(null);
  }

  private mark(pick: Picked | null): void {
    this.near = pick;
    disposeTree(this.group);
    this.group.clear();
    for (const p of this.tools.picking?.got ?? []) this.draw(p, VERDIGRIS);
    if (pick) this.draw(pick, OCHRE);
    this.tag(pick && { text: pick.name, at: new THREE.Vector3(...pick.point) });
    this.stage.redraw();
  }

  private draw(p: Picked, colour: number): void {
    if (p.boundaries) {
      for (const loop of p.boundaries)
        this.group.add(
          overlayLines(
            loop.flatMap((a, i) => [...a, ...loop[(i + 1) % loop.length]!]),
            colour,
          ),
        );
      return;
    }
    if (this.tools.picking?.wants === 'stop') this.joinStops(p);
    else if (p.edge) return void this.group.add(overlayLines(p.edge.flat(), colour));
    const k = MARK * this.stage.pixelAt(new THREE.Vector3(...p.point));
    const [u, v] = [new THREE.Vector3(1, 0, 0), new THREE.Vector3(0, 1, 0)].map((w) =>
      w.applyQuaternion(this.stage.camera.quaternion).multiplyScalar(k),
    ) as [THREE.Vector3, THREE.Vector3];
    const at = new THREE.Vector3(...p.point);
    const corners = [u, v, u.clone().negate(), v.clone().negate()].map((w) => w.add(at));
    this.group.add(
      overlayLines(
        corners.flatMap((c, i) => [...c.toArray(), ...corners[(i + 1) % 4]!.toArray()]),
        colour,
      ),
    );
  }

  /** The line so far, to the stop that is drawn. */
  private joinStops(p: Picked): void {
    const got = this.tools.picking?.got ?? [];
    const before = got[got.includes(p) ? got.indexOf(p) - 1 : got.length - 1];
    if (before) this.group.add(overlayLines([...before.point, ...p.point], OCHRE));
  }

  stop(): void {
    this.face = '';
    this.sketch = null;
    this.list = [];
    this.at = -1;
    this.mark(null);
    this.tag(null);
  }
}
