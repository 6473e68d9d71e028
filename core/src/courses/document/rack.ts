import { z } from 'zod';
import { checked, sayIssue } from '../base/settingProblem.ts';
import { shapeMesh } from '../base/shapeMesh.ts';
import { Shape } from '../base/shapeSpec.ts';
import { dot, faceNormals, MasonError, topologyOf, type PolyMesh, type Vec3, vertexPlace } from '../../mesh/index.ts';
import type { Point2 } from '../../shapes/index.ts';

/** Version of a rack file. */
const RACK_VERSION = 1;
/** Most cutters on a rack, and most text of a rack file. */
const MOST_ITEMS = 2000;
/** Characters, about 20 MB: what a browser parses in a second. */
const MOST_TEXT = 20_000_000;

/** Whether a cutter can be kept on a rack: one whose shape stands by itself. */
export const fitsRack = (shape: Shape): boolean => shape.kind !== 'mesh' && shape.kind !== 'part';

/** Most characters of a kept mesh: 6 MB. */
const MOST_MESH = 8_000_000;

/** A cutter that is kept across projects; it is stamped with its own z along the face's normal. */
export const RackItem = z
  .object({
    id: z.string().min(1).max(100),
    name: z.string().min(1).max(200),
    tags: z.array(z.string().min(1).max(40)).max(20).default([]),
    shape: Shape,
    /** Of a mesh: itself, packed, as base64; and its picture as SVG path data in a box of 0 … 100. */
    mesh: z
      .string()
      .min(1)
      .max(MOST_MESH)
      .regex(/^[A-Za-z0-9+/]+=*$/)
      .optional(),
    picture: z
      .string()
      .max(400_000)
      .regex(/^[ML\d. -]*$/)
      .optional(),
  })
  .refine(
    (i) => fitsRack(i.shape) || (i.shape.kind === 'mesh' && !!i.mesh),
    'A mesh needs its data with it, and a part stays in its project.',
  );
export type RackItem = z.infer<typeof RackItem>;

const RackFile = z.object({ rack: z.literal(RACK_VERSION), items: z.array(RackItem).max(MOST_ITEMS) });

/** Items as the text of a rack file. */
export const writeRack = (items: readonly RackItem[]): string => JSON.stringify({ rack: RACK_VERSION, items }, null, 1);

/** The items of a rack file. Throws `bad-file` with the place of what is wrong. */
export function readRack(text: string): RackItem[] {
  if (text.length > MOST_TEXT) throw new MasonError('bad-file', 'The rack file is too large: over 20 MB.');
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    throw new MasonError('bad-file', 'This is not a rack file: it cannot be read as JSON.');
  }
  const r = RackFile.safeParse(data);
  if (r.success) return r.data.items;
  const issue = r.error.issues[0]!;
  const at = issue.path[0] === 'items' && typeof issue.path[1] === 'number' ? `Cutter ${issue.path[1] + 1}: ` : '';
  if (!at) throw new MasonError('bad-file', 'This is not a rack file, or a newer version of Dusky Mason wrote it.');
  throw new MasonError('bad-file', `This rack file cannot be used. ${at}${sayIssue(RackFile, data, issue)}`);
}

/** Items whose name or tags hold every word that is typed. */
export function findOnRack(items: readonly RackItem[], typed: string): RackItem[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  return items.filter((i) => words.every((w) => `${i.name} ${i.tags.join(' ')}`.toLowerCase().includes(w)));
}

/** Where a picture of a shape is seen from, and the ways that are right and up on it. */
const VIEW: Record<'towards' | 'right' | 'up', Vec3> = {
  towards: [0.5, 0.5, 0.7071],
  right: [0.7071, -0.7071, 0],
  up: [-0.5, -0.5, 0.7071],
};
/** Faces that turn by more than this make an edge that is drawn, cosine. */
const SHARP = Math.cos(Math.PI / 6);

/** Lines of a picture at most: of a finer mesh the longest are drawn. */
const MOST_LINES = 3000;

/** The picture of a rack's cutter as SVG path data in a box of 0 … 100. */
export const rackPicture = ({ shape, picture }: RackItem): string =>
  picture ?? linePicture(shapeMesh(shape, () => undefined));

/**
 * A mesh in lines, seen from a corner, as SVG path data in a box of 0 … 100: its sharp edges and its silhouette,
 * without what lies behind; the longest `most` of them.
 */
