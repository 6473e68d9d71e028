import { z } from 'zod';
import {
  faceBegin,
  faceCount,
  faceEnd,
  faceNormals,
  sizeOf,
  topologyOf,
  vertexCorners,
  type PolyMesh,
} from '../../mesh/index.ts';
import { madeBy, seamEdges } from '../../mend/index.ts';
import { findings, placeOf, RULE_NAMES, ruleOf } from '../../survey/index.ts';
import { vector3 } from './fields.ts';

const id = z.number().int();
const on = z.enum(['vertex', 'edge', 'face']);
export type PickedOn = z.infer<typeof on>;

/** Most elements of a pick that is stored one by one; more are picked by a rule. */
export const MOST_PICKED = 20_000;

/**
 * One element of a mesh as it is remembered: where it is (mm, the middle of an edge or a face), and which faces of
 * which bodies its faces come from, as pairs; for an edge those of its two ends after those of its own faces.
 */
export const ElementSchema = z.object({ at: vector3, from: z.array(z.array(id).max(64)).max(3) });
export type Element = z.infer<typeof ElementSchema>;

/** What a course works on: a rule, or elements that are found again by where they come from, then by where they are. */
export const PickSchema = z.discriminatedUnion('by', [
  z.object({ by: z.literal('all'), on }),
  z.object({
    by: z.literal('elements'),
    on,
    elements: z.array(ElementSchema).min(1).max(MOST_PICKED),
    /**
     * Bodies that the elements come from, each with how many faces it had: with another number its faces are others.
     */
    bodies: z
      .array(z.tuple([id, id]))
      .max(1000)
      .default([]),
  }),
  z.object({ by: z.literal('finding'), on, rule: z.enum(RULE_NAMES) }),
  z.object({ by: z.literal('seam'), on: z.literal('edge'), course: id }),
  /** The seams of all cuts. */
  z.object({ by: z.literal('outlines'), on: z.literal('edge') }),
  z.object({ by: z.literal('walls'), on: z.literal('face'), course: id }),
  z.object({ by: z.literal('sharper'), on: z.literal('edge'), angle: z.number().min(0).max(180) }),
  z.object({ by: z.literal('source'), on: z.literal('face'), body: id, face: id }),
]);
export type Pick = z.infer<typeof PickSchema>;

export const ALL_SEAMS: Pick = { by: 'outlines', on: 'edge' };
export const everything = (where: PickedOn): Pick => ({ by: 'all', on: where });

/** How many faces the body of a number has just now; undefined where it is not one of the part's own shapes. */
export type BodySizes = (body: number) => number | undefined;

/** A pick as found in a mesh. */
export interface Resolved {
  /**
   * Vertices, corners that leave along edges, or faces, each once: of a rule in order, of elements in the order in
   * which they were picked.
   */
  ids: Int32Array;
  /** Elements that were not found, by their place in the pick. */
  lost: number[];
  /** For a pick of elements: each, or null where it was not found. */
  each: (number | null)[];
  /** How many elements the pick has; of a rule as many as were found. */
  of: number;
}

/** Elements nearer to where they were than this share of the size are in the same place. */
const SAME_PLACE = 1e-6;

/** Faces and their sources as one number each, and from them the names of vertices and edges. */
class Sources {
  private readonly t;
  private readonly around;

  constructor(readonly m: PolyMesh) {
    this.t = topologyOf(m);
    this.around = vertexCorners(m);
  }

  /** Body and face of the body, as a pair. */
  face(f: number): [number, number] {
    const s = this.m.layers.source;
    return s ? [s[3 * f]!, s[3 * f + 1]!] : [0, f];
  }

  /** Sources of the faces round a vertex, sorted, each once, as a flat list of pairs. */
  vertex(v: number): number[] {
    const pairs = new Map<string, [number, number]>();
    for (const c of this.around(v)) {
      const pair = this.face(this.t.face[c]!);
      pairs.set(pair.join(), pair);
    }
    return [...pairs.values()].sort((a, b) => a[0] - b[0] || a[1] - b[1]).flat();
  }

