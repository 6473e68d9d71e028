import {
  cornerNormals,
  faceNormals,
  reface,
  sharpCorners,
  takeFaces,
  topologyOf,
  type NewFace,
  type PolyMesh,
  type Spot,
  type Surface,
  type Vec3,
} from '../../mesh/index.ts';
import type { GuideSurface } from '../guideSurface.ts';
import { groupLoops, RAIL, ROUNDED, type GroupLoop } from './bevelLoops.ts';
import { keptFaces } from './kept.ts';
import { Lines, pointedEnds, type BevelAim } from './lines.ts';
import { Nodes, type BevelNode, type Trouble } from './nodes.ts';
import { Pieces } from './edgePieces.ts';
import { Rows, type Profile } from './rows.ts';
import { Strips, type MadeFace } from './strips.ts';
import { turnAt } from './widths.ts';

/** What does not change with the width: boundaries of the groups, and where strips run out to a point. */
export interface BevelGround {
  mesh: PolyMesh;
  surface: Surface;
  role: Uint8Array;
  loops: GroupLoop[];
  pointed: Set<number>;
}

/**
 * A built bevel: the mesh without layers, and which of its faces are new, with the vertices that they come from; or
 * what is in its way.
 */
export interface Built {
  mesh: PolyMesh | null;
  made: readonly MadeFace[];
  /** The number of the first new face. */
  first: number;
  /** The old face of each face that remains. */
  kept: readonly number[];
  troubles: Trouble[];
  /** The mesh with all layers; null where there is none. */
  dress(): PolyMesh | null;
}

/** Prepares a mesh for a bevel of some of its edges (by `role`). */
export function bevelGround(m: PolyMesh, role: Uint8Array, surface: Surface): BevelGround {
  const t = topologyOf(m);
  const loops = groupLoops(m, role, surface);
  const roleAt = (c: number) => (t.opposite[c]! < 0 ? RAIL : role[t.edge[c]!]!);
  return { mesh: m, surface, role, loops, pointed: pointedEnds(loops, m, roleAt) };
}

/**
 * Builds the bevel of given widths: lines beside the edges, what remains of the faces, strips, corners. With a `guide`
 * the strips end with its normals.
 */
export function buildBevel(ground: BevelGround, aim: BevelAim, profile: Profile, guide?: GuideSurface): Built {
  const { mesh: m, surface, role, loops } = ground;
  const t = topologyOf(m);
  const nodes = new Nodes(m, surface, role, guide);
  const lines = new Lines(nodes, aim, loops);
  const rows = new Rows(nodes, aim.segments, profile);
  const none = (troubles: Trouble[]): Built => ({
    mesh: null,
    made: [],
    first: 0,
    kept: [],
    troubles,
    dress: () => null,
  });
  if (lines.troubles.length) return none(lines.troubles);
  lines.draw(capsOf(ground, aim, nodes, rows));
  if (lines.troubles.length) return none(lines.troubles);
  const pieces = new Pieces(nodes, role, lines);
  if (pieces.troubles.length) return none(pieces.troubles);
  const strips = new Strips(nodes, aim, lines, rows);
  strips.corners(loops);

  const chords = new Map<number, [number, number][]>();
  const behind = new Map<number, readonly number[]>();
  const chord = (face: number, a: BevelNode, b: BevelNode) => {
    behind.set(a.id, a.of);
    behind.set(b.id, b.of);
    const f = face >= 0 ? face : leftFace(m, a, b);
    const list = chords.get(f);
    if (list) list.push([a.id, b.id]);
    else chords.set(f, [[a.id, b.id]]);
  };
  for (const line of [...lines.beside.values(), ...lines.joins])
    line.faces.forEach((f, k) => chord(f, line.nodes[k]!, line.nodes[k + 1]!));
  const kept = keptFaces(
    nodes,
    role,
    pieces,
    chords,
    (id) => behind.get(id) ?? [],
    (c) => lines.beside.has(c),
  );
  if (kept.troubles.length) return none(kept.troubles);
  const faces: (NewFace | number)[] = [
    ...kept.faces,
    ...strips.faces.map((f): NewFace => ({
      from: f.from,
      boundaries: [f.boundary.map((vertex, k) => ({ vertex, edge: f.edges[k]! }))],
    })),
  ];
  const positions = nodes.positions();
  const mesh = reface({ ...m, layers: {} }, faces, positions);
  const dress = () =>
    aim.holds
      ? takeFaces(reface(m, faces, positions), () => true)
      : lit(m, role, faces, positions, kept.faces.length, strips.faces, typeof profile !== 'number');
  const fromOf = (f: NewFace | number) => (typeof f === 'number' ? f : f.from);
  return { mesh, made: strips.faces, first: kept.faces.length, kept: kept.faces.map(fromOf), troubles: [], dress };

  /** The face left of a stretch that runs along an edge. */
  function leftFace(of: PolyMesh, a: BevelNode, b: BevelNode): number {
    const edges = (x: Spot): number[] =>
      x.corner >= 0 ? [t.edge[x.corner]!] : nodes.cornersAt(x.vertex).flatMap((c) => [t.edge[c]!, t.edge[t.prev[c]!]!]);
    const those = new Set(edges(b.spot));
    const c = t.edgeCorner[edges(a.spot).find((e) => those.has(e))!]!;
    const share = (x: Spot) =>
      x.vertex >= 0 ? (x.vertex === of.corners[c] ? 0 : 1) : x.corner === c ? x.share : 1 - x.share;
    return share(b.spot) > share(a.spot) ? t.face[c]! : t.face[t.opposite[c]!]!;
  }
}

