import type { z } from 'zod';
import { WHOLE_PART } from './wholePart.ts';
import { TIES } from './ties.ts';
import { SPLITTING } from './splitting.ts';
import { RAISING } from './raising.ts';
import { JOINING } from './joining.ts';
import { GATHERED } from './gathered.ts';
import { FORM } from './form.ts';
import type { Stroke } from './stroke.ts';
import { EDGES } from './edges.ts';
import { BY_THEMSELVES } from './byThemselves.ts';

/** The declarations of all strokes. */
export const STROKES = {
  ...EDGES,
  ...FORM,
  ...BY_THEMSELVES,
  ...JOINING,
  ...SPLITTING,
  ...TIES,
  ...RAISING,
  ...WHOLE_PART,
  ...GATHERED,
} as const;
export type StrokeName = keyof typeof STROKES;
export type StrokeParams<K extends StrokeName> = z.infer<(typeof STROKES)[K]['settings']>;

export const STROKE_NAMES = Object.keys(STROKES) as StrokeName[];

/** Whether a kind of course is a stroke. */
export const isStrokeKind = (kind: string): kind is StrokeName => Object.hasOwn(STROKES, kind);

/** Whether a kind of course dresses edges or form: new cuts go under it. */
export const isDressing = (kind: string): boolean => Object.hasOwn(EDGES, kind) || Object.hasOwn(FORM, kind);

/** Groups of strokes as a menu shows them, in its order. */
export const STROKE_GROUPS: readonly { title: string; kinds: readonly StrokeName[] }[] = (
  [
    ['Edges', EDGES],
    ['Form and light', FORM],
    ['Automatic', BY_THEMSELVES],
    ['Bring together', JOINING],
    ['Close and split', SPLITTING],
    ['Ties', TIES],
    ['Raise and move', RAISING],
    ['The whole part', WHOLE_PART],
  ] as const
).map(([title, strokes]) => ({ title, kinds: Object.keys(strokes) as StrokeName[] }));

/** A stroke's declaration, typed widely enough to loop over all of them. */
export const strokeOf = (kind: StrokeName): Stroke => STROKES[kind] as unknown as Stroke;
