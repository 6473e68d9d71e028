import { faceCount, flipMesh, joinMeshes, meshFromFaces, topologyOf, type PolyMesh } from '../../mesh/index.ts';

// Damages a sound mesh the way that scans and careless exports do: for tests, and for a sample to mend.

/** Kinds of damage. */
export const DAMAGES = [
  'missing',
  'doubled',
  'turned',
  'crack',
  'soup',
  'side',
  'needle',
  'wall',
  'fin',
  'inside',
  'pinched',
  'insideOut',
] as const;
export type Damage = (typeof DAMAGES)[number];

type Faces = number[][];
interface Working {
  P: number[];
  faces: Faces;
  /** Faces that are damaged already: the next damage goes elsewhere. */
  taken: Set<number>;
  random: () => number;
  size: number;
}

/**
 * Damages a mesh whose faces have one boundary each in several ways, at random places. Faces that are not hit keep
 * their vertices where they are.
 */
export function damaged(m: PolyMesh, kinds: readonly Damage[], random: () => number, size: number): PolyMesh {
  const faces: Faces = Array.from({ length: faceCount(m) }, (_, f) => [
    ...m.corners.subarray(m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f]! + 1]!),
  ]);
  const w: Working = { P: [...m.positions], faces, taken: new Set(), random, size };
  const beside = neighbours(m);
  // Damage that turns or takes apart the whole comes last.
  for (const kind of [...kinds].sort((a, b) => DAMAGES.indexOf(a) - DAMAGES.indexOf(b))) ACTS[kind](w, beside);
  const hurt = meshFromFaces(
    w.P,
    w.faces.filter((f) => f.length),
  );
  const whole = kinds.includes('inside') ? joinMeshes([hurt, within(m, 0.02 * size)]) : hurt;
  return kinds.includes('insideOut') ? flipMesh(whole, () => true) : whole;
}

/** A small body in the middle of a mesh: six corners, eight faces. */
function within(m: PolyMesh, reach: number): PolyMesh {
  const n = m.positions.length / 3;
  const at = [0, 1, 2].map((k) => m.positions.reduce((s, x, i) => s + (i % 3 === k ? x / n : 0), 0));
  const P = [0, 1, 2].flatMap((k) => [reach, -reach].flatMap((d) => at.map((x, j) => x + (j === k ? d : 0))));
  return meshFromFaces(P, [
    [0, 2, 4],
    [2, 1, 4],
    [1, 3, 4],
    [3, 0, 4],
    [2, 0, 5],
    [1, 2, 5],
    [3, 1, 5],
    [0, 3, 5],
  ]);
}

/** Faces that share a vertex with each face. */
function neighbours(m: PolyMesh): number[][] {
  const { face } = topologyOf(m);
  const at = new Map<number, number[]>();
  m.corners.forEach((v, c) => at.set(v, [...(at.get(v) ?? []), face[c]!]));
  return Array.from({ length: faceCount(m) }, (_, f) => [
    ...new Set(
      [...m.corners.subarray(m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f]! + 1]!)].flatMap((v) =>
        at.get(v)!,
      ),
    ),
  ]);
}

/** A face that nothing has happened to, nor to its neighbours. */
function free({ faces, taken, random }: Working, beside: readonly number[][]): number | null {
  const n = beside.length;
  for (let tries = 0; tries < 200; tries++) {
    const f = Math.floor(random() * n);
    if (taken.has(f) || !faces[f]!.length || beside[f]!.some((g) => taken.has(g))) continue;
    for (const g of beside[f]!) taken.add(g);
    return f;
  }
  return null;
}

const place = ({ P }: Working, v: number) => [P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!];
const vertex = ({ P }: Working, p: readonly number[]): number => P.push(...p) / 3 - 1;