/**
 * The nodes of a sector between two rails that strips end on. Where one strip ends in one face, the face takes its row;
 * else the vertex stays, and the rails between it and the strips.
 */
function capsOf(
  { mesh: m, loops, role }: BevelGround,
  aim: BevelAim,
  nodes: Nodes,
  rows: Rows,
): Parameters<Lines['draw']>[0] {
  const t = topologyOf(m);
  const fans = new Map<number, { fan: number[]; come: number }>();
  for (const loop of loops)
    loop.sides.forEach((c, i) => fans.set(c, { fan: loop.fans[i]!, come: loop.sides.at(i - 1)! }));
  const inner = (id: number, at: Vec3, v: number, face: number): BevelNode => ({
    id,
    at,
    normal: nodes.surface.normal(face),
    spot: { point: at, vertex: -1, corner: -1, share: 0, triangle: -1 },
    of: [v],
    plain: true,
  });
  return (out, come, leave) => {
    const v = m.corners[out]!;
    const { fan, come: arriving } = fans.get(out)!;
    const rounded = nodes.cornersAt(v).filter((c) => t.opposite[c]! >= 0 && role[t.edge[c]!] === ROUNDED);
    const rails = nodes.cornersAt(v).filter((c) => !rounded.includes(c));
    if (rounded.length === 1 && fan.length === 1 && come && leave && rails.length === 2) {
      const c = rounded[0]!;
      const angle = Math.abs(turnAt(m, nodes.surface, c));
      const ids = rows.between(come, leave, { at: nodes.surface.at(v), angle });
      return ids.map((id, k) =>
        k === 0 ? come : k === ids.length - 1 ? leave : inner(id, nodes.at(id), v, t.face[out]!),
      );
    }
    const here = nodes.node({ point: nodes.surface.at(v), vertex: v, corner: -1, share: 0, triangle: -1 }, [v], true);
    const stretch = (from: BevelNode, to: BevelNode, rail: number): BevelNode[] => {
      const far = from === here ? to : from;
      const share = far.spot.corner === rail ? far.spot.share : 1 - far.spot.share;
      return Array.from({ length: aim.segments - 1 }, (_, k) => {
        const part = (k + 1) / aim.segments;
        const x =
          m.corners[rail] === v
            ? share * (from === here ? part : 1 - part)
            : 1 - (1 - share) * (from === here ? part : 1 - part);
        const [p, q] = [nodes.surface.at(m.corners[rail]!), nodes.surface.at(m.corners[t.next[rail]!]!)];
        const point: Vec3 = [0, 1, 2].map((j) => p[j]! + (q[j]! - p[j]!) * x) as unknown as Vec3;
        return nodes.node({ point, vertex: -1, corner: rail, share: x, triangle: -1 }, [v], true);
      });
    };
    return [
      ...(come ? [come, ...stretch(come, here, arriving)] : []),
      here,
      ...(leave ? [...stretch(here, leave, out), leave] : []),
    ];
  };
}

/**
 * The mesh of all faces, with normals: those that remain keep what the light saw on them, new ones turn from side to
 * side.
 */
function lit(
  m: PolyMesh,
  role: Uint8Array,
  faces: (NewFace | number)[],
  positions: Float64Array,
  first: number,
  made: readonly MadeFace[],
  faceted: boolean,
): PolyMesh {
  const t = topologyOf(m);
  let base = m;
  if (!m.layers.normal) {
    const flat = faceNormals(m);
    const sharp = sharpCorners(m, flat);
    for (let c = 0; c < sharp.length; c++) if (role[t.edge[c]!] !== 0) sharp[c] = 1;
    base = { ...m, layers: { ...m.layers, normal: cornerNormals(m, flat, sharp) } };
  }
  const mesh = reface(base, faces, positions);
  const { normal, plane } = mesh.layers;
  // A drawn profile shows by its facets alone.
  const own = faceted ? faceNormals(mesh) : null;
  made.forEach((f, i) => {
    const begin = mesh.loopStart[mesh.faceLoops[first + i]!]!;
    if (own) f.normals = f.normals.map(() => [0, 1, 2].map((k) => own[3 * (first + i) + k]!) as unknown as Vec3);
    f.normals.forEach((n, k) => normal!.set(n, 3 * (begin + k)));
    plane?.fill(NaN, 6 * (first + i), 6 * (first + i + 1));
  });
  return takeFaces(mesh, () => true);
}
