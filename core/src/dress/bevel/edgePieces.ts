import { cross, dot, sub, topologyOf, type PolyMesh, type Surface, type Vec3 } from '../../mesh/index.ts';
import { SOFT } from './bevelLoops.ts';
import type { Lines } from './lines.ts';
import type { BevelNode, Nodes, Trouble } from './nodes.ts';

/**
 * A node on a soft edge: where along its corner's edge (0 to 1), and whether what lies ahead and behind along it
 * remains.
 */
interface OnEdge {
  node: BevelNode;
  share: number;
  ahead: boolean;
  behind: boolean;
}

/** A stretch of an old edge that remains, by vertices. */
export type Stretch = readonly [number, number];

/**
 * Which parts of the soft edges remain beside the lines of a bevel: what lies left of a line does. A line goes over an
 * edge, turns at it, runs along it or meets a vertex; from there what is left and what goes is handed on from edge to
 * edge.
 */
export class Pieces {
  private readonly onEdge = new Map<number, OnEdge[]>();
  /**
   * For corners whose edges begin at a vertex that a line meets or that is rounded off: whether the edge remains there.
   */
  private readonly begins = new Map<number, boolean>();
  /** For other vertices, where known: 0 if they go, 1 if they remain. */
  private readonly state: Int8Array;
  readonly troubles: Trouble[] = [];

  constructor(
    private readonly nodes: Nodes,
    private readonly role: Uint8Array,
    lines: Lines,
  ) {
    this.state = new Int8Array(nodes.mesh.positions.length / 3).fill(-1);
    const { fansOf } = this;
    for (const [sector, path] of lines.sectors) {
      if (path.some((x) => x.spot.vertex === this.mesh.corners[sector]!)) continue;
      for (const c of fansOf(sector)) this.begins.set(c, false);
    }
    for (const round of lines.rounds)
      round.forEach((step, i) => {
        const come = round.at(i - 1)!;
        const to = round[(i + 1) % round.length]!;
        this.meet(step.node, come.node, come.face, to.node, step.face);
      });
    this.handOn();
  }

  private get mesh(): PolyMesh {
    return this.nodes.mesh;
  }

  private get surface(): Surface {
    return this.nodes.surface;
  }

  /** Corners along soft edges in the sector that begins with a corner of its boundary. */
  private readonly fansOf = (sector: number): number[] => {
    const t = topologyOf(this.mesh);
    const out: number[] = [];
    for (let c = t.prev[sector]!; this.soft(c); c = t.prev[t.opposite[c]!]!) out.push(t.opposite[c]!);
    return out;
  };

  private soft(c: number): boolean {
    const t = topologyOf(this.mesh);
    return t.opposite[c]! >= 0 && this.role[t.edge[c]!] === SOFT;
  }

  /** Whether the edge of a corner begins at a vertex that a line meets or that goes. */
  private special(c: number): boolean {
    return this.begins.has(c);
  }

  private meet(node: BevelNode, before: BevelNode, from: number, after: BevelNode, into: number): void {
    const { spot } = node;
    if (spot.vertex >= 0) this.meetVertex(node, before, from, after, into);
    else if (spot.corner >= 0 && this.soft(spot.corner)) this.meetEdge(node, before, from, after, into);
  }

  /** On an edge, counter-clockwise: 0 ahead along its corner, 1 the corner's own face, 2 behind, 3 the face beyond. */
  private meetEdge(node: BevelNode, before: BevelNode, from: number, after: BevelNode, into: number): void {
    const t = topologyOf(this.mesh);
    const c = t.edgeCorner[t.edge[node.spot.corner]!]!;
    const share = node.spot.corner === c ? node.spot.share : 1 - node.spot.share;
    const way = sub(this.surface.at(this.mesh.corners[t.next[c]!]!), this.surface.at(this.mesh.corners[c]!));
    const side = (other: BevelNode, face: number): number => {
      const d = sub(other.at, node.at);
      if (face < 0) return dot(d, way) > 0 ? 0 : 2;
      const [own, far] = [t.face[c]!, t.face[t.opposite[c]!]!];
      if (own !== far) return face === own ? 1 : 3;
      return dot(d, cross(this.surface.normal(own), way)) > 0 ? 1 : 3;
    };
    const [come, go] = [side(before, from), side(after, into)];
    let [ahead, behind] = [leftOf(0, go, come), leftOf(2, go, come)];
    if (come === go) {
      // It turns back in one face: what is left is on both sides of it, or on neither.
      const normal = this.surface.normal(come === 1 ? t.face[c]! : t.face[t.opposite[c]!]!);
      const angle = (p: Vec3) => Math.atan2(dot(sub(p, node.at), cross(normal, way)), dot(sub(p, node.at), way));
      const turn = 2 * Math.PI;
      const [a, b] = [angle(after.at), angle(before.at)].map((x) => (come === 1 ? x : x + turn) % turn) as [
        number,
        number,
      ];
      ahead = behind = b < a;
    }
    const e = t.edge[c]!;
    const list = this.onEdge.get(e);
    const piece = { node, share, ahead, behind };
    if (list) list.push(piece);
    else this.onEdge.set(e, [piece]);
  }

