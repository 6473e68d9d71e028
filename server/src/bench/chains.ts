import { carve, checkSheet, checkSolid, isOpen, OPERATIONS } from '@dusky-mason/core/carve';
import { bevel, bevelHeadroom, sharpEdges, subdivide, type BevelWish } from '@dusky-mason/core/dress';
import { packMesh, readObj, readStl, unpackMesh, writeObj, writeStl } from '@dusky-mason/core/formats';
import { seamEdges, seamVertices, tidy, toQuads } from '@dusky-mason/core/mend';
import {
  areaAndVolume,
  faceBegin,
  faceCount,
  faceEnd,
  MasonError,
  OPEN,
  sizeOf,
  topologyOf,
  vertexCount,
  vertexPlace,
  type PolyMesh,
  pairsThatMeet,
} from '@dusky-mason/core/mesh';
import { cylinder, randomTurn, seededRandom, sheet } from '@dusky-mason/core/shapes';
import { ownBodies, placed, realBodies } from './bodies.ts';

/** One segment, as an everyday bevel has. */
const BEVEL: BevelWish = { width: 1, measure: 'offset', segments: 1, profile: 1, past: 'stop' };
/** Edges that turn by more are bevelled, degrees. */
const SHARP = 30;
/** A step that takes longer than this is too slow, ms for a thousand faces, and in any case ms. */
const [SLOW_EACH, SLOW] = [1000, 5000];
/** Volumes agree to this share: written as text of all digits, or as 32-bit numbers. */
const [SAME, SAME_IN_STL] = [1e-9, 1e-4];

/** Quads over facets of a bent surface leave it: a small body changes its volume by so much of it. */
const QUADS_DRIFT = 0.02;

type Outcome = 'ok' | 'refused' | 'wrong' | 'slow' | 'nothing';

/**
 * `npm run suite -- chains [chains] [seed]`: random chains on real bodies and on our own, as a modeller goes them: cut,
 * write and read, cut again, tidy, quads, a bevel at half the headroom, a subdivision. After each step the mesh must be
 * as closed as it was, fit to be cut, uncrossed, and of the volume that it must have.
 */