  element(where: PickedOn, at: number): number[][] {
    if (where === 'face') return [this.face(at)];
    if (where === 'vertex') return [this.vertex(at)];
    const { face, sameEdge, next } = this.t;
    const own = [at];
    for (let o = sameEdge[at]!; o !== at; o = sameEdge[o]!) own.push(o);
    const faces = [...new Set(own.map((c) => this.face(face[c]!).join()))]
      .sort()
      .flatMap((s) => s.split(',').map(Number));
    const ends = [this.m.corners[at]!, this.m.corners[next[at]!]!].map((v) => this.vertex(v));
    return [faces, ...ends.sort((a, b) => (a.join() < b.join() ? -1 : 1))];
  }
}

/** All elements of a kind that have a face of one of some sources; all, where none are given. */
function elementsNear(s: Sources, where: PickedOn, wanted: ReadonlySet<string> | null): number[] {
  const { m } = s;
  const out = new Set<number>();
  const { edge, edgeCorner } = topologyOf(m);
  for (let f = 0; f < faceCount(m); f++) {
    if (wanted && !wanted.has(s.face(f).join())) continue;
    if (where === 'face') out.add(f);
    else
      for (let c = faceBegin(m, f); c < faceEnd(m, f); c++)
        out.add(where === 'vertex' ? m.corners[c]! : edgeCorner[edge[c]!]!);
  }
  return [...out];
}

/** A pick of elements of a mesh, to be stored. */
export function pickOf(m: PolyMesh, where: PickedOn, ids: Iterable<number>, sizes: BodySizes = () => undefined): Pick {
  const s = new Sources(m);
  const elements = [...new Set(ids)].map((x): Element => ({
    at: placeOf(m, where, x).point,
    from: s.element(where, x),
  }));
  const bodies = new Set(elements.flatMap((e) => e.from.flatMap((list) => list.filter((_, i) => i % 2 === 0))));
  const known = [...bodies].flatMap((b): [number, number][] => {
    const n = sizes(b);
    return n === undefined ? [] : [[b, n]];
  });
  return { by: 'elements', on: where, elements, bodies: known };
}

/** Finds a pick in a mesh; see `Resolved`. */
export function resolvePick(m: PolyMesh, pick: Pick, sizes: BodySizes = () => undefined): Resolved {
  if (pick.by === 'elements') return resolveElements(m, pick, sizes);
  const ids = Int32Array.from(byRule(m, pick)).sort();
  return { ids, lost: [], each: [...ids], of: ids.length };
}

function byRule(m: PolyMesh, pick: Exclude<Pick, { by: 'elements' }>): ArrayLike<number> {
  const { face, edgeCorner, opposite } = topologyOf(m);
  const faces = () => Array.from({ length: faceCount(m) }, (_, f) => f);
  const { source } = m.layers;
  switch (pick.by) {
    case 'all':
      return pick.on === 'face' ? faces() : pick.on === 'edge' ? edgeCorner : [...new Set(m.corners)];
    case 'finding':
      return findings(m, { rules: [pick.rule] })[0]?.ids ?? [];
    case 'seam':
      return seamEdges(m, pick.course);
    case 'outlines':
      return seamEdges(m);
    case 'walls':
      return [...madeBy(m, 'face', pick.course)];
    case 'source':
      return faces().filter((f) => source?.[3 * f] === pick.body && source[3 * f + 1] === pick.face);
    case 'sharper': {
      const N = faceNormals(m);
      const limit = Math.cos((pick.angle * Math.PI) / 180);
      const lean = (f: number, g: number) => [0, 1, 2].reduce((d, k) => d + N[3 * f + k]! * N[3 * g + k]!, 0);
      return [...edgeCorner].filter((c) => opposite[c]! >= 0 && lean(face[c]!, face[opposite[c]!]!) < limit);
    }
  }
}

