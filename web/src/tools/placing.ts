import * as THREE from 'three';
import {
  newShape,
  resizedTo,
  resizeShape,
  seatedOn,
  shapeSize,
  turnedAbout,
  uprightAxes,
  type Extent,
  type NewCutter,
  type Placed,
  type RackItem,
  type Shape,
  type ShapeKind,
} from '@dusky-mason/core/courses';
import { turnOfAxes, type Placement } from '@dusky-mason/core/mesh';
import type { CutOperationName } from '../words/operations.ts';
import { tidy } from './handleMath.ts';

/** A place on the part where a cutter may be put. */
export interface Seat {
  /** mm. */
  point: THREE.Vector3;
  /** Unit normal, outward. */
  normal: THREE.Vector3;
  /** Material below the point along the normal, mm; null where it is not known. */
  thickness: number | null;
  /** Where the body of the part stands: what is put on it stands as the body does. */
  body: Placement;
}

/**
 * How a cutter of the rack is stamped: turned about the normal (degrees), larger by a factor, so deep (mm; half in
 * when null).
 */
export interface StampSettings {
  turn: number;
  size: number;
  depth: number | null;
}

/** Width of a new cutter, as a share of the part's radius. */
const SHARE = 0.2;
/** Material up to this many widths thick is cut through; thicker material is entered by one width. */
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

/**
 * A cutter of the rack seated on a place, with the turn, size and depth that were set: half in, or with a typed depth
 * its end in the face, beneath it when it takes away and on it when it adds. `extent` gives the box of one that is a mesh.
 */
export function stampedCutter(
  { shape, name }: Pick<RackItem, 'shape' | 'name'>,
  operation: CutOperationName,
  seat: Seat,
  { turn, size, depth }: StampSettings,
  extent: Extent | null,
): NewCutter {
  const box = extent ?? { size: shapeSize(shape) ?? ([1, 1, 1] as const), centre: [0, 0, 0] as const };
  let stamp: Placed = { shape, placement: { position: [0, 0, 0], turn: turnOn(seat) } };
  if (size !== 1) stamp = { ...stamp, placement: { ...stamp.placement, scale: [size, size, 1] } };
  if (depth !== null) stamp = resizedTo(stamp, box, 2, 0, depth);
  const at = (onTop: boolean) => seatedOn(stamp, arr(seat.point), arr(seat.normal), onTop, extent);
  const seated = at(operation === 'union');
  // Without a typed depth it stands half in: midway between beneath the face and on it.
  const other = depth === null ? at(operation !== 'union').placement.position : seated.placement.position;
  const position = seated.placement.position.map((x, k) => (x + other[k]!) / 2) as [number, number, number];
  const placedThere = { ...seated, placement: { ...seated.placement, position } };
  const { shape: made, placement } = turn ? turnedAbout(placedThere, 2, turn, arr(seat.point)) : placedThere;
  return { name, shape: made, placement };
}

/** The turn of what stands upright on a seat. */
const turnOn = ({ normal, body }: Seat): [number, number, number] => {
  const turn = turnOfAxes(uprightAxes(arr(normal), body));
  return turn.map((x) => +x.toFixed(6) + 0) as [number, number, number];
};

const arr = (v: THREE.Vector3): [number, number, number] => [v.x, v.y, v.z];

/** A cone that takes away opens towards the outside, as a countersink does; one that adds ends in its tip there. */
function mouthOut(shape: Shape, operation: CutOperationName): Shape {
  if (shape.kind !== 'cone' || operation === 'union') return shape;
  const [narrow, wide] = [shape.foot, shape.top].sort((a, b) => a - b) as [number, number];
  return { ...shape, foot: narrow, top: wide };
}

/**
 * A new cutter seated on a place, upright: its own z axis along the normal, sized after the part. When it takes away it goes
 * through thin material, standing proud on both sides, and one width into thick; when it adds it stands out by a width
 * with a foot in the part.
 */
export function seatedCutter(kind: ShapeKind, operation: CutOperationName, seat: Seat, radius: number): NewCutter {
  const width = roundSize(SHARE * radius);
  let shape = mouthOut(newShape(kind), operation);
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
    placement: { position, turn: turnOn(seat) },
  };
}