const ACTS: Record<Damage, (w: Working, beside: readonly number[][]) => void> = {
  missing: hit((w, f) => void (w.faces[f] = [])),
  doubled: hit((w, f) => void w.faces.push([...w.faces[f]!])),
  turned: hit((w, f) => void w.faces[f]!.reverse()),
  // A face with vertices of its own, drawn a little towards its middle.
  crack: hit((w, f) => {
    const middle = [0, 1, 2].map((k) => w.faces[f]!.reduce((s, v) => s + w.P[3 * v + k]!, 0) / w.faces[f]!.length);
    const width = w.size * 10 ** (-7 + 4 * w.random());
    w.faces[f] = w.faces[f]!.map((v) => {
      const p = place(w, v);
      const d = Math.hypot(...p.map((x, k) => middle[k]! - x)) || 1;
      return vertex(
        w,
        p.map((x, k) => x + ((middle[k]! - x) * width) / d),
      );
    });
  }),
  // An edge split on one side only.
  side: hit((w, f) => {
    const [a, b] = w.faces[f]! as [number, number];
    const s = 0.3 + 0.4 * w.random();
    w.faces[f] = [
      a,
      vertex(
        w,
        place(w, a).map((x, k) => x + s * (place(w, b)[k]! - x)),
      ),
      ...w.faces[f]!.slice(1),
    ];
  }),
  // A face without area along an edge.
  needle: hit((w, f) => {
    const [a, b] = w.faces[f]! as [number, number];
    const v = vertex(
      w,
      place(w, a).map((x, k) => (x + place(w, b)[k]!) / 2),
    );
    w.faces[f] = [a, v, ...w.faces[f]!.slice(1)];
    w.faces.push([a, b, v]);
  }),
  // A wall within: on the inner side of a face, over the same vertices and one deep inside.
  wall: hit((w, f) => {
    const ring = w.faces[f]!;
    const middle = [0, 1, 2].map((k) => ring.reduce((s, v) => s + w.P[3 * v + k]!, 0) / ring.length);
    const [a, b, c] = ring.map((v) => place(w, v)) as [number[], number[], number[]];
    const [u, v] = [b.map((x, k) => x - a[k]!), c.map((x, k) => x - a[k]!)] as [number[], number[]];
    const n = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!];
    const l = Math.hypot(...n) || 1;
    const deep = vertex(
      w,
      middle.map((x, k) => x - (0.01 * w.size * n[k]!) / l),
    );
    for (let i = 0; i < ring.length; i++) w.faces.push([ring[i]!, ring[(i + 1) % ring.length]!, deep]);
  }),
  // A face that hangs on an edge.
  fin: hit((w, f) => {
    const [a, b] = w.faces[f]! as [number, number];
    const out = place(w, a).map((x, k) => x + 0.05 * w.size * (k === 0 ? 0.3 : k === 1 ? 0.5 : 0.8));
    w.faces.push([a, b, vertex(w, out)]);
  }),
  inside: () => undefined,
  // Another body that touches at one vertex.
  pinched: hit((w, f) => {
    const v = w.faces[f]![0]!;
    const p = place(w, v);
    const l = Math.hypot(...p) || 1;
    const out = (k: number, s: number) => p.map((x, j) => x + 0.05 * w.size * ((0.8 * x) / l + (j === k ? s : 0)));
    const [a, b, c] = [vertex(w, out(0, 0.4)), vertex(w, out(1, 0.4)), vertex(w, out(2, 0.4))];
    w.faces.push([v, b, a], [v, c, b], [v, a, c], [a, b, c]);
  }),
  // Every face with vertices of its own.
  soup: (w) => {
    w.faces = w.faces.map((f) => f.map((v) => vertex(w, place(w, v))));
  },
  insideOut: () => undefined,
};

/** A damage of one face that is free. */
function hit(act: (w: Working, f: number) => void): (w: Working, beside: readonly number[][]) => void {
  return (w, beside) => {
    const f = free(w, beside);
    if (f !== null) act(w, f);
  };
}
