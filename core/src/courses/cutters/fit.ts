import { dryFit, type Fit, type OtherPart } from '../../carve/index.ts';
import { faceCount, type OpContext, type PolyMesh } from '../../mesh/index.ts';
import { formatLength, type LengthUnit } from '../../units/index.ts';
import type { MeshStore } from '../base/shapeMesh.ts';
import { Shape, shapeTitle } from '../base/shapeSpec.ts';
import type { CutCourse, Project } from '../document/document.ts';
import { findCourse, findPart, moveToPart, setCutter, setParams } from '../document/edit.ts';
import type { Cutter } from '../settings/cutSettings.ts';
import { cutterMeshes, outward, standing } from './standing.ts';

/** Above this many faces the dry fit is skipped: it would take too long. */
export const FIT_UP_TO = 50_000;

/**
 * The dry fit of a cut on the mesh below it, beside other parts of the project. A part or cutters of more than
 * `FIT_UP_TO` faces are only reported. `contacts` is how often the cut's result was found to touch itself.
 */
export function fitOf(
  below: PolyMesh,
  course: CutCourse,
  store: MeshStore,
  { others = () => [], contacts = 0 }: { others?: () => readonly OtherPart[]; contacts?: number } = {},
  ctx?: OpContext,
): Fit[] {
  const tooMany = (count: number): Fit[] => [{ kind: 'large', cutter: 0, count }];
  if (faceCount(below) > FIT_UP_TO) return tooMany(faceCount(below));
  const cutters = cutterMeshes(below, course.params, store, course.id);
  const faces = cutters.reduce((n, m) => n + faceCount(m), 0);
  if (faces > FIT_UP_TO) return tooMany(faces);
  const all = standing(course.params);
  const axes = all.map((c) => outward(below, c, course.params));
  const { operation, reach } = course.params;
  const nearest = reach === 'nearest' && (operation === 'scribe' || operation === 'kerf');
  const small = () => others().filter((o) => faceCount(o.mesh) <= FIT_UP_TO);
  const found = byCutter(course, all, dryFit(below, cutters, axes, operation, { nearest, others: small }, ctx));
  return contacts ? [...found, { kind: 'touches', cutter: 0, count: contacts }] : found;
}

/** Findings of instances as those of the cutters that they repeat, the worst of each kind only. */
function byCutter(course: CutCourse, all: readonly Cutter[], found: readonly Fit[]): Fit[] {
  const worst = new Map<string, Fit>();
  for (const fit of found) {
    const cutter = course.params.cutters.findIndex((c) => c.id === all[fit.cutter]!.id);
    const key = `${cutter} ${fit.kind}`;
    const known = worst.get(key);
    if (!known || (fit.length ?? 0) < (known.length ?? 0)) worst.set(key, { ...fit, cutter });
  }
  return [...worst.values()];
}

