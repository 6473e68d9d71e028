import { profileRun } from './runs.ts';
import { Shape } from './shapeSpec.ts';

/** The size of a shape along its own axes, mm; null where only its mesh gives it. */
export function shapeSize(s: Shape): [number, number, number] | null {
  switch (s.kind) {
    case 'box':
    case 'wedge':
    case 'slot':
    case 'plate':
      return [s.x, s.y, s.z];
    case 'sheet':
      return [s.x, s.y, 0];
    case 'cylinder':
    case 'tube':
    case 'polygon':
      return [s.diameter, s.diameter, s.height];
    case 'cone':
      return [Math.max(s.foot, s.top), Math.max(s.foot, s.top), s.height];
    case 'ball':
    case 'patchBall':
      return [s.diameter, s.diameter, s.diameter];
    case 'torus':
      return [s.diameter + s.thickness, s.diameter + s.thickness, s.thickness];
    case 'turned': {
      const { radius, low, high } = profileRun(s);
      return [2 * radius, 2 * radius, high - low];
    }
    default:
      return null;
  }
}

/** A shape is never resized to less than this, mm: its forms would refuse it. */
const LEAST_SIZE = 1e-3;

/**
 * The shape with its size along one of its own axes changed to `size` (mm); round shapes change in both round
 * directions. Shapes that have no size of their own come back as they are: they are scaled by their placement.
 */
export function resizeShape(s: Shape, axis: 0 | 1 | 2, size: number): Shape {
  const to = Math.max(LEAST_SIZE, size);
  switch (s.kind) {
    case 'box':
    case 'wedge':
    case 'slot':
    case 'plate':
      return { ...s, [(['x', 'y', 'z'] as const)[axis]]: to };
    case 'sheet':
      return axis === 2 ? s : { ...s, [(['x', 'y'] as const)[axis]!]: to };
    case 'cylinder':
    case 'polygon':
      return axis === 2 ? { ...s, height: to } : { ...s, diameter: to };
    case 'tube':
      return axis === 2 ? { ...s, height: to } : { ...s, diameter: to, bore: (s.bore * to) / s.diameter };
    case 'cone': {
      const k = to / Math.max(s.foot, s.top);
      return axis === 2 ? { ...s, height: to } : { ...s, foot: s.foot * k, top: s.top * k };
    }
    case 'ball':
    case 'patchBall':
      return { ...s, diameter: to };
    case 'torus':
      return axis === 2 ? { ...s, thickness: to } : { ...s, diameter: Math.max(LEAST_SIZE, to - s.thickness) };
    case 'outline':
      return axis === 2 ? { ...s, height: to } : s;
    case 'turned': {
      const own = shapeSize(s)!;
      const k = to / own[axis]!;
      // Bows and radii are lengths of the profile's own plane: they keep their shape where both ways grow alike, and
      // their share where not.
      const [kr, kz] = axis === 2 ? [1, k] : [k, 1];
      const even = Math.sqrt(kr * kz);
      return {
        ...s,
        points: s.points.map(([r, z]) => [r * kr, z * kz]),
        bows: s.bows.map((b) => b * even),
        radii: s.radii.map((r) => r * even),
      };
    }
    default:
      return s;
  }
}
