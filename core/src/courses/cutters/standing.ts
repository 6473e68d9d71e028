import type { z } from 'zod';
import type { Direction } from '../../carve/index.ts';
import {
  AXES,
  faceCount,
  faceNormals,
  MasonError,
  SpatialIndex,
  withSlot,
  withSource,
  type PolyMesh,
} from '../../mesh/index.ts';
import { instancesOf } from '../base/repeat.ts';
import type { MeshStore } from '../base/shapeMesh.ts';
import { CutParams, type Cutter } from '../settings/cutSettings.ts';
import { alongOwnAxis, ownAxis, placedMesh } from './placed.ts';

type Params = z.infer<typeof CutParams>;

/** Gives a body again that was made before by the same words, or makes it. */
type MadeOnce = (words: string, make: () => PolyMesh) => PolyMesh;

export const against = (d: Direction): Direction => [-d[0], -d[1], -d[2]];

/** What a cutter's outline is projected along, towards where one looks from; null for the cutter's own axis. */
function projection(target: PolyMesh, { placement }: Cutter, { along, direction }: Params): Direction | null {
  if (along === 'own') return null;
  if (along === 'set') return direction;
  if (along !== 'normal') return AXES[along];
  const near = new SpatialIndex(target).closest(placement.position);
  if (!near) return null;
  const n = faceNormals(target).subarray(3 * near.face, 3 * near.face + 3);
  return [n[0]!, n[1]!, n[2]!];
}

/**
 * What a cutter goes through or is projected along, towards where one looks from: it looks for the surface that it
 * meets first against this.
 */
export function outward(target: PolyMesh, cutter: Cutter, params: Params): Direction {
  const own = ownAxis(cutter.placement);
  if (!isDrawn(params)) return own;
  const out = projection(target, cutter, params) ?? own;
  return params.fromBack ? against(out) : out;
}

/** Whether a cut draws the outlines of its cutters rather than taking their volume. */
const isDrawn = ({ operation }: Params): boolean => operation === 'scribe' || operation === 'kerf';

/** Most faces that the cutters of one cut may have in all. */
const MOST_FACES = 2_000_000;

/**
 * The cutters of a cut wherever they stand: one for each instance that is switched on, with the number of the cutter
 * that it repeats.
 */
export const standing = (params: Params): Cutter[] =>
  params.cutters.flatMap((c) =>
    instancesOf(c.placement, c.repeat).flatMap((i) => (i.off ? [] : [{ ...c, placement: i.placement }])),
  );

/**
 * The bodies that a cut's cutters are, each instance by itself, where they stand for a target, with the slots that the
 * cut gives their walls.
 * Throws `too-large` before a repeat makes more faces than can be handled.
 */
export function cutterMeshes(
  target: PolyMesh,
  params: Params,
  store: MeshStore,
  course: number,
  known?: MadeOnce,
): PolyMesh[] {
  const slotOf = (c: Cutter) =>
    params.wallSlots === 'own'
      ? params.wallSlot || 'Walls'
      : params.wallSlots === 'cutter'
        ? c.slot || c.name || 'Cutter'
        : target.slots[0] || 'Body';
  let faces = 0;
  return standing(params).map((c, _, all) => {
    const keeps = params.wallSlots === 'cutter' && c.shape.kind === 'mesh' && !c.slot;
    const tag = (m: PolyMesh) => withSource(keeps && m.layers.slot ? m : withSlot(m, slotOf(c)), c.id, course);
    const lean = isDrawn(params) ? projection(target, c, params) : null;
    const through = lean || (c.through && params.operation !== 'union') ? target : null;
    const make = () => placedMesh(c.shape, c.placement, store, tag, through, lean);
    const reach = through && alongOwnAxis(through, c.placement);
    const mesh = known
      ? known(JSON.stringify([{ ...c, repeat: 0 }, keeps || slotOf(c), reach, lean, course]), make)
      : make();
    const alike = all.filter((x) => x.id === c.id).length;
    if (faceCount(mesh) * alike > MOST_FACES || (faces += faceCount(mesh)) > MOST_FACES)
      throw new MasonError(
        'too-large',
        `${alike} instances of ${c.name || 'the cutter'} would have ${(faceCount(mesh) * alike).toLocaleString('en')} faces; up to ${MOST_FACES.toLocaleString('en')} are made. Repeat it less often, or make it coarser.`,
      );
    return mesh;
  });
}