/** What a finding says, whether it is a warning, and the act that clears it, in words. `nameOf` names another part. */
export function sayFit(
  fit: Fit,
  unit: LengthUnit,
  nameOf: (part: number) => string = () => 'another part',
): { text: string; warns: boolean; act?: string } {
  const many = (word: string) => `${fit.count} ${word}${fit.count === 1 ? '' : 's'}`;
  const l = (x: number | undefined) => formatLength(x ?? 0, unit, 3);
  switch (fit.kind) {
    case 'misses':
      return {
        text: `Misses the part: ${l(fit.length)} away at its nearest.`,
        warns: true,
        act: 'Move it in',
      };
    case 'inside':
      return {
        text: `Lies wholly in the part, ${l(fit.length)} under its skin: it makes a hidden void.`,
        warns: true,
      };
    case 'all':
      return { text: 'Swallows the whole part.', warns: true };
    case 'short':
      return { text: `Stops short: a skin of ${l(fit.length)} is left.`, warns: true, act: 'Go through' };
    case 'flush':
      return {
        text: `Flush with the part on ${many('face')}. Nothing to do: they count as level.`,
        warns: false,
      };
    case 'graze': {
      const way = fit.remedy?.kind === 'move' ? Math.hypot(...fit.remedy.by) : 0;
      return {
        text: `Passes so close that a sliver ${l(fit.length)} wide is left.`,
        warns: true,
        ...(way > 0 && { act: `Nudge it by ${l(way)}` }),
      };
    }
    case 'coarse':
    case 'fine':
      return {
        text: `Its flats, ${l(fit.length)}, are much ${fit.kind === 'coarse' ? 'longer' : 'shorter'} than those of the surface, ${l(fit.other)}.`,
        warns: true,
        act: 'Match them',
      };
    case 'behind':
      return {
        text: `Marks the surface it meets first; another lies ${l(fit.length)} behind it.`,
        warns: false,
        act: 'Mark it from the other side',
      };
    case 'inTheWay':
      return {
        text: `${nameOf(fit.part!)} is in the way, ${l(fit.length)} in front of the marked surface.`,
        warns: true,
      };
    case 'elsewhere':
      return { text: `It meets ${nameOf(fit.part!)} instead.`, warns: true, act: `Cut ${nameOf(fit.part!)}` };
    case 'open':
      return {
        text: `Not closed: ${many('open edge')}, ${l(fit.length)} in all. It has no inside to cut with.`,
        warns: true,
        act: 'Close its openings',
      };
    case 'turned':
      return { text: 'Inside out: its faces look inward.', warns: true, act: 'Turn its faces over' };
    case 'large':
      return {
        text: `Not checked: ${fit.count!.toLocaleString('en')} faces; the dry fit takes up to ${FIT_UP_TO.toLocaleString('en')}. The cut itself is done.`,
        warns: false,
      };
    case 'touches':
      return {
        text: `The result touches itself at ${many('place')}. It was parted there, so that each piece is closed.`,
        warns: false,
      };
    case 'thin':
      return { text: `Leaves a wall of only ${l(fit.length)} beside it.`, warns: true };
  }
}

/** The shape with flats as long as asked, as near as whole segments come; null where it has none to set. */
export function withFlats(shape: Shape, length: number): Shape | null {
  const over = (arc: number, least: number) => Math.max(least, Math.min(1024, Math.round(arc / length)));
  switch (shape.kind) {
    case 'cylinder':
    case 'tube':
    case 'ball':
    case 'torus':
      return { ...shape, segments: over(Math.PI * shape.diameter, 3) };
    case 'cone':
      return { ...shape, segments: over(Math.PI * Math.max(shape.foot, shape.top), 3) };
    case 'slot':
      return { ...shape, segments: over((Math.PI / 2) * shape.y, 2) };
    case 'plate':
      return shape.corner > 0 ? { ...shape, segments: Math.min(256, over((Math.PI / 2) * shape.corner, 1)) } : null;
    default:
      return null;
  }
}

/** The project with a finding's remedy applied; the same project where there is none. */
export function applyRemedy(p: Project, partId: number, courseId: number, fit: Fit): Project {
  const course = findCourse(findPart(p, partId), courseId);
  const cutter = course?.kind === 'cut' ? course.params.cutters[fit.cutter] : undefined;
  if (course?.kind !== 'cut' || !fit.remedy) return p;
  if (fit.remedy.kind === 'part') return moveToPart(p, partId, courseId, fit.remedy.part);
  if (fit.remedy.kind === 'fromBack') return setParams(p, partId, courseId, { fromBack: !course.params.fromBack });
  const better = cutter && remedied(cutter, fit.remedy);
  return better ? setCutter(p, partId, courseId, better) : p;
}

function remedied(
  c: Cutter,
  remedy: Exclude<NonNullable<Fit['remedy']>, { kind: 'part' | 'fromBack' }>,
): Cutter | null {
  if (remedy.kind === 'through') return { ...c, through: true };
  if (remedy.kind === 'flats') {
    const shape = withFlats(c.shape, remedy.length);
    return shape && { ...c, shape };
  }
  if (remedy.kind === 'close') return c.shape.kind === 'mesh' ? { ...c, shape: { ...c.shape, closed: true } } : null;
  if (remedy.kind === 'turn')
    return c.shape.kind === 'mesh' ? { ...c, shape: { ...c.shape, turned: !c.shape.turned } } : null;
  const position = c.placement.position.map((x, k) => x + remedy.by[k]!) as [number, number, number];
  return { ...c, placement: { ...c.placement, position } };
}

/** The name of a cutter, or its kind where it has none. */
export const cutterName = (c: Cutter): string => c.name || shapeTitle(c.shape.kind);
