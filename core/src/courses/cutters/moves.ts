import {
  add,
  mapPoint,
  placementAffine,
  scaled,
  sub,
  turnAbout,
  turnOfAxes,
  type Placement,
  type Vec3,
} from '../../mesh/index.ts';
import { pivotPlace } from '../base/shapeMesh.ts';
import { resizeShape, shapeSize } from '../base/shapeSize.ts';
import { Shape } from '../base/shapeSpec.ts';
import { type Extent, movedBy, ownAxes, type Placed } from './align.ts';

// What handles do to what stands somewhere, along and about its own axes (0, 1, 2 for x, y, z).

type Axis = 0 | 1 | 2;

/** Moved along one of its own axes, mm. */
export const slidAlong = <T extends Placed>(c: T, axis: Axis, by: number): T =>
  movedBy(c, scaled(ownAxes(c.placement)[axis], by));

/** Turned about one of its own axes, degrees, and about a point that stays where it is. */
export function turnedAbout<T extends Placed>(c: T, axis: Axis, degrees: number, centre: Vec3): T {
  const axes = ownAxes(c.placement);
  const a = (degrees * Math.PI) / 180;
  const turn = turnAbout(axes[axis], Math.cos(a), Math.sin(a));
  const turned = axes.map(turn);
  const away = turn(sub(c.placement.position, centre));
  const position = add(centre, away).map((x) => +x.toFixed(9) + 0) as [number, number, number];
  return { ...c, placement: { ...c.placement, position, turn: turnOfAxes(turned) } };
}

/**
 * What it turns about by its handles, in the part's frame: its pivot where that was put somewhere, else the middle of
 * its box.
 */
export const turnCentre = ({ shape, placement }: Placed, box: Extent): Vec3 =>
  shape.pivot && shape.pivot !== 'own' ? placement.position : middle(placement, box.centre);

const middle = (placement: Placement, centre: readonly [number, number, number]): Vec3 =>
  mapPoint(placementAffine(placement), ...centre);

/**
 * Its size along one of its own axes changed to `size` mm. `side` is the side that moves: 1 or −1, and the other one
 * stays; 0 moves both, and the middle stays. Shapes with sizes of their own change these, others their scale.
 */
export function resizedTo<T extends Placed>(c: T, box: Extent, axis: Axis, side: 1 | -1 | 0, size: number): T {
  const scale = c.placement.scale ?? [1, 1, 1];
  const k = Math.abs(scale[axis]);
  const now = box.size[axis] * k;
  const to = Math.max(size, now / 1000, 1e-6);
  const shape: Shape = resizeShape(c.shape, axis, to / k);
  let { placement } = c;
  if (shape === c.shape) {
    const next = [...scale] as [number, number, number];
    next[axis] = (Math.sign(next[axis]) * to) / (box.size[axis] || 1);
    placement = { ...placement, scale: next };
  }
  const centre = shape === c.shape ? box.centre : centreOf(shape, box);
  const resized = { ...c, shape, placement };
  const want = add(middle(c.placement, box.centre), ownAxes(c.placement)[axis], (side * (to - now)) / 2);
  return movedBy(resized, sub(want, middle(placement, centre)));
}

/**
 * The middle of the box of a shape that has just got another size, in its own frame: shapes are made round their
 * middle, outlines where they were drawn.
 */
function centreOf(shape: Shape, before: Extent): Vec3 {
  const [x, y, z] = scaled(
    pivotPlace(shape, () => undefined),
    -1,
  );
  return shapeSize(shape) ? [x, y, z] : [before.centre[0], before.centre[1], z];
}
