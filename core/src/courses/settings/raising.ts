import { z } from 'zod';
import { EXTRUDE_DEFAULTS, INSET_DEFAULTS, MOVE_VERTICES_DEFAULTS, SHAPE_LOOPS_DEFAULTS } from '../../mend/index.ts';
import { stroke, pick, some, n, many } from './stroke.ts';
import { length, choice, flag, onlyWhen, offset, triple, lengthOrZero } from '../base/fields.ts';
import { formatLength } from '../../units/index.ts';

// Strokes that raise and move what is picked.

const axis = (title: string) => choice(title, 'x', { x: 'X', y: 'Y', z: 'Z' });
export const RAISING = {
  inset: stroke({
    title: 'Inset',
    explains: 'Makes a smaller face inside each picked face.',
    on: ['face'],
    also: 'smaller face border offset',
    settings: z.object({
      most: flag('As far as there is room', INSET_DEFAULTS.most),
      distance: onlyWhen(length('Distance', INSET_DEFAULTS.distance), 'most', ['false']),
      group: flag('As one', INSET_DEFAULTS.group, 'Connected faces get one band around them.'),
      depth: offset('Raised by', INSET_DEFAULTS.depth),
      pick: pick(),
    }),
    says: (_, counts, unit) =>
      counts
        ? `insets ${some('face', counts, 'faces')} by ${formatLength(n(counts, 'distance'), unit, 3)}`
        : 'insets faces',
  }),
  extrude: stroke({
    title: 'Extrude',
    explains: 'Moves faces out or in on walls.',
    on: ['face'],
    also: 'pull push thicken',
    settings: z.object({
      distance: offset('Distance', EXTRUDE_DEFAULTS.distance, 'Negative values go into the material.'),
      along: choice('Along', EXTRUDE_DEFAULTS.along, { normal: 'normals', x: 'X', y: 'Y', z: 'Z' }),
      group: flag('As one', EXTRUDE_DEFAULTS.group),
      back: flag('Leave a back', EXTRUDE_DEFAULTS.back, 'Turns a sheet into a body.'),
      pick: pick(),
    }),
    says: (p, counts, unit) =>
      `moves ${some('face', counts, 'faces')} by ${formatLength(p.distance, unit, 3)}${counts ? ` on ${some('face', counts, 'walls').replace('face', 'wall')}` : ''}`,
  }),
  detach: stroke({
    title: 'Detach',
    explains: 'Separates faces from what is beside them.',
    on: ['face'],
    opens: true,
    also: 'separate free split off',
    settings: z.object({ pick: pick() }),
    says: (_, counts) => `sets ${some('face', counts, 'faces')} free along ${some('edge', counts, 'opened')}`,
  }),
  move: stroke({
    title: 'Move, turn, scale',
    explains: 'Moves, turns and scales what is picked.',
    on: ['vertex', 'edge', 'face'],
    also: 'translate rotate size soft falloff',
    settings: z.object({
      by: triple('Moved', 'lengths'),
      normal: offset('Along normals', MOVE_VERTICES_DEFAULTS.normal),
      edge: offset(
        'Along the first edge',
        0,
        'Along the first picked edge, or from the first picked vertex towards the second.',
      ),
      turn: triple('Turned', 'angles'),
      scale: triple('Scaled', 'factors'),
      about: choice('About', 'middle', { middle: 'the middle of the pick', origin: 'the origin' }),
      soft: lengthOrZero(
        'Soft within',
        MOVE_VERTICES_DEFAULTS.soft,
        'Vertices closer than this move along, less with distance.',
      ),
      pick: pick(),
    }),
    says: (_, counts) => `moves ${some('vertex', counts, 'moved')}`,
  }),
  align: stroke({
    title: 'Align',
    explains: 'Brings vertices to one place of an axis, into a plane or onto a line.',
    on: ['vertex', 'edge', 'face'],
    least: 1,
    also: 'flatten axis level plane line edge',
    settings: z.object({
      to: choice(
        'To',
        'axis',
        {
          axis: 'one place of an axis',
          plane: 'the plane of what is picked first',
          line: 'the line of what is picked first',
        },
        'The first face, edge or vertices of the pick set the plane or line. The others move there.',
      ),
      axis: onlyWhen(axis('To one place of'), 'to', ['axis']),
      own: onlyWhen(flag('Their mean', true), 'to', ['axis']),
      at: onlyWhen(offset('At', 0), 'own', ['false']),
      pick: pick(),
    }),
    says: (p, counts) =>
      `puts ${some('vertex', counts, 'moved')} ${{ axis: `at one ${p.axis.toUpperCase()}`, plane: 'into one plane', line: 'onto one line' }[p.to]}`,
  }),
  shapeRun: stroke({
    title: 'Shape a run',
    explains: 'Makes a run of edges round, even, flat or straight.',
    on: ['edge'],
    least: 2,
    also: 'round circle even space flatten straighten loop',
    settings: z.object({
      into: choice('Made', SHAPE_LOOPS_DEFAULTS.shape, {
        round: 'round',
        even: 'evenly stepped',
        flat: 'flat',
        straight: 'straight',
      }),
      along: onlyWhen(
        choice('Round', SHAPE_LOOPS_DEFAULTS.along, {
          own: 'in its own plane',
          x: 'along X',
          y: 'along Y',
          z: 'along Z',
        }),
        'into',
        ['round'],
      ),
      radius: onlyWhen(lengthOrZero('Radius', SHAPE_LOOPS_DEFAULTS.radius, '0 takes the best fit.'), 'into', ['round']),
      even: onlyWhen(flag('Evenly stepped', SHAPE_LOOPS_DEFAULTS.even), 'into', ['round']),
      pick: pick(),
    }),
    says: (p, counts, unit) =>
      `makes ${counts ? many(counts, 'runs', 'run') : 'runs'} ${{ round: 'round', even: 'even', flat: 'flat', straight: 'straight' }[p.into]}${counts ? `, by ${formatLength(n(counts, 'furthest'), unit, 4)} at most` : ''}`,
  }),
  match: stroke({
    title: 'Match a loop',
    explains: 'Turns the corners of one loop to face those of another, so that a bridge gets straight spokes.',
    on: ['edge'],
    least: 6,
    also: 'space corners align spokes',
    settings: z.object({ pick: pick() }),
    says: (_, counts) => `turns ${counts ? many(counts, 'corners', 'corner') : 'corners'} to those of another loop`,
  }),
} as const;
