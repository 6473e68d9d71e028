import { describe, expect, it } from 'vitest';
import { CourseSchema, courseSays, STROKES, newShape, sayTidied, type StrokeName } from '../index.ts';
import { STROKE_NAMES } from '../settings/strokes.ts';

const KINDS = STROKE_NAMES;
const GIVEN: { [K in StrokeName]?: object } = {
  line: {
    stops: [
      [0, 0.5],
      [1, 0.5],
    ],
  },
  gathered: { edits: [{ kind: 'weld', name: 'Weld', params: { pick: { by: 'all', on: 'vertex' } } }] },
};
/** A course of a kind as it is laid, with some of its settings. */
function course(kind: StrokeName, params: object = {}) {
  return CourseSchema.parse({
    id: 7,
    kind,
    name: 'It',
    params: { pick: { by: 'all', on: STROKES[kind].on[0] }, ...GIVEN[kind], ...params },
  });
}
const says = (kind: StrokeName, params: object = {}, counts?: Record<string, number>) =>
  courseSays(course(kind, params), 'mm', counts && { counts });
/** The settings of a kind that are a choice, with all that may be chosen. */
function choices(kind: StrokeName): { key: string; values: string[] }[] {
  const { shape } = STROKES[kind].settings as unknown as {
    shape: Record<string, { def?: { innerType?: { options?: unknown } }; options?: unknown }>;
  };
  return Object.entries(shape).flatMap(([key, field]) => {
    const options = field.options ?? field.def?.innerType?.options;
    return Array.isArray(options) && options.every((x) => typeof x === 'string')
      ? [{ key, values: options as string[] }]
      : [];
  });
}

describe('what tidying after a cut says', () => {
  it('each count that there is, one as one, and that there was nothing', () => {
    const none = { straight: 0, collapsed: 0, narrow: 0, left: 0 };
    expect(sayTidied(none)).toBe('nothing was left over');
    expect(sayTidied({ straight: 1, collapsed: 2, narrow: 1, left: 3 })).toBe(
      '1 vertex out of straight runs, 2 tiny edges collapsed, 1 narrow face joined, 3 tiny edges left',
    );
    expect(sayTidied({ ...none, collapsed: 1, left: 1 })).toBe('1 tiny edge collapsed, 1 tiny edge left');
    expect(sayTidied({ ...none, straight: 2, narrow: 2 })).toBe(
      '2 vertices out of straight runs, 2 narrow faces joined',
    );
  });
});

describe('what a course says of itself', () => {
  it.each(KINDS)('%s: a plain sentence before it was done, and no number that nobody counted', (kind) => {
    const all = [{}, ...choices(kind).flatMap(({ key, values }) => values.map((v) => ({ [key]: v })))];
    for (const params of all) {
      const line = says(kind, params);
      expect(line).toMatch(/^[a-z0-9]/);
      expect(line).not.toMatch(/undefined|NaN|null|\[object| {2}|\b0 (vert|edge|face|open|run|corner)/);
    }
  });

  it.each(KINDS)('%s: done, it tells what it did, one as one and two as two', (kind) => {
    for (const params of [{}, ...choices(kind).flatMap(({ key, values }) => values.map((v) => ({ [key]: v })))])
      for (const x of [0, 1, 2]) {
        const counts = new Proxy({} as Record<string, number>, { get: () => x });
        const line = says(kind, params, counts);
        expect(line).toMatch(/^[a-z0-9]/);
        expect(line).not.toMatch(/undefined|NaN|null|\[object| {2}/);
        expect(line).not.toMatch(
          /\b1 (vertices|edges|faces|openings|bands|runs|walls|corners|strips|quads|triangles)\b|\b[02] (vertex|edge|face|opening|band|run|wall|corner|quad|triangle)\b/,
        );
      }
  });

  it('has choices to be looked at', () => {
    expect(choices('finish').map((c) => c.key)).toEqual(
      expect.arrayContaining(['measure', 'profile', 'inner', 'past']),
    );
    expect(choices('quads')[0]!.values).toContain('subdivision');
  });

  it('by what it did', () => {
    expect(says('bevel', { width: 1.5, segments: 3 })).toBe('bevels edges by 1.5 mm, 3 segments');
    expect(says('bevel', { width: 1.5, segments: 1 }, { edges: 1, narrowed: 2 })).toBe(
      'bevels 1 edge by 1.5 mm, 1 segment; narrower at 2 vertices',
    );
    expect(says('finish', { measure: 'share', share: 30, profile: 'drawn', past: 'meet' }, { edges: 12, met: 4 })).toBe(
      'bevels 12 edges by 30 % of the shortest neighbour, a drawn profile; strips meet over 4 faces',
    );
    expect(says('hold', { distance: 2 }, { edges: 3, narrowed: 1 })).toBe(
      'lays lines beside 3 edges, 2 mm away; nearer at 1 vertex',
    );
    expect(says('hard', { to: 'soft' }, { edges: 2 })).toBe('makes 2 edges soft');
    expect(says('crease', { sharpness: 10 }, { edges: 2 })).toBe('keeps 2 edges sharp for ever');
    expect(says('crease', { sharpness: 0 }, { edges: 1 })).toBe('takes creases off 1 edge');
    expect(says('subdivide', { levels: 1, limit: true }, { faces: 24 })).toBe(
      'subdivides 1 time: 24 faces; one more makes 96, onto the limit',
    );
    expect(says('merge', { where: 'first' }, { merged: 2 })).toBe('merges 3 vertices into the first');
    expect(says('dissolve')).toBe('takes out what is picked and keeps the surface');
    expect(says('dissolve', {}, { joined: 2, vertices: 1 })).toBe('makes 2 faces one with others, takes out 1 vertex');
    expect(says('fill', { way: 'grid' }, { filled: 1, faces: 9 })).toBe('fills 1 opening with 9 faces in a grid');
    expect(says('heal', {}, { weld: 3, stitch: 2, filled: 1 })).toBe('heals: welds 5, fills 1');
    expect(says('heal', {}, {})).toBe('finds nothing to heal');
    expect(says('mirror', { axis: 'y' })).toBe('mirrors across Y');
    expect(says('gathered', {}, { done: 1, edits: 1 })).toBe('does 1 of 1 strokes');
  });

  it('and how far the surface went, what was lost of its pick, and the name of its shape', () => {
    const line = courseSays(course('move'), 'mm', {
      counts: { moved: 1 },
      lost: [[0, 0, 0]],
      found: 1,
      of: 2,
      surfaceDrift: { distance: 0.25, at: [0, 0, 0], atLeast: true },
    } as never);
    expect(line).toBe('moves 1 vertex; 1 of 2 picks found; drift at least 0.25 mm');
    expect(
      courseSays(course('move'), 'cm', {
        counts: { moved: 3 },
        surfaceDrift: { distance: 10, at: [0, 0, 0], atLeast: false },
      } as never),
    ).toBe('moves 3 vertices; drift 1 cm');
    const shape = { ...newShape('box'), x: 10, y: 20, z: 30 };
    expect(
      courseSays(
        CourseSchema.parse({
          id: 1,
          kind: 'shape',
          name: 'Block',
          params: { shape, placement: { position: [0, 0, 0], turn: [0, 0, 0] } },
        }),
        'mm',
      ),
    ).toBe('box, 10 × 20 × 30 mm');
  });
});