function resolveElements(m: PolyMesh, pick: Extract<Pick, { by: 'elements' }>, sizes: BodySizes): Resolved {
  const s = new Sources(m);
  const others = new Set(pick.bodies.filter(([b, n]) => sizes(b) !== n).map(([b]) => b));
  const wanted = new Set<string>();
  for (const e of pick.elements)
    for (const list of e.from) for (let i = 0; i < list.length; i += 2) wanted.add(`${list[i]},${list[i + 1]}`);
  const middle = new Map<number, readonly [number, number, number]>();
  const middleOf = (x: number) => middle.get(x) ?? middle.set(x, placeOf(m, pick.on, x).point).get(x)!;
  const far = (x: number, at: Element['at']) => Math.hypot(...middleOf(x).map((v, k) => v - at[k]!));
  const byName = new Map<string, number[]>();
  for (const x of elementsNear(s, pick.on, wanted)) {
    const name = JSON.stringify(s.element(pick.on, x));
    byName.set(name, [...(byName.get(name) ?? []), x]);
  }
  const taken = new Set<number>();
  const found = new Array<number | undefined>(pick.elements.length).fill(undefined);
  const take = (i: number, list: readonly number[], reach: number): void => {
    let [best, least] = [-1, reach];
    for (const x of list) {
      const d = far(x, pick.elements[i]!.at);
      if (d <= least && !taken.has(x)) [best, least] = [x, d];
    }
    if (best < 0) return;
    taken.add(best);
    found[i] = best;
  };
  const same = SAME_PLACE * sizeOf(m);
  const trusted = (e: Element) => !e.from.some((list) => list.some((b, i) => i % 2 === 0 && others.has(b)));
  // Those that stayed in their place go first, so that none is taken by one that moved there.
  for (const reach of [same, Infinity])
    pick.elements.forEach((e, i) => {
      if (found[i] === undefined && trusted(e)) take(i, byName.get(JSON.stringify(e.from)) ?? [], reach);
    });
  if (found.includes(undefined)) {
    const cells = new Map<string, number[]>();
    const cell = (p: readonly number[], shift: readonly number[]) =>
      p.map((x, k) => Math.floor(x / (4 * same || 1)) + shift[k]!).join();
    for (const x of elementsNear(s, pick.on, null)) {
      const name = cell(middleOf(x), [0, 0, 0]);
      cells.set(name, [...(cells.get(name) ?? []), x]);
    }
    const round = [-1, 0, 1].flatMap((i) => [-1, 0, 1].flatMap((j) => [-1, 0, 1].map((k) => [i, j, k])));
    pick.elements.forEach((e, i) => {
      if (found[i] === undefined)
        take(
          i,
          round.flatMap((r) => cells.get(cell(e.at, r)) ?? []),
          same,
        );
    });
  }
  const lost = [...found.keys()].filter((i) => found[i] === undefined);
  const ids = Int32Array.from(found.filter((x): x is number => x !== undefined));
  return { ids, lost, each: found.map((x) => x ?? null), of: pick.elements.length };
}

/** A pick of a part whose courses and cutters have other numbers now. */
export function renumberedPick(pick: Pick, to: (old: number) => number): Pick {
  const pairs = (list: readonly number[]) => list.map((x, i) => (i % 2 === 0 ? to(x) : x));
  switch (pick.by) {
    case 'elements':
      return {
        ...pick,
        elements: pick.elements.map((e) => ({ ...e, from: e.from.map(pairs) })),
        bodies: pick.bodies.map(([b, n]) => [to(b), n]),
      };
    case 'seam':
    case 'walls':
      return { ...pick, course: to(pick.course) };
    case 'source':
      return { ...pick, body: to(pick.body) };
    default:
      return pick;
  }
}

/** A pick of a part that was moved, mm. */
export const movedPick = (pick: Pick, by: readonly [number, number, number]): Pick =>
  pick.by === 'elements'
    ? {
        ...pick,
        elements: pick.elements.map((e) => ({ ...e, at: [e.at[0] + by[0], e.at[1] + by[1], e.at[2] + by[2]] })),
      }
    : pick;

const WORDS = { vertex: ['vertex', 'vertices'], edge: ['edge', 'edges'], face: ['face', 'faces'] } as const;

/** How many elements of a kind, in words: `1 face`, `3 vertices`. */
export const countWords = (where: PickedOn, n: number): string =>
  `${n.toLocaleString('en')} ${WORDS[where][n === 1 ? 0 : 1]}`;

/** A pick in words: `12 faces`, `edges sharper than 30°`. */
export function pickWords(pick: Pick, nameOf: (course: number) => string = () => 'its course'): string {
  switch (pick.by) {
    case 'all':
      return `all ${WORDS[pick.on][1]}`;
    case 'elements':
      return countWords(pick.on, pick.elements.length);
    case 'finding':
      return `what the survey calls “${ruleOf(pick.rule).title.toLowerCase()}”`;
    case 'seam':
      return `the seam of ${nameOf(pick.course)}`;
    case 'outlines':
      return 'the seams of all cuts';
    case 'walls':
      return `the walls of ${nameOf(pick.course)}`;
    case 'sharper':
      return `edges sharper than ${pick.angle}°`;
    case 'source':
      return 'a face of its base';
  }
}