export function linePicture(m: PolyMesh, most = MOST_LINES): string {
  const t = topologyOf(m);
  const N = faceNormals(m);
  const normal = (c: number): Vec3 => [N[3 * t.face[c]!]!, N[3 * t.face[c]! + 1]!, N[3 * t.face[c]! + 2]!];
  const flat = (v: number): Point2 => {
    const p: Vec3 = vertexPlace(m, v);
    return [dot(p, VIEW.right), -dot(p, VIEW.up)];
  };
  const lines: [Point2, Point2][] = [];
  for (const c of t.edgeCorner) {
    const o = t.opposite[c]!;
    const front = dot(normal(c), VIEW.towards) > 0;
    const other = o >= 0 && dot(normal(o), VIEW.towards) > 0;
    const sharp = o < 0 || dot(normal(c), normal(o)) < SHARP;
    if (front !== other || (sharp && front)) lines.push([flat(m.corners[c]!), flat(m.corners[t.next[c]!]!)]);
  }
  const far = ([[a, b], [c, d]]: [Point2, Point2]) => Math.hypot(c - a, d - b);
  if (lines.length > most) lines.sort((a, b) => far(b) - far(a)).length = most;
  const furthest = (k: 0 | 1, sign: 1 | -1) =>
    sign * lines.reduce((x, l) => Math.max(x, sign * l[0][k], sign * l[1][k]), -Infinity);
  const [x0, x1, y0, y1] = [furthest(0, -1), furthest(0, 1), furthest(1, -1), furthest(1, 1)];
  const k = 92 / Math.max(x1 - x0, y1 - y0, 1e-9);
  const at = ([x, y]: Point2) =>
    `${(50 + k * (x - (x0 + x1) / 2)).toFixed(1)} ${(50 + k * (y - (y0 + y1) / 2)).toFixed(1)}`;
  return lines.map(([a, b]) => `M${at(a)}L${at(b)}`).join('');
}

const item = (name: string, tags: string, shape: Record<string, unknown>): RackItem => ({
  id: `start:${name.toLowerCase().replace(/\W+/g, '-')}`,
  name,
  tags: tags.split(' '),
  shape: checked(Shape, shape),
});
const outline = (height: number, points: Point2[], bows: number[] = [], holes: Point2[][] = []) => ({
  kind: 'outline',
  height,
  points,
  bows,
  holes,
});
/** Points round the origin at two radii in turn. */
const star = (n: number, outer: number, inner: number): Point2[] =>
  Array.from({ length: 2 * n }, (_, i) => {
    const [a, r] = [(Math.PI * i) / n, i % 2 ? inner : outer];
    return [+(r * Math.cos(a)).toFixed(6) + 0, +(r * Math.sin(a)).toFixed(6) + 0];
  });

/** What a new rack begins with. */
export const STARTING_RACK: readonly RackItem[] = [
  item('Round drain', 'hole drain round', { kind: 'cylinder', diameter: 40, height: 60, segments: 48 }),
  item('Square drain', 'hole drain', { kind: 'plate', x: 50, y: 50, z: 60, corner: 6 }),
  item('Vent slot', 'slot vent air', { kind: 'slot', x: 60, y: 8, z: 30 }),
  item('Latch seat', 'pocket latch seat', { kind: 'plate', x: 60, y: 24, z: 12, corner: 5 }),
  item('Cable gland, 20 mm', 'hole cable gland', { kind: 'cylinder', diameter: 20.5, height: 40, segments: 32 }),
  item('Hexagon seat, 24 mm', 'pocket nut hexagon gland', { kind: 'polygon', diameter: 27.7, height: 10, segments: 6 }),
  item('Keyway', 'slot key shaft', { kind: 'slot', x: 32, y: 8, z: 8 }),
  item('Countersink, 12 mm', 'hole screw cone', { kind: 'cone', foot: 0, top: 12, height: 6, segments: 32 }),
  item('Chamfered pocket', 'pocket chamfer seat', { kind: 'cone', foot: 44, top: 60, height: 12, segments: 4 }),
  item('Lettering plate', 'pocket plate sign', { kind: 'plate', x: 120, y: 36, z: 4, corner: 3 }),
  item(
    'D hole',
    'hole shaft switch',
    outline(
      40,
      [
        [-8.660254, -5],
        [8.660254, -5],
      ],
      [0, 15],
    ),
  ),
  item(
    'Double-D hole',
    'hole shaft connector',
    outline(
      40,
      [
        [-6.6, -7.5],
        [6.6, -7.5],
        [6.6, 7.5],
        [-6.6, 7.5],
      ],
      [0, 3.4, 0, 3.4],
    ),
  ),
  item(
    'Dovetail groove',
    'slot groove rail',
    outline(120, [
      [-12, -6],
      [12, -6],
      [8, 6],
      [-8, 6],
    ]),
  ),
  item(
    'T groove',
    'slot groove rail',
    outline(120, [
      [-12, -8],
      [12, -8],
      [12, -2],
      [5, -2],
      [5, 8],
      [-5, 8],
      [-5, -2],
      [-12, -2],
    ]),
  ),
  item('Star seat', 'pocket knob grip', outline(10, star(6, 22, 16))),
  item(
    'Bayonet ring',
    'hole quarter turn lock',
    outline(
      20,
      [
        [17, -4],
        [22, -4],
        [22, 4],
        [17, 4],
        [-17, 4],
        [-22, 4],
        [-22, -4],
        [-17, -4],
      ],
      [0, 0.4, 0, 14, 0, 0.4, 0, 14],
    ),
  ),
];
