import * as THREE from 'three';
import { PICTURE_VIEWS, viewFacing, type ReferencePicture } from '@dusky-mason/core/courses';
import { disposeTree } from './lines.ts';

/** A view within this of an axis is straight on: cosine of 3°. */
export const STRAIGHT_VIEW_COS = Math.cos((3 * Math.PI) / 180);

/**
 * Reference pictures behind straight-on views. Each lies in the plane through the origin, so that what is traced in
 * that plane lies on it whatever the perspective, and is drawn before everything else, so that all of the part stands
 * in front of it.
 */
export class PictureLayer {
  readonly group = new THREE.Group();
  private readonly shown = new Map<
    number,
    { hash: string; mesh: THREE.Mesh<THREE.PlaneGeometry, THREE.MeshBasicMaterial>; picture: ReferencePicture }
  >();

  show(pictures: readonly ReferencePicture[], images: ReadonlyMap<string, ImageBitmap>): void {
    const there = new Set(pictures.filter((p) => p.shown && images.has(p.hash)).map((p) => p.id));
    for (const id of this.shown.keys()) if (!there.has(id)) this.remove(id);
    for (const p of pictures) {
      if (!there.has(p.id)) continue;
      let s = this.shown.get(p.id);
      if (s && s.hash !== p.hash) {
        this.remove(p.id);
        s = undefined;
      }
      if (!s) {
        s = { hash: p.hash, mesh: plane(images.get(p.hash)!), picture: p };
        this.shown.set(p.id, s);
        this.group.add(s.mesh);
      }
      s.picture = p;
      const { right, up, towards } = PICTURE_VIEWS[p.view];
      const [x, y, z] = [right, up, towards].map((v) => new THREE.Vector3(...v)) as [
        THREE.Vector3,
        THREE.Vector3,
        THREE.Vector3,
      ];
      s.mesh.quaternion.setFromRotationMatrix(new THREE.Matrix4().makeBasis(x, y, z));
      s.mesh.position.copy(x.multiplyScalar(p.at[0])).addScaledVector(y, p.at[1]);
      s.mesh.scale.set(p.width, p.width * p.aspect, 1);
      s.mesh.material.opacity = p.opacity;
    }
  }

  /** Shows those of the view that one looks straight from. */
  place(camera: THREE.Camera): void {
    const back = camera.getWorldDirection(new THREE.Vector3()).negate();
    const view = viewFacing([back.x, back.y, back.z], STRAIGHT_VIEW_COS);
    for (const s of this.shown.values()) s.mesh.visible = s.picture.view === view;
  }

  private remove(id: number): void {
    const s = this.shown.get(id)!;
    s.mesh.material.map?.dispose();
    disposeTree(s.mesh);
    this.group.remove(s.mesh);
    this.shown.delete(id);
  }
}

function plane(image: ImageBitmap): THREE.Mesh<THREE.PlaneGeometry, THREE.MeshBasicMaterial> {
  const map = new THREE.Texture(image as unknown as HTMLImageElement);
  map.colorSpace = THREE.SRGBColorSpace;
  // Bitmaps are not turned over on their way to the graphics card: the geometry's own v is.
  map.flipY = false;
  map.needsUpdate = true;
  const geometry = new THREE.PlaneGeometry(1, 1);
  const uv = geometry.getAttribute('uv');
  for (let i = 0; i < uv.count; i++) uv.setY(i, 1 - uv.getY(i));
  // Drawn with the solid things, first of them, and yet seen through: what is transparent would be drawn after the
  // part.
  const material = new THREE.MeshBasicMaterial({
    map,
    depthTest: false,
    depthWrite: false,
    side: THREE.DoubleSide,
    blending: THREE.CustomBlending,
    blendSrc: THREE.SrcAlphaFactor,
    blendDst: THREE.OneMinusSrcAlphaFactor,
    blendSrcAlpha: THREE.OneFactor,
    blendDstAlpha: THREE.OneMinusSrcAlphaFactor,
  });
  const mesh = new THREE.Mesh(geometry, material);
  mesh.renderOrder = -10;
  return mesh;
}