export function chainsSuite(chains: number, seed: number): void {
  const random = seededRandom(seed);
  const bodies = [
    ...realBodies().filter((b) => faceCount(b.mesh) < 6000),
    ...ownBodies(),
    { name: 'sheet', mesh: sheet(100, 80, [8, 6]), bent: false },
  ];
  const steps = new Map<string, Record<Outcome, number>>();
  const one = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  console.log(`seed ${seed}; ${bodies.length} bodies`);
  let whole = 0;
  for (let n = 0; n < chains; n++) {
    const body = one(bodies);
    let label = `${n} ${body.name}`;
    let mesh = placed(body.mesh, randomTurn(random), 1, [0, 0, 0]);
    const open = topologyOf(mesh).opposite.includes(OPEN);
    const cutter = (): PolyMesh => {
      const c = random() < 0.4 ? cylinder(50, 300, 24) : one(bodies.filter((b) => b.name !== 'sheet')).mesh;
      const size = 0.15 + 0.5 * random();
      const at = vertexPlace(mesh, Math.floor(random() * vertexCount(mesh)));
      return placed(
        c,
        randomTurn(random),
        size,
        at.map((x) => x + 30 * size * (random() - 0.5)),
      );
    };
    /** One step: what it makes of the mesh, and whether its volume is right; false ends the chain. */
    const step = (name: string, make: () => PolyMesh, volume?: (after: number, before: number) => string): boolean => {
      const row = steps.get(name) ?? { ok: 0, refused: 0, wrong: 0, slow: 0, nothing: 0 };
      steps.set(name, row);
      const faces = faceCount(mesh);
      const t0 = performance.now();
      const tell = (outcome: Outcome, why: string): boolean => {
        row[outcome]++;
        if (outcome !== 'nothing') console.log(`  ${label}: ${name} ${outcome}: ${why}`);
        return false;
      };
      let after: PolyMesh;
      try {
        after = make();
      } catch (e) {
        if (!(e instanceof MasonError)) throw e;
        return tell(e.code === 'bad-input' ? 'nothing' : 'refused', e.message);
      }
      const ms = performance.now() - t0;
      const [was, is] = [areaAndVolume(mesh).volume, areaAndVolume(after).volume];
      // A copy is looked at: what our own steps made is taken on trust.
      const copy: PolyMesh = { ...after };
      try {
        if (open) checkSheet(copy, 'It');
        else checkSolid(copy, 'It');
      } catch (e) {
        return tell('wrong', e instanceof Error ? e.message : String(e));
      }
      const met = pairsThatMeet(copy, { most: 1 });
      if (met.length) return tell('wrong', `faces ${met[0]!.join(' and ')} meet`);
      const off = !open && volume?.(is, was);
      if (off) return tell('wrong', off);
      if (ms > Math.max(SLOW, (SLOW_EACH * Math.max(faces, faceCount(after))) / 1000))
        tell('slow', `${(ms / 1000).toFixed(1)} s on ${faces} faces`);
      else row.ok++;
      mesh = after;
      return true;
    };
    const same = (share: number) => (is: number, was: number) =>
      Math.abs(is - was) <= share * Math.abs(was) ? '' : `volume ${is.toPrecision(9)} instead of ${was.toPrecision(9)}`;
    const cut = (): boolean => {
      const operation = open ? 'subtract' : one(OPERATIONS);
      const c = cutter();
      label += ` ${operation}`;
      return step('cut', () => carve(mesh, { cutters: [c], operation, course: 2 }).mesh);
    };
    const near = (m: PolyMesh): ((f: number) => boolean) => {
      const on = seamVertices(m);
      return (f) => {
        for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) if (on[m.corners[c]!]) return true;
        return false;
      };
    };
    const done =
      cut() &&
      step('OBJ', () => fromObj(mesh), same(SAME)) &&
      cut() &&
      step('project file', () => unpackMesh(packMesh(mesh)), same(SAME)) &&
      (open || faceCount(mesh) > 4000 || step('STL and back', () => (fromStl(mesh), mesh))) &&
      step('tidy', () => tidy(mesh, { wanted: () => true, tolerance: 0 }).mesh, same(1e-3)) &&
      step('quads', () => toQuads(mesh, { wanted: near(mesh) }).mesh, same(QUADS_DRIFT)) &&
      bevelled() &&
      step('subdivision', () => subdivide(mesh, { levels: 1 }).mesh);
    if (done) whole++;

    function bevelled(): boolean {
      const t = topologyOf(mesh);
      const seam = new Set(seamEdges(mesh).map((c) => t.edge[c]!));
      const edges = sharpEdges(mesh, SHARP).filter((e) => seam.has(e));
      if (!edges.length) return true;
      return step('bevel', () => {
        const [least] = bevelHeadroom(mesh, edges, BEVEL, undefined, 'least');
        const room = Math.min(least!.headroom, sizeOf(mesh) / 10);
        if (!(room > 1e-6 * sizeOf(mesh))) throw new MasonError('not-done', `no room: ${room}`);
        return bevel(mesh, { edges, ...BEVEL, width: room / 2 }).mesh;
      });
    }
  }
  console.log(`chains: ${chains}, ${whole} gone to the end`);
  console.table(Object.fromEntries(steps));
}

const fromObj = (m: PolyMesh): PolyMesh =>
  readObj(new TextEncoder().encode(writeObj([{ name: 'part', mesh: m }]))).mesh;

/** Written and read as STL: closed, and of the same volume but for 32-bit numbers; else an error. */
function fromStl(m: PolyMesh): void {
  const read = readStl(writeStl(m)).mesh;
  if (isOpen(read)) throw new MasonError('not-done', 'open when read from STL');
  const [a, b] = [areaAndVolume(m).volume, areaAndVolume(read).volume];
  if (Math.abs(a - b) > SAME_IN_STL * Math.abs(a)) throw new MasonError('not-done', `STL has volume ${b}, not ${a}`);
  checkSolid(read, 'It');
}
