import { shortName } from '../base/fields.ts';
import { checked } from '../base/settingProblem.ts';
import { PICTURE_VIEWS, PictureSchema, type PictureView, type Project, type ReferencePicture } from './document.ts';
import { dot, type Vec3 } from '../../mesh/index.ts';

// Changes of reference pictures, each a new project from an old one: see edit.ts.

/** A picture pinned behind a view; it has the old `nextId`. `width` in mm, `aspect` is its height by its width. */
export const addPicture = (
  p: Project,
  picture: Pick<ReferencePicture, 'name' | 'hash' | 'view' | 'width' | 'aspect'>,
): Project => ({
  ...p,
  pictures: [...p.pictures, checked(PictureSchema, { ...picture, name: shortName(picture.name), id: p.nextId })],
  nextId: p.nextId + 1,
});

export const setPicture = (p: Project, id: number, change: Partial<Omit<ReferencePicture, 'id'>>): Project => ({
  ...p,
  pictures: p.pictures.map((x) => (x.id === id ? { ...x, ...change } : x)),
});

export const removePicture = (p: Project, id: number): Project => ({
  ...p,
  pictures: p.pictures.filter((x) => x.id !== id),
});

/**
 * The picture sized so that two of its points, as they lie in its view now (mm to the right and up), are a known
 * distance apart. The first stays where it is. The same where the points are one.
 */
export function sizedByPoints(
  x: ReferencePicture,
  a: readonly [number, number],
  b: readonly [number, number],
  distance: number,
): ReferencePicture {
  const now = Math.hypot(b[0] - a[0], b[1] - a[1]);
  if (!(now > 0) || !(distance > 0)) return x;
  const k = distance / now;
  return { ...x, width: x.width * k, at: [a[0] + (x.at[0] - a[0]) * k, a[1] + (x.at[1] - a[1]) * k] };
}

/**
 * The view whose picture one looks at, if a direction (from what is seen to who sees it, unit) is within a cosine of
 * it.
 */
export function viewFacing(towards: Vec3, cosine: number): PictureView | null {
  const facing = (v: PictureView) => dot(PICTURE_VIEWS[v].towards, towards);
  return (Object.keys(PICTURE_VIEWS) as PictureView[]).find((v) => facing(v) >= cosine) ?? null;
}
