import * as THREE from 'three';
import type { LengthUnit } from '@dusky-mason/core/units';
import { useCompany } from '../stores/company.ts';
import type { useNotices } from '../stores/notices.ts';
import type { usePicks } from '../stores/picks.ts';
import type { useProject } from '../stores/project.ts';
import type { useShapes } from '../stores/shapes.ts';
import type { useTools } from '../tools/tools.ts';
import { AreaPick } from './areaPick.ts';
import { Clicks } from './clicks.ts';
import { CutterLayer } from './cutterLayer.ts';
import { DragOnPart } from './dragOnPart.ts';
import { DrawOnPart, type Tag } from './drawOnPart.ts';
import { DrawPress } from './drawPress.ts';
import { FaceSketches } from './faceSketches.ts';
import { FindingLayer } from './findingLayer.ts';
import { GripDrag } from './gripDrag.ts';
import { HandleDrag } from './handleDrag.ts';
import { Handles } from './handles.ts';
import { scaleDashes } from './lines.ts';
import { OthersLayer } from './othersLayer.ts';
import { PartLayer } from './partLayer.ts';
import { PickOnPart } from './pickOnPart.ts';
import { PickedLayer } from './pickedLayer.ts';
import { PictureLayer } from './pictureLayer.ts';
import { PlaceOnPart } from './placeOnPart.ts';
import { Pointer } from './pointer.ts';
import { Snapshot } from './snapshot.ts';
import { Stage } from './stage.ts';
import { SurfaceBelow } from './surfaceBelow.ts';
import { ViewHelps } from './viewHelps.ts';

/** The closest look at what is picked shows this share of the part at least. */
const CLOSEST = 40;

/** What a view shows and acts on. */
export interface ViewStores {
  store: ReturnType<typeof useProject>;
  tools: ReturnType<typeof useTools>;
  picks: ReturnType<typeof usePicks>;
  notices: ReturnType<typeof useNotices>;
  shapes: ReturnType<typeof useShapes>;
}

/** How a view is used just now. */
export interface ViewHabits {
  /** Whether its edges are smoothed, and whether a graphics card draws it. */
  smooth: boolean;
  card: boolean;
  /** Whether cutters are shown. */
  cutting(): boolean;
  step(): number;
  unit(): LengthUnit;
  /** Shows a text beside a point of the scene; null takes it away. */
  tag(tag: Tag | null): void;
  /** Told how the main axes point on the screen: to the right, upward, towards the viewer. */
  axes(axes: [number, number, number][]): void;
  /** Shows a text at a place of the canvas for a moment. */
  flash(text: string, at: { x: number; y: number }): void;
}

/**
 * All that needs a renderer: the layers of the view, the tools that act on it, and the pointer over them. Throws where
 * there is no WebGL 2.
 */
export class View {
  readonly stage: Stage;
  readonly part = new PartLayer();
  /** What the part was at two states that are compared. */
  readonly before = new PartLayer();
  readonly after = new PartLayer();
  readonly cutters = new CutterLayer();
  readonly others = new OthersLayer();
  readonly behind = new PictureLayer();
  readonly surface = new SurfaceBelow();
  readonly handles: Handles;
  readonly grips: GripDrag;
  readonly findings: FindingLayer;
  readonly picks = new PickedLayer();
  readonly placer: PlaceOnPart;
  readonly drawer: DrawOnPart;
  readonly picker: PickOnPart;
  readonly dragger: DragOnPart;
  readonly areas: AreaPick;
  readonly helps: ViewHelps;
  readonly clicks: Clicks;
  readonly pointer: Pointer;
  readonly snapshot = new Snapshot();

  constructor(
    canvas: HTMLCanvasElement,
    private readonly stores: ViewStores,
    habits: ViewHabits,
  ) {
    const { store, tools, picks, notices, shapes } = stores;
    const { part } = this;
    const stage = (this.stage = new Stage(canvas, habits.smooth, habits.card));
    this.before.group.visible = this.after.group.visible = false;
    this.handles = new Handles(stage, this.surface);
    this.findings = new FindingLayer(stage);
    const sketches = new FaceSketches(store);
    this.placer = new PlaceOnPart(part, store, tools, notices, (x) => shapes.get(x));
    this.drawer = new DrawOnPart(stage, part, sketches, store, tools, notices, habits.step);
    this.picker = new PickOnPart(stage, part, sketches, tools, notices);
    this.dragger = new DragOnPart(stage, part, store, tools, picks, notices);
    this.areas = new AreaPick(stage, picks, tools);
    this.helps = new ViewHelps(stage, [part, this.before], this.cutters, store);
    this.drawer.tag = this.picker.tag = this.dragger.tag = habits.tag;
    this.placer.drawn = () => stage.redraw();
    const under = {
      part: (ray: THREE.Ray) => part.hit(ray),
      cutter: (ray: THREE.Ray) => (habits.cutting() ? this.cutters.hit(ray) : null),
      other: (ray: THREE.Ray) => this.others.hit(ray),
    };
    const faced = (normal: THREE.Vector3): void => void (this.helps.normal = normal);
    const missed = (at: { x: number; y: number }, words: string): void => habits.flash(words, at);
    this.clicks = new Clicks(stage, under, { placer: this.placer, picker: this.picker, faced, missed }, stores);
    this.areas.clicked = (at) => this.clicks.click(at, at);
    const handled = () => ({ step: habits.step(), unit: habits.unit() });
    this.grips = new GripDrag(stage, store, tools, handled, habits.tag);
    this.pointer = new Pointer(
      stage,
      [
        new DrawPress(this.drawer, tools, canvas),
        this.dragger,
        this.grips,
        this.areas,
        new HandleDrag(this.handles, store, tools, handled, habits.tag, (p) => stage.pixelAt(p)),
      ],
      this.clicks,
      (ray) => this.hover(ray),
    );
    for (const layer of [this.behind, this.before, this.after, part, this.others, this.cutters, this.placer.ghost])
      stage.scene.add(layer.group);
    for (const layer of [
      this.handles,
      this.grips,
      this.drawer.layer,
      this.picker,
      this.dragger,
      this.findings,
      this.picks,
    ])
      stage.overlay.add(layer.group);
    stage.beforeFrame = () => this.placeAll(habits);
    stage.sceneDrawn = () => this.snapshot.take(stage.renderer.getContext() as WebGL2RenderingContext, stage.frames);
    const layers = [part, this.before, this.after, this.others];
    stage.afterFrame = () => {
      if (layers.map((layer) => layer.step()).some(Boolean)) stage.redraw();
    };
    // Before the controls see it: a handle under the pointer goes first.
    canvas.addEventListener('pointerdown', (e) => this.pointer.press(e), { capture: true });
  }

