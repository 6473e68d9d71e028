import { formatLength, type LengthUnit } from '../../units/index.ts';
import type { DressKindName } from './dresses.ts';
import { type MendWords, n, some, words } from './mendWord.ts';

/** What a bevel came to, in a line. */
function bevelSays(
  p: { width: number; measure: string; share: number; segments: number; profile: string },
  did: Record<string, number> | undefined,
  unit: LengthUnit,
): string {
  const width = p.measure === 'share' ? `${p.share} % of the shortest neighbour` : formatLength(p.width, unit, 3);
  const size = `${width}, ${p.profile === 'drawn' ? 'a drawn profile' : `${p.segments} segment${p.segments === 1 ? '' : 's'}`}`;
  if (!did) return `bevels edges by ${size}`;
  return `bevels ${some('edge', did, 'edges')} by ${size}${n(did, 'narrowed') ? `; narrower at ${some('vertex', did, 'narrowed')}` : ''}${n(did, 'met') ? `; strips meet over ${some('face', did, 'met')}` : ''}`;
}

/** The words of every course that dresses edges. */
export const DRESS_WORDS = {
  finish: words('finish', {
    title: 'Edge finish',
    on: ['edge'],
    reshapes: true,
    also: 'bevel all edges chamfer round fillet everyday',
    says: (p, did, unit) => bevelSays(p, did, unit),
  }),
  bevel: words('bevel', {
    title: 'Bevel',
    on: ['edge'],
    reshapes: true,
    also: 'chamfer round fillet edge strip',
    says: (p, did, unit) => bevelSays(p, did, unit),
  }),
  cutOff: words('cutOff', {
    title: 'Cut corners off',
    on: ['vertex'],
    reshapes: true,
    also: 'vertex bevel chamfer truncate corner',
    says: (p, did, unit) =>
      `cuts ${some('vertex', did, 'cut')} off, ${formatLength(p.width, unit, 3)} along their edges${n(did, 'narrowed') ? `; nearer at ${n(did, 'narrowed')}` : ''}`,
  }),
  ownWidth: words('ownWidth', {
    title: 'Own width',
    on: ['edge', 'face'],
    also: 'bevel width group of edges mark',
    says: (p, did, unit) =>
      `marks ${some('edge', did, 'edges')} with ${p.width ? formatLength(p.width, unit, 3) : 'no width'} of their own`,
  }),
  hold: words('hold', {
    title: 'Hold edges',
    on: ['edge'],
    also: 'holding support loops both sides subdivision',
    says: (p, did, unit) =>
      `lays lines beside ${some('edge', did, 'edges')}, ${formatLength(p.distance, unit, 3)} away${n(did, 'narrowed') ? `; nearer at ${some('vertex', did, 'narrowed')}` : ''}`,
  }),
  hard: words('hard', {
    title: 'Hard edges',
    on: ['edge', 'face'],
    also: 'sharp soft smooth normals shading',
    says: (p, did) => `makes ${some('edge', did, 'edges')} ${p.to}`,
  }),
  crease: words('crease', {
    title: 'Crease',
    on: ['edge', 'face'],
    also: 'sharp subdivision weight semi-sharp',
    says: (p, did) =>
      p.sharpness
        ? `keeps ${some('edge', did, 'edges')} sharp for ${p.sharpness >= 10 ? 'ever' : `${p.sharpness} rounds`}`
        : `takes creases off ${some('edge', did, 'edges')}`,
  }),
  subdivide: words('subdivide', {
    title: 'Subdivide',
    on: ['face'],
    reshapes: true,
    also: 'smooth Catmull Clark subdivision surface levels',
    says: (p, did) =>
      `subdivides ${p.levels} time${p.levels === 1 ? '' : 's'}${did ? `: ${some('face', did, 'faces')}${p.levels < 4 ? `; one more makes ${(4 * n(did, 'faces')).toLocaleString('en')}` : ''}` : ''}${p.limit ? ', onto the limit' : ''}`,
  }),
  relight: words('relight', {
    title: 'Relight',
    on: ['face'],
    also: 'shading normals transfer guide surface dent light',
    says: (_, did) =>
      did
        ? `lights ${some('face', did, 'faces')} as the undisturbed surface, turned by ${n(did, 'most').toFixed(2)}° at most`
        : 'lights faces as the undisturbed surface',
  }),
  reseat: words('reseat', {
    title: 'Reseat',
    on: ['face'],
    also: 'project shrink onto guide surface curvature',
    says: (_, did, unit) =>
      did
        ? `puts ${some('vertex', did, 'moved')} onto the undisturbed surface, by ${formatLength(n(did, 'furthest'), unit, 4)} at most`
        : 'puts vertices onto the undisturbed surface',
  }),
  cage: words('cage', {
    title: 'Cage',
    waits: true,
    on: ['vertex', 'edge', 'face'],
    also: 'lattice box bend taper narrow lengthen deform',
    says: (p, did, unit) =>
      `bends ${some('vertex', did, 'moved')} in a cage of ${p.x} × ${p.y} × ${p.z}${did ? `, by ${formatLength(n(did, 'furthest'), unit, 3)} at most` : ''}`,
  }),
  thicken: words('thicken', {
    title: 'Thicken',
    on: ['face'],
    reshapes: true,
    also: 'thickness solidify shell sheet body rim',
    says: (p, _did, unit) => `makes a body of the sheet, ${formatLength(p.thickness, unit, 3)} thick`,
  }),
} as const satisfies { [K in DressKindName]: MendWords<K> };
