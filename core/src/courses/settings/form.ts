import { z } from 'zod';
import { CAGE_DEFAULTS, SUBDIVIDE_DEFAULTS, THICKEN_DEFAULTS } from '../../dress/index.ts';
import { stroke, some, n } from './stroke.ts';
import { PickSchema, everything } from '../base/picks.ts';
import { length, choice, count, flag, lengthOrZero, text, vector3 } from '../base/fields.ts';
import { formatLength } from '../../units/index.ts';

// Strokes that dress the form: its smoothness, its light, its thickness.

/** Which smooth surface faces are held to. */
const guideChoice = choice(
  'Surface',
  'own',
  { own: 'of its bodies before the cuts', fitted: 'the smooth one nearest to these faces' },
  'The nearest one is fitted to the picked faces: pick those of one bent surface.',
);

export const FORM = {
  subdivide: stroke({
    title: 'Subdivide',
    explains: 'Smooths the part by Catmull–Clark subdivision.',
    on: ['face'],
    reshapes: true,
    also: 'smooth Catmull Clark subdivision surface levels',
    settings: z.object({
      levels: count('Levels', SUBDIVIDE_DEFAULTS.levels, 1, 4, 'Each level turns one face into four.'),
      limit: flag(
        'Onto the limit surface',
        SUBDIVIDE_DEFAULTS.limit,
        'Moves vertices to where endless levels would bring them.',
      ),
      corners: flag('Corners of open borders stay', SUBDIVIDE_DEFAULTS.corners),
      uvs: choice('UVs', SUBDIVIDE_DEFAULTS.uvs, { smooth: 'smooth', straight: 'straight' }),
      pick: PickSchema.default(everything('face')),
    }),
    says: (p, counts) =>
      `subdivides ${p.levels} time${p.levels === 1 ? '' : 's'}${counts ? `: ${some('face', counts, 'faces')}${p.levels < 4 ? `; one more makes ${(4 * n(counts, 'faces')).toLocaleString('en')}` : ''}` : ''}${p.limit ? ', onto the limit' : ''}`,
  }),
  relight: stroke({
    title: 'Relight',
    explains:
      'Takes shading from the guide surface, the surface as it was before the cuts, so that a hole leaves no dent in the light.',
    on: ['face'],
    also: 'shading normals transfer guide surface dent light',
    settings: z.object({
      surface: guideChoice,
      fade: lengthOrZero('Fades towards cuts over', 0, '0 works right up to the cut edge.'),
      pick: PickSchema.default(everything('face')),
    }),
    says: (_, counts) =>
      counts
        ? `lights ${some('face', counts, 'faces')} as the undisturbed surface, turned by ${n(counts, 'most').toFixed(2)}° at most`
        : 'lights faces as the undisturbed surface',
  }),
  reseat: stroke({
    title: 'Reseat',
    explains: 'Puts vertices back onto the guide surface, the surface as it was before the cuts.',
    on: ['face'],
    also: 'project shrink onto guide surface curvature',
    settings: z.object({
      surface: guideChoice,
      most: length('No vertex further than', 1),
      pick: PickSchema.default(everything('face')),
    }),
    says: (_, counts, unit) =>
      counts
        ? `puts ${some('vertex', counts, 'moved')} onto the undisturbed surface, by ${formatLength(n(counts, 'furthest'), unit, 4)} at most`
        : 'puts vertices onto the undisturbed surface',
  }),
  thicken: stroke({
    title: 'Thicken',
    explains: 'Makes a closed body of a sheet.',
    on: ['face'],
    reshapes: true,
    also: 'thickness solidify shell sheet body rim',
    settings: z.object({
      thickness: length('Thickness', THICKEN_DEFAULTS.thickness),
      side: choice('Material', THICKEN_DEFAULTS.side, {
        inside: 'on the back',
        outside: 'on the front',
        both: 'half on each',
      }),
      far: text('Slot of the far side', '', 'Empty uses the slot of the near side.'),
      rim: text('Slot of the rim', ''),
      pick: PickSchema.default(everything('face')),
    }),
    says: (p, _did, unit) => `makes a body of the sheet, ${formatLength(p.thickness, unit, 3)} thick`,
  }),
  cage: stroke({
    title: 'Cage',
    explains: 'Bends the part in a box of points.',
    waits: true,
    on: ['vertex', 'edge', 'face'],
    also: 'lattice box bend taper narrow lengthen deform',
    settings: z.object({
      x: count('Parts along X', CAGE_DEFAULTS.divisions[0], 1, 8),
      y: count('Parts along Y', CAGE_DEFAULTS.divisions[1], 1, 8),
      z: count('Parts along Z', CAGE_DEFAULTS.divisions[2], 1, 8),
      smooth: flag('Smooth', CAGE_DEFAULTS.smooth, 'Off: straight from point to point.'),
      flats: flag('Flats stay flat', CAGE_DEFAULTS.flats, 'Flats with sharp edges all around.'),
      axis: choice('Tapers along', 'z', { x: 'X', y: 'Y', z: 'Z' }),
      ratio: z.number().positive().max(100).default(0.8).meta({
        title: 'Far end times',
        as: 'factor',
        min: 0.01,
        max: 100,
        hint: 'Width of the far end. 1 leaves it as it is.',
      }),
      /** Points of the cage that were moved: their places from 0 on, and how far, mm. */
      moves: z
        .array(
          z.object({
            point: z.tuple([
              z.number().int().min(0).max(8),
              z.number().int().min(0).max(8),
              z.number().int().min(0).max(8),
            ]),
            by: vector3,
          }),
        )
        .max(729)
        .default([]),
      pick: PickSchema.default(everything('vertex')),
    }),
    says: (p, counts, unit) =>
      `bends ${some('vertex', counts, 'moved')} in a cage of ${p.x} × ${p.y} × ${p.z}${counts ? `, by ${formatLength(n(counts, 'furthest'), unit, 3)} at most` : ''}`,
  }),
} as const;
