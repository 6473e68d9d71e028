import * as THREE from 'three';
import { LineMaterial, type LineMaterialParameters } from 'three/addons/lines/LineMaterial.js';
import { LineSegments2 } from 'three/addons/lines/LineSegments2.js';
import { LineSegmentsGeometry } from 'three/addons/lines/LineSegmentsGeometry.js';
import { LINE_CLASSES, type RenderBuffers } from '@dusky-mason/core/mesh';
import { LINE_LOOKS } from '../theme/colours.ts';
import { runsOf } from './pictureParts.ts';

/** Wide lines cost far more than thin ones: above this many of them in all, thin ones are drawn. */
const WIDE_UP_TO = 4000;

const held = new WeakSet<THREE.Material>();

/**
 * A material that all things of its look share, and that stays: a renderer forgets the shader of the last material of
 * its kind that goes, and compiling it anew with every change takes longer than drawing many frames.
 */
export function kept<M extends THREE.Material>(material: M): M {
  held.add(material);
  return material;
}

const wide = new Map<string, LineMaterial>();

/** The material of wide lines of one look. */
function wideMaterial(look: LineMaterialParameters): LineMaterial {
  const key = JSON.stringify(look);
  const known = wide.get(key) ?? kept(new LineMaterial(look));
  wide.set(key, known);
  return known;
}

/**
 * The edges of a part, one object a class, or several of a class with many. Dashes are in pixels: see `scaleDashes`.
 */
export function edgeLines(r: RenderBuffers): THREE.Object3D[] {
  const few = r.lineStart.at(-1)! - r.lineStart[1]! <= WIDE_UP_TO;
  return LINE_CLASSES.flatMap((name, k): THREE.Object3D[] => {
    const from = r.lineStart[k]!;
    const to = r.lineStart[k + 1]!;
    if (from === to) return [];
    const look = LINE_LOOKS[name];
    const data = r.lines.subarray(6 * from, 6 * to);
    const shared = { color: look.colour, transparent: look.opacity < 1, opacity: look.opacity };
    if (name !== 'plain' && few) {
      const geometry = new LineSegmentsGeometry().setPositions(data);
      const dashed = look.dash.length > 0;
      const [dashSize, gapSize] = look.dash;
      const line = new LineSegments2(
        geometry,
        wideMaterial({ ...shared, linewidth: look.width, dashed, ...(dashed && { dashSize, gapSize }) }),
      );
      if (dashed) line.computeLineDistances();
      return [line];
    }
    const material = new THREE.LineBasicMaterial(shared);
    return runsOf(to - from).map(([a, b]) => {
      const places = new THREE.BufferAttribute(data.subarray(6 * a, 6 * b), 3);
      const line = new THREE.LineSegments(new THREE.BufferGeometry().setAttribute('position', places), material);
      line.userData.plain = name === 'plain' || name === 'tie';
      return line;
    });
  });
}

/** Keeps dashes as long on the screen as they were meant, for a pixel of so many mm. */
export function scaleDashes(o: THREE.Object3D, pixel: number): void {
  o.traverse((x) => {
    if (x instanceof LineSegments2 && x.material.dashed) x.material.dashScale = 1 / pixel;
  });
}

/** Width of what must not be missed, pixels. */
const STRONG = 3;

/** As `overlayLines`, wide as long as there are few of them. */
export function strongLines(places: ArrayLike<number>, color: number): THREE.Object3D {
  if (places.length > 6 * WIDE_UP_TO) return overlayLines(places, color);
  const geometry = new LineSegmentsGeometry().setPositions(Float32Array.from(places));
  const lines = new LineSegments2(geometry, wideMaterial({ color, linewidth: STRONG, depthTest: false }));
  lines.renderOrder = 5;
  lines.frustumCulled = false;
  return lines;
}

/** Lines over everything else, in pairs of points. */
export function overlayLines(places: ArrayLike<number>, color: number, opacity = 1): THREE.LineSegments {
  const geometry = new THREE.BufferGeometry().setAttribute(
    'position',
    new THREE.BufferAttribute(Float32Array.from(places), 3),
  );
  const material = new THREE.LineBasicMaterial({ color, transparent: opacity < 1, opacity, depthTest: false });
  const lines = new THREE.LineSegments(geometry, material);
  lines.renderOrder = 5;
  lines.frustumCulled = false;
  return lines;
}

/** Releases the geometry and material of everything below an object, but for those that are kept. */
export function disposeTree(o: THREE.Object3D): void {
  o.traverse((x) => {
    const m = x as THREE.Mesh;
    m.geometry?.dispose();
    for (const material of Array.isArray(m.material) ? m.material : [m.material])
      if (material && !held.has(material)) material.dispose();
  });
}