  /** What keeps its size on the screen is placed anew for a frame. */
  private placeAll({ cutting, unit, axes }: ViewHabits): void {
    const { stage, part } = this;
    this.handles.place();
    this.grips.place();
    this.helps.place(cutting() && !this.stores.tools.busy, unit());
    const back = stage.camera.quaternion.clone().invert();
    axes([0, 1, 2].map((k) => new THREE.Vector3().setComponent(k, 1).applyQuaternion(back).toArray()));
    this.behind.place(stage.camera);
    this.findings.place();
    for (const layer of [part, this.before, this.after]) scaleDashes(layer.group, stage.pixelAt(part.centre));
  }

  /** A ball round all that is shown: the part at hand, and the others with it. */
  extent(): { centre: THREE.Vector3; radius: number } {
    const boxes = useCompany().boxes.map(
      ({ min, max }) => new THREE.Box3(new THREE.Vector3(...min), new THREE.Vector3(...max)),
    );
    if (!boxes.length) return this.part;
    const all = boxes.reduce((a, b) => a.union(b));
    const { centre, radius } = this.part;
    const ball = all.getBoundingSphere(new THREE.Sphere());
    return ((b) => ({ centre: b.center, radius: b.radius }))(ball.union(new THREE.Sphere(centre.clone(), radius)));
  }

  /** A ball round what is picked: elements, a cutter; null where nothing is that has a place. */
  pickedExtent(): { centre: THREE.Vector3; radius: number } | null {
    const { picks } = this.stores;
    const points = picks.shape && [...picks.shape.lines, ...picks.shape.points];
    const box = points?.length
      ? new THREE.Box3().setFromArray(points)
      : this.cutters.boxOf(this.stores.store.selection.cutter);
    if (box.isEmpty()) return null;
    const { center, radius } = box.getBoundingSphere(new THREE.Sphere());
    // A single vertex has no size: then what is about it is seen.
    return { centre: center, radius: Math.max(radius, this.part.radius / CLOSEST) };
  }

  /** What is under a pointer that is not pressed. */
  private hover(ray: THREE.Ray): void {
    const { tools } = this.stores;
    const { canvas } = this.stage;
    if (tools.drawing) this.drawer.move(ray);
    else if (tools.dragging) return;
    else if (tools.picking) this.picker.move(ray);
    else if (tools.placing) canvas.style.cursor = this.placer.hover(ray) ? 'crosshair' : 'not-allowed';
    else canvas.style.cursor = this.handles.hover(ray) || this.grips.hover(ray) ? 'grab' : '';
  }

  /** Stops the tools whose work has ended, and shows by the cursor what the one at work does. */
  follow(at: { drawing: boolean; placing: boolean; picking: boolean; dragging: boolean }): void {
    const { canvas } = this.stage;
    if (!at.drawing) this.drawer.stop();
    if (!at.placing) this.placer.stop();
    if (!at.picking) this.picker.stop();
    canvas.style.cursor = at.drawing || at.picking ? 'crosshair' : at.dragging ? 'grab' : '';
    if (at.drawing || at.placing || at.picking || at.dragging) canvas.focus();
  }

  /** Releases everything it holds. */
  dispose(): void {
    this.drawer.layer.show(null);
    this.picker.stop();
    this.dragger.stop();
    this.findings.show(null, null);
    this.picks.show(null);
    this.placer.stop();
    this.surface.release();
    this.cutters.show([], null, () => undefined);
    this.handles.show(null, null, 'slide');
    this.grips.show(null);
    this.others.show(new Map());
    this.behind.show([], new Map());
    for (const layer of [this.part, this.before, this.after]) layer.show(null);
    this.stage.dispose();
  }
}