  /** Round a vertex, counter-clockwise: its edges at even places, the faces after them at odd ones. */
  private meetVertex(node: BevelNode, before: BevelNode, from: number, after: BevelNode, into: number): void {
    const t = topologyOf(this.mesh);
    const v = node.spot.vertex;
    const edgeTo = (other: BevelNode, c: number) => {
      const far = this.mesh.corners[t.next[c]!]!;
      return other.spot.vertex === far || (other.spot.corner >= 0 && t.edge[other.spot.corner] === t.edge[c]);
    };
    // From a corner of the sector that the line is in, clockwise to where the sector begins.
    const some = this.nodes.cornersAt(v);
    const inSector = some.find((c) => (into < 0 ? edgeTo(after, c) : t.face[c] === into)) ?? some[0]!;
    let start = inSector;
    while (this.soft(start)) {
      start = t.next[t.opposite[start]!]!;
      if (start === inSector) break;
    }
    const ring: number[] = [start];
    for (let c = t.prev[start]!; this.soft(c) && t.opposite[c] !== start;) {
      ring.push(t.opposite[c]!);
      c = t.prev[t.opposite[c]!]!;
    }
    const last = t.prev[ring.at(-1)!]!;
    const place = (other: BevelNode, face: number): number => {
      const at = ring.findIndex((c) => edgeTo(other, c));
      return face < 0 ? 2 * at : 2 * ring.findIndex((c) => t.face[c] === face) + 1;
    };
    // Along the boundary it comes by the sector's last edge and goes by its first.
    const came =
      !this.soft(last) &&
      (before.spot.vertex === this.mesh.corners[last] ||
        (before.spot.corner >= 0 && t.edge[before.spot.corner] === t.edge[last]));
    const come = came ? 2 * ring.length : place(before, from);
    const go = !this.soft(ring[0]!) && edgeTo(after, ring[0]!) ? 0 : place(after, into);
    ring.forEach((c, i) => this.soft(c) && this.begins.set(c, leftOf(2 * i, go, come)));
  }

  /** Spreads what remains and what goes over edges without nodes. */
  private handOn(): void {
    const t = topologyOf(this.mesh);
    const todo: number[] = [];
    const { corners } = this.mesh;
    const set = (v: number, remains: boolean, of: readonly number[]) => {
      const s = remains ? 1 : 0;
      if (this.state[v] === s) return;
      if (this.state[v]! >= 0) this.troubles.push({ what: 'meets', at: this.surface.at(v), vertices: of });
      else {
        this.state[v] = s;
        todo.push(v);
        this.why.set(v, of);
      }
    };
    for (const [e, list] of this.onEdge) {
      list.sort((a, b) => a.share - b.share);
      for (let i = 0; i + 1 < list.length; i++)
        if (list[i]!.ahead !== list[i + 1]!.behind) this.fault(list[i]!.node, list[i + 1]!.node);
      const c = t.edgeCorner[e]!;
      for (const [at, remains, node] of [
        [c, list[0]!.behind, list[0]!.node],
        [t.opposite[c]!, list.at(-1)!.ahead, list.at(-1)!.node],
      ] as const) {
        const known = this.begins.get(at);
        if (known === undefined) set(corners[at]!, remains, node.of);
        else if (known !== remains)
          this.troubles.push({ what: 'meets', at: node.at, vertices: [...node.of, corners[at]!] });
      }
    }
    for (const [c, remains] of this.begins) this.over(c, remains, [corners[c]!], set);
    while (todo.length) {
      const v = todo.pop()!;
      for (const c of this.nodes.cornersAt(v))
        if (this.soft(c)) this.over(c, this.state[v] === 1, this.why.get(v)!, set);
    }
  }

  private readonly why = new Map<number, readonly number[]>();

  /** From one end of an edge without nodes to the other. */
  private over(
    c: number,
    remains: boolean,
    of: readonly number[],
    set: (v: number, remains: boolean, of: readonly number[]) => void,
  ) {
    const t = topologyOf(this.mesh);
    if (this.onEdge.has(t.edge[c]!)) return;
    const far = t.opposite[c]!;
    const known = this.begins.get(far);
    if (known === undefined) set(this.mesh.corners[far]!, remains, of);
    else if (known !== remains)
      this.troubles.push({
        what: 'meets',
        at: this.surface.at(this.mesh.corners[c]!),
        vertices: [...of, this.mesh.corners[far]!],
      });
  }

  private fault(a: BevelNode, b: BevelNode): void {
    this.troubles.push({ what: 'meets', at: a.at, vertices: [...new Set([...a.of, ...b.of])] });
  }

  /** Whether lines have to do with an edge, or it goes. */
  touched(c: number): boolean {
    const t = topologyOf(this.mesh);
    const far = t.opposite[c]!;
    return (
      this.onEdge.has(t.edge[c]!) || this.special(c) || this.special(far) || this.state[this.mesh.corners[c]!] === 0
    );
  }

  /** The stretches of a soft edge that remain, in the direction of one of its corners. */
  of(c: number): Stretch[] {
    const t = topologyOf(this.mesh);
    const own = t.edgeCorner[t.edge[c]!] === c;
    const [a, b] = [this.mesh.corners[c]!, this.mesh.corners[t.next[c]!]!];
    const list = this.onEdge.get(t.edge[c]!) ?? [];
    const way = own ? list : [...list].reverse();
    let from = a;
    let remains = this.begins.get(c) ?? this.state[a] !== 0;
    const out: Stretch[] = [];
    for (const x of way) {
      if (remains) out.push([from, x.node.id]);
      from = x.node.id;
      remains = own ? x.ahead : x.behind;
    }
    if (remains) out.push([from, b]);
    return out;
  }
}

/**
 * Whether a place of a ring lies left of a way that comes from one place and goes on to another: counter-clockwise from
 * where it goes to where it comes from.
 */
function leftOf(place: number, go: number, come: number): boolean {
  if (go < 0 || come < 0) return false;
  return go < come ? place > go && place < come : place > go || place < come;
}
