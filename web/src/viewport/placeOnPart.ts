import * as THREE from 'three';
import {
  addCut,
  addCutter,
  CutterSchema,
  shapeTitle,
  type NewCutter,
  type Shape,
  checked,
} from '@dusky-mason/core/courses';
import type { Placement } from '@dusky-mason/core/mesh';
import type { useNotices } from '../stores/notices.ts';
import type { useProject } from '../stores/project.ts';
import { seatedCutter, stampedCutter, type Seat } from '../tools/placing.ts';
import type { useTools } from '../tools/tools.ts';
import type { ShapePicture } from '../stores/shapes.ts';
import { CutterLayer } from './cutterLayer.ts';
import type { PartHit, PartLayer } from './partLayer.ts';

/** Number of the cutter that is not there yet: one that no document gives out. */
const GHOST = Number.MAX_SAFE_INTEGER;

/** Where a base stands that was not moved. */
const STRAIGHT: Placement = { position: [0, 0, 0], turn: [0, 0, 0] };

/** Places a cutter of a chosen shape where the pointer is on the part, shown beforehand. */
export class PlaceOnPart {
  readonly ghost = new CutterLayer();
  /** Set by who shows it: something has changed in the view. */
  drawn: () => void = () => undefined;
  private hovered: THREE.Ray | null = null;

  constructor(
    private readonly part: PartLayer,
    private readonly store: ReturnType<typeof useProject>,
    private readonly tools: ReturnType<typeof useTools>,
    private readonly notices: ReturnType<typeof useNotices>,
    private readonly pictures: (shape: Shape) => ShapePicture | undefined,
  ) {}

  /** Shows the cutter as it would be placed; whether there is a place under the pointer. */
  hover(ray: THREE.Ray): boolean {
    this.hovered = ray.clone();
    const hit = this.part.hit(ray);
    const list = hit ? [checked(CutterSchema, { ...this.cutter(this.seatAt(ray, hit)), id: GHOST })] : [];
    this.ghost.show(list, GHOST, this.pictures);
    this.drawn();
    return hit !== null;
  }

  /** Shows it once more, when a picture that was missing has come. */
  again(): void {
    if (this.hovered) this.hover(this.hovered);
  }

  /** Places it where a ray meets the part; whether it does. */
  click(ray: THREE.Ray): boolean {
    const hit = this.part.hit(ray);
    if (hit) this.place(this.seatAt(ray, hit));
    return hit !== null;
  }

  /** Places at the middle of the top: by keyboard, without pointing. */
  onTop(): boolean {
    const { centre, radius } = this.part;
    const from = centre.clone().setZ(centre.z + 4 * radius);
    if (this.click(new THREE.Ray(from, new THREE.Vector3(0, 0, -1)))) return true;
    this.notices.say(
      'warning',
      'There is no material under the middle of the top. Click a face to place the cutter there.',
    );
    return false;
  }

  stop(): void {
    this.hovered = null;
    this.ghost.show([], null, () => undefined);
  }

  private seatAt(ray: THREE.Ray, hit: PartHit): Seat {
    const normal = hit.normal.clone().normalize();
    if (normal.dot(ray.direction) > 0) normal.negate();
    return { point: hit.point, normal, thickness: this.part.thicknessBelow(hit.point, normal), body: this.body() };
  }

  private body(): Placement {
    const base = this.store.part?.courses[0];
    return base?.kind === 'shape' ? base.params.placement : STRAIGHT;
  }

  private cutter(seat: Seat): NewCutter {
    const { stamp } = this.tools;
    if (stamp) {
      const extent = this.pictures(stamp.shape) ?? null;
      return stampedCutter(stamp, this.tools.operation, seat, this.tools.stamping, extent);
    }
    const c = seatedCutter(this.tools.kind, this.tools.operation, seat, this.part.radius);
    const n = this.store.part?.courses.length ?? 1;
    return { ...c, name: `${shapeTitle(this.tools.kind)} ${n}` };
  }

  private place(seat: Seat): void {
    const { store, tools } = this;
    const project = store.project;
    const partId = store.selection.part;
    if (!project || partId === null) return;
    const cutter = this.cutter(seat);
    const course = tools.into;
    const { stamp } = tools;
    tools.end();
    if (course !== null) {
      store.change(`Add ${cutter.name}`, addCutter(project, partId, course, cutter));
      store.select({ course, cutter: project.nextId });
    } else {
      store.change(`Place ${cutter.name}`, addCut(project, partId, cutter, tools.operation));
      store.select({ course: project.nextId, cutter: project.nextId + 1 });
    }
    // One goes on stamping until told to stop; the next one is a cutter of the same cut.
    if (stamp) tools.stampWith(stamp, course ?? project.nextId);
  }
}
