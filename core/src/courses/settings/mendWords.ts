import { formatLength } from '../../units/index.ts';
import { countWords } from '../base/picks.ts';
import { DRESS_WORDS } from './dressWords.ts';
import { many, type MendWords, n, some, words } from './mendWord.ts';
import type { MendKindName } from './mends.ts';

export type { MendParams, MendWords } from './mendWord.ts';

/** What a healing came to, in a line; steps that found nothing are left out. */
function healSays(did: Record<string, number>): string {
  const x = (word: string, ...keys: string[]) =>
    keys.reduce((s, k) => s + n(did, k), 0) ? [`${word} ${keys.reduce((s, k) => s + n(did, k), 0)}`] : [];
  const list = [
    ...x('welds', 'weld', 'stitch', 'sides'),
    ...x('drops', 'doubled', 'flat', 'walls', 'shells'),
    ...x('parts', 'parted'),
    ...x('fills', 'filled'),
    ...x('turns', 'outward'),
    ...x('resolves', 'crossed'),
    ...x('unites', 'united'),
  ];
  return list.length ? `heals: ${list.join(', ')}` : 'finds nothing to heal';
}

/** The words of every mend. */
export const MEND_WORDS = {
  ...DRESS_WORDS,
  weld: words('weld', {
    title: 'Weld',
    on: ['vertex', 'edge', 'face'],
    also: 'near vertices together close cracks',
    says: (p, did, unit) =>
      did ? `welds ${some('vertex', did, 'merged')} nearer than ${formatLength(p.distance, unit)}` : 'welds vertices',
  }),
  merge: words('merge', {
    title: 'Merge',
    on: ['vertex'],
    least: 2,
    also: 'collapse join vertices',
    says: (p, did) =>
      `merges ${did ? countWords('vertex', n(did, 'merged') + 1) : 'vertices'} into ${{ first: 'the first', last: 'the last', middle: 'their middle' }[p.where]}`,
  }),
  toOutline: words('toOutline', {
    title: 'Weld onto the outline',
    on: ['vertex', 'edge', 'face'],
    also: 'seam snap cut outline leftover',
    says: (p, did, unit) =>
      `puts ${some('vertex', did, 'merged')} onto cut outlines nearer than ${formatLength(p.distance, unit)}`,
  }),
  slide: words('slide', {
    title: 'Slide a vertex',
    on: ['vertex'],
    least: 2,
    also: 'along edge merge neighbour',
    says: (p) =>
      p.share >= 1
        ? 'slides a vertex into its neighbour'
        : `slides a vertex by ${+(100 * p.share).toFixed(2)} % of its edge`,
  }),
  dissolve: words('dissolve', {
    title: 'Dissolve',
    on: ['vertex', 'edge', 'face'],
    also: 'remove edge keep surface join faces',
    says: (_, did) =>
      did
        ? `makes ${some('face', did, 'joined')} one with others, takes out ${some('vertex', did, 'vertices')}`
        : 'takes out what is picked and keeps the surface',
  }),
  remove: words('remove', {
    title: 'Delete',
    on: ['face', 'edge', 'vertex'],
    opens: true,
    also: 'remove erase faces hole',
    says: (_, did) => `takes out ${some('face', did, 'faces')}`,
  }),
  fill: words('fill', {
    title: 'Fill',
    on: ['edge'],
    also: 'close hole cap opening grid fan',
    says: (p, did) =>
      `fills ${did ? many(did, 'filled', 'opening') : 'openings'} with ${some('face', did, 'faces')}${p.way === 'grid' ? ' in a grid' : ''}`,
  }),
  bridge: words('bridge', {
    title: 'Bridge',
    on: ['edge', 'face'],
    least: 2,
    also: 'connect loops tunnel',
    says: (_, did) => `bridges two loops with ${some('face', did, 'faces')}`,
  }),
  connect: words('connect', {
    title: 'Connect',
    on: ['vertex'],
    least: 2,
    also: 'edge between vertices cut join tie',
    says: (_, did) =>
      `joins vertices by ${some('edge', did, 'edges')}${n(did, 'added') ? `, across ${n(did, 'added')} others` : ''}`,
  }),
  line: words('line', {
    title: 'Draw a line',
    on: ['edge'],
    also: 'cut splits across faces straight',
    says: (p, did) =>
      `draws a line of ${p.stops.length} stops${p.through ? ' through to the back' : ''}${did ? `, ${some('edge', did, 'cut')}` : ''}`,
  }),
  split: words('split', {
    title: 'Split edges',
    on: ['edge', 'face'],
    also: 'subdivide edge midpoint insert vertex',
    says: (_, did) => `puts ${some('vertex', did, 'added')} into edges`,
  }),
  loop: words('loop', {
    title: 'Insert a loop',
    on: ['edge'],
    also: 'ring cut edge loop',
    says: (p, did) => `cuts ${some('face', did, 'cut')} by ${p.both && p.by !== 'parts' ? 'loops' : 'a loop'}`,
  }),
  divide: words('divide', {
    title: 'Divide faces',
    on: ['face'],
    also: 'subdivide grid quads',
    says: (p, did) => `divides ${some('face', did, 'divided')} into ${p.n} × ${p.n}`,
  }),
  tie: words('tie', {
    title: 'Tie holes',
    on: ['face'],
    also: 'edges hole surround corners',
    says: (p, did) =>
      `ties the holes of ${some('face', did, 'tied')}${{ short: '', corners: ' to their corners', bevel: ' square to outlines', light: ', level over bends' }[p.way]}`,
  }),
  moveTie: words('moveTie', {
    title: 'Move a tie',
    on: ['vertex'],
    least: 3,
    also: 'edge end elsewhere',
    says: () => 'moves one end of a tie',
  }),
  inset: words('inset', {
    title: 'Inset',
    on: ['face'],
    also: 'smaller face border offset',
    says: (_, did, unit) =>
      did ? `insets ${some('face', did, 'faces')} by ${formatLength(n(did, 'distance'), unit, 3)}` : 'insets faces',
  }),
  extrude: words('extrude', {
    title: 'Extrude',
    on: ['face'],
    also: 'pull push thicken',
    says: (p, did, unit) =>
      `moves ${some('face', did, 'faces')} by ${formatLength(p.distance, unit, 3)}${did ? ` on ${some('face', did, 'walls').replace('face', 'wall')}` : ''}`,
  }),
  detach: words('detach', {
    title: 'Detach',
    on: ['face'],
    opens: true,
    also: 'separate free split off',
    says: (_, did) => `sets ${some('face', did, 'faces')} free along ${some('edge', did, 'opened')}`,
  }),
  move: words('move', {
    title: 'Move, turn, scale',
    on: ['vertex', 'edge', 'face'],
    also: 'translate rotate size soft falloff',
    says: (_, did) => `moves ${some('vertex', did, 'moved')}`,
  }),
  shapeRun: words('shapeRun', {
    title: 'Shape a run',
    on: ['edge'],
    least: 2,
    also: 'round circle even space flatten straighten loop',
    says: (p, did, unit) =>
      `makes ${did ? many(did, 'runs', 'run') : 'runs'} ${{ round: 'round', even: 'even', flat: 'flat', straight: 'straight' }[p.into]}${did ? `, by ${formatLength(n(did, 'furthest'), unit, 4)} at most` : ''}`,
  }),
  match: words('match', {
    title: 'Match a loop',
    on: ['edge'],
    least: 6,
    also: 'space corners align spokes',
    says: (_, did) => `turns ${did ? many(did, 'corners', 'corner') : 'corners'} to those of another loop`,
  }),
  align: words('align', {
    title: 'Align',
    on: ['vertex', 'edge', 'face'],
    least: 1,
    also: 'flatten axis level plane line edge',
    says: (p, did) =>
      `puts ${some('vertex', did, 'moved')} ${{ axis: `at one ${p.axis.toUpperCase()}`, plane: 'into one plane', line: 'onto one line' }[p.to]}`,
  }),
  plane: words('plane', {
    title: 'Cut with a plane',
    on: ['face', 'vertex'],
    opens: true,
    also: 'slice section half',
    says: (p, did) => `cuts ${some('face', did, 'cut')} with a plane${p.keep === 'both' ? '' : ', keeps one side'}`,
  }),
  mirror: words('mirror', {
    title: 'Mirror',
    on: ['face', 'vertex'],
    also: 'symmetry half quarter reflect',
    says: (p, did) =>
      `mirrors across ${p.through === 'picked' ? 'what is picked' : p.axis.toUpperCase()}${p.through === 'picked' || p.second === 'none' ? '' : ` and ${p.second.toUpperCase()}`}${did ? `; ${some('vertex', did, 'snapped')} put onto the plane` : ''}`,
  }),
  symmetric: words('symmetric', {
    title: 'Make symmetric',
    on: ['vertex'],
    also: 'symmetrize mirror average',
    says: (_, did, unit) =>
      did
        ? `pairs ${some('vertex', did, 'paired')}, moved by ${formatLength(n(did, 'furthest'), unit, 4)} at most${n(did, 'unpaired') ? `; ${n(did, 'unpaired')} differ` : ''}`
        : 'pairs vertices across a plane',
  }),
  orient: words('orient', {
    title: 'Turn faces',
    on: ['face'],
    opens: true,
    also: 'flip normals reverse consistent outward',
    says: (_, did) => (did ? `turns ${some('face', did, 'turned')} over` : 'turns faces over'),
  }),
  tidy: words('tidy', {
    title: 'Tidy',
    on: ['vertex', 'edge', 'face'],
    also: 'clean leftover collinear tiny edges slivers simplify',
    says: (_, did) =>
      did
        ? `takes out ${some('vertex', did, 'straight')} of straight runs, ${some('edge', did, 'collapsed').replace('edge', 'tiny edge')}, ${some('face', did, 'narrow').replace('face', 'narrow face')}`
        : 'takes out what cuts leave',
  }),
  quads: words('quads', {
    title: 'To quads',
    on: ['face'],
    also: 'quadrangulate n-gons retopology grid polygons',
    says: (_, did) =>
      did
        ? `lays ${some('face', did, 'faces')} out in ${many(did, 'quads', 'quad')}${n(did, 'triangles') ? ` and ${many(did, 'triangles', 'triangle')}` : ''}${n(did, 'paired') ? `, makes ${many(did, 'paired', 'triangle')} quads` : ''}`
        : 'lays faces out in quads',
  }),
  collar: words('collar', {
    title: 'Collar',
    on: ['edge'],
    least: 2,
    also: 'band quads round hole seam loop support border strip',
    says: (p, did, unit) =>
      did
        ? `lays ${many(did, 'bands', 'band')} of ${many(did, 'quads', 'quad')} along ${some('edge', did, 'edges')}, ${formatLength(p.width, unit, 3)} wide${n(did, 'narrowed') ? `, ${formatLength(n(did, 'narrowest'), unit, 3)} at the narrowest` : ''}`
        : 'lays a band of quads along edges',
  }),
  heal: words('heal', {
    title: 'Heal',
    on: ['face'],
    opens: true,
    also: 'repair fix import damaged scan clean manifold watertight crack hole',
    says: (_, did) => (did ? healSays(did) : 'brings damage to a sound body'),
  }),
  recast: words('recast', {
    title: 'Recast',
    on: ['face'],
    also: 'rebuild volume grid voxel remesh watertight broken damage last resort',
    says: (_, did, unit) =>
      did
        ? `rebuilds it in ${many(did, 'quads', 'quad')} from cells of ${formatLength(n(did, 'cell'), unit, 3)}`
        : 'rebuilds a body through a volume grid',
  }),
  gathered: words('gathered', {
    title: 'Gathered mends',
    on: ['vertex'],
    opens: true,
    also: 'several edits one course',
    says: ({ edits }, did) => `${did ? `does ${n(did, 'done')} of ${edits.length}` : edits.length} mends`,
  }),
} as const satisfies { [K in MendKindName]: MendWords<K> };
