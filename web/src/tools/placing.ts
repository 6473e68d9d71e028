import * as THREE from 'three';
import {
  newShape,
  resizeShape,
  shapeSize,
  type NewCutter,
  type Shape,
  type ShapeKind,
} from '@dusky-mason/core/courses';
import type { CutOperationName } from '../components/marks.ts';
import { tidy, turnToward } from '../viewport/handleMath.ts';

/** A place on the part where a cutter may be put. */
export interface Seat {
  /** mm. */
  point: THREE.Vector3;
  /** Unit normal, outward. */
  normal: THREE.Vector3;
  /** Material below the point along the normal, mm; null where it is not known. */
  thickness: number | null;
}

/** Width of a new cutter, as a share of the part's radius. */
const SHARE = 0.2;
/** Material up to so many widths thick is gone through; thicker material is entered by one width. */
const THROUGH_UP_TO = 2.5;

/** A new cutter stands on a grid of this share of the part's radius, or finer: its numbers are short. */
const GRID = 1 / 300;

/** The nearest of 1, 1.5, 2, 3, 4, 5, 6, 8 and their tenfolds: a size that one would type. */
export function roundSize(x: number): number {
  const unit = 10 ** Math.floor(Math.log10(x));
  const steps = [1, 1.5, 2, 3, 4, 5, 6, 8, 10];
  const best = steps.reduce((a, b) => (Math.abs(b - x / unit) < Math.abs(a - x / unit) ? b : a));
  return +(best * unit).toPrecision(3);
}

/** A cutter of a given shape seated on a place as it is: as deep as it is high when it takes away, standing out of the face when it adds. */
export function stampedCutter(shape: Shape, name: string, operation: CutOperationName, seat: Seat): NewCutter {
  const height = shapeSize(shape)?.[2] ?? outlineHeight(shape);
  const lift = operation === 'union' ? height / 2 : -height / 2;
  const place = seat.point.clone().addScaledVector(seat.normal, lift);
  const position = place.toArray().map((x) => +x.toFixed(6) + 0) as [number, number, number];
  return { name, shape, placement: { position, turn: turnToward(seat.normal) } };
}

const outlineHeight = (shape: Shape): number => (shape.kind === 'outline' ? shape.height : 0);

/**
 * A new cutter seated on a place: its own z axis along the normal, sized after the part. When it takes away it goes through thin
 * material, standing proud on both sides, and one width into thick; when it adds it stands out by a width with a foot in the part.
 */
export function seatedCutter(kind: ShapeKind, operation: CutOperationName, seat: Seat, radius: number): NewCutter {
  const width = roundSize(SHARE * radius);
  let shape = newShape(kind);
  const began = shapeSize(shape)!;
  // In its own proportions, its widest flat side as wide as was chosen.
  const k = width / Math.max(began[0], began[1]);
  for (const axis of [2, 1, 0] as const) shape = resizeShape(shape, axis, began[axis] * k);
  const thin = seat.thickness !== null && seat.thickness <= THROUGH_UP_TO * width;
  const proud = width / 4;
  const [inward, outward] =
    operation === 'union' ? [proud, width] : thin ? [seat.thickness! + proud, proud] : [width, proud];
  const straight = kind !== 'ball' && kind !== 'patchBall' && kind !== 'torus';
  if (straight) shape = resizeShape(shape, 2, tidy(inward + outward, GRID * radius));
  const lift = straight ? (outward - inward) / 2 : 0;
  const place = seat.point.clone().addScaledVector(seat.normal, lift);
  const position = place.toArray().map((x) => tidy(x, GRID * radius) + 0) as [number, number, number];
  return {
    name: '',
    shape,
    placement: { position, turn: turnToward(seat.normal) },
  };
}
