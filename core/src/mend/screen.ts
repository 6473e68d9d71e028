import {
  faceBegin,
  faceEnd,
  insideRing,
  sizeOf,
  SpatialIndex,
  sub,
  topologyOf,
  type Flat,
  type PolyMesh,
  type Vec3,
} from '../mesh/index.ts';
import { verticesOfElement, type ElementKind } from './elements.ts';

/** An outline on the screen, and how the part is seen there. */
export interface ScreenArea {
  /** Closed run, −1 … 1 to the right and up. */
  outline: readonly (readonly [number, number])[];
  /** From the part to the screen: 16 numbers, column by column, as a graphics card takes them. */
  view: readonly number[];
  /** Where one looks from, mm; null for picking through the part, what is hidden as well. */
  eye: Vec3 | null;
}

/** Rays to what may be hidden end this share of the size before it. */
const SHORT = 1e-4;

/** Elements whose middle lies within an outline on the screen, and that nothing hides where it is asked for. */
export function elementsWithin(m: PolyMesh, on: ElementKind, { outline, view, eye }: ScreenArea): number[] {
  const ring = outline.map(([x, y]): Flat => [x, y]);
  const shown = (p: Vec3): Flat | null => {
    const at = (row: number) => view[row]! * p[0] + view[4 + row]! * p[1] + view[8 + row]! * p[2] + view[12 + row]!;
    const w = at(3);
    return w > 0 ? [at(0) / w, at(1) / w] : null;
  };
  const t = topologyOf(m);
  const all: Iterable<number> =
    on === 'face'
      ? Array.from({ length: m.faceLoops.length - 1 }, (_, f) => f)
      : on === 'edge'
        ? t.edgeCorner
        : new Set(m.corners);
  const index = eye ? new SpatialIndex(m) : null;
  const short = SHORT * sizeOf(m);
  const out: number[] = [];
  for (const x of all) {
    const p = on === 'face' ? faceMiddle(m, x) : middle(m, on, x);
    const place = shown(p);
    if (!place || !insideRing(ring, place)) continue;
    if (index && eye) {
      const way = sub(p, eye);
      const far = Math.hypot(...way);
      const hit = index.raycast(eye, [way[0] / far, way[1] / far, way[2] / far]);
      if (hit && hit.distance < far - short) continue;
    }
    out.push(x);
  }
  return out;
}

function middle(m: PolyMesh, on: ElementKind, x: number): Vec3 {
  const list = verticesOfElement(m, on, x);
  return ([0, 1, 2] as const).map(
    (k) => list.reduce((s, v) => s + m.positions[3 * v + k]!, 0) / list.length,
  ) as unknown as Vec3;
}

/** A place of a face to find it by: the middle of its outer boundary where that is in it, else of an edge. */
function faceMiddle(m: PolyMesh, f: number): Vec3 {
  const single = m.faceLoops[f + 1]! - m.faceLoops[f]! === 1;
  if (single) return middle(m, 'face', f);
  const begin = faceBegin(m, f);
  const [a, b] = [m.corners[begin]!, m.corners[begin + 1 < faceEnd(m, f) ? begin + 1 : begin]!];
  return ([0, 1, 2] as const).map((k) => (m.positions[3 * a + k]! + m.positions[3 * b + k]!) / 2) as unknown as Vec3;
}
