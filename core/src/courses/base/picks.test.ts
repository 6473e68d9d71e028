import { describe, expect, it } from 'vitest';
import { faceCount, flipMesh, meshFromFaces, topologyOf, vertexCount, type PolyMesh } from '../../mesh/index.ts';
import { box } from '../../shapes/index.ts';
import { type CutCourse, newProject, type Project, readProject } from '../document/document.ts';
import { addCourse, addCut, setCutter } from '../document/edit.ts';
import { addPart, duplicatePart, movePart } from '../document/parts.ts';
import { bodySizes, Evaluator } from '../evaluate/evaluate.ts';
import { ALL_SEAMS, everything, type PickedOn, pickOf, pickWords, resolvePick } from './picks.ts';
import { newShape } from './shapeSpec.ts';

/** A plate of 100 × 60 × 20 mm with a round hole through it. */
function plate(x = 0, segments = 32): Project {
  const shape = { ...newShape('box'), x: 100, y: 60, z: 20 } as ReturnType<typeof newShape>;
  const p = addPart(newProject('p', 'Plate'), 'Plate', shape);
  const hole = { ...newShape('cylinder'), diameter: 20, height: 40, segments } as ReturnType<typeof newShape>;
  return addCut(p, p.parts[0]!.id, { name: 'Hole', shape: hole, placement: { position: [x, 0, 0], turn: [0, 0, 0] } });
}
const made = (p: Project) => new Evaluator().evaluate(p.parts[0]!, () => undefined);
const sizes = (p: Project) => bodySizes(p.parts[0]!, () => undefined);
const rim = (m: PolyMesh): number[] => [...topologyOf(m).edgeCorner].filter((c) => m.layers.seam![c]! > 0);
const at = (m: PolyMesh, v: number) => [...m.positions.subarray(3 * v, 3 * v + 3)];

describe('picks', () => {
  const before = plate();
  const m = made(before).mesh;

  it('are found again in the same mesh, whatever they are', () => {
    const lists: [PickedOn, number[]][] = [
      ['vertex', Array.from({ length: vertexCount(m) }, (_, v) => v)],
      ['edge', [...topologyOf(m).edgeCorner]],
      ['face', Array.from({ length: faceCount(m) }, (_, f) => f)],
    ];
    for (const [on, ids] of lists) {
      const r = resolvePick(m, pickOf(m, on, ids, sizes(before)), sizes(before));
      expect([...r.ids]).toEqual([...ids].sort((a, b) => a - b));
      expect(r.lost).toEqual([]);
    }
  });

  it('name an edge by the faces beside it and those at its ends, whichever corner stands for it', () => {
    const t = topologyOf(m);
    const edge = rim(m)[3]!;
    const other = t.opposite[edge]!;
    const named = (c: number) => pickOf(m, 'edge', [c], sizes(before)) as { elements: { from: number[][] }[] };
    const [from] = named(edge).elements.map((e) => e.from);
    expect(named(other).elements[0]!.from).toEqual(from);
    const source = (c: number) => [...m.layers.source!.subarray(3 * t.face[c]!, 3 * t.face[c]! + 2)];
    expect(from![0]!.length).toBe(4);
    expect([from![0]!.slice(0, 2).join(), from![0]!.slice(2).join()].sort()).toEqual(
      [source(edge).join(), source(other).join()].sort(),
    );
    // Both ends, by the three faces that meet at each.
    expect(from!.slice(1).map((x) => x.length)).toEqual([6, 6]);
    expect(from![1]!.join() < from![2]!.join()).toBe(true);
  });

  it('follow a cutter that moves: every edge of the rim, every wall, every vertex', () => {
    const after = plate(8);
    const moved = made(after).mesh;
    const edges = resolvePick(moved, pickOf(m, 'edge', rim(m), sizes(before)), sizes(after));
    expect([...edges.ids].sort()).toEqual(rim(moved).sort());
    const vertices = [...new Set(rim(m).map((c) => m.corners[c]!))];
    for (const v of vertices) {
      const { ids } = resolvePick(moved, pickOf(m, 'vertex', [v], sizes(before)), sizes(after));
      const [x, y, z] = at(m, v);
      expect(at(moved, ids[0]!)).toEqual([expect.closeTo(x! + 8, 9), expect.closeTo(y!, 9), expect.closeTo(z!, 9)]);
    }
    const wall = m.corners.length && [...Array(faceCount(m)).keys()].filter((f) => m.layers.source![3 * f + 2] === 3);
    expect(wall).toHaveLength(32);
    expect(resolvePick(moved, pickOf(m, 'face', wall as number[], sizes(before)), sizes(after)).ids).toHaveLength(32);
  });

  it('find of a hole with 48 sides what stands where it stood with 32, and name the rest', () => {
    const after = plate(0, 48);
    const finer = made(after).mesh;
    const vertices = [...new Set(rim(m).map((c) => m.corners[c]!))];
    const r = resolvePick(finer, pickOf(m, 'vertex', vertices, sizes(before)), sizes(after));
    // Every second corner of 32 is every third of 48, on both rims.
    expect(r.ids).toHaveLength(32);
    expect(r.lost).toHaveLength(32);
    expect(r.of).toBe(64);
    const places = new Set(
      vertices.map((v) =>
        at(m, v)
          .map((x) => x.toFixed(6))
          .join(),
      ),
    );
    for (const v of r.ids)
      expect(
        places.has(
          at(finer, v)
            .map((x) => x.toFixed(6))
            .join(),
        ),
      ).toBe(true);
  });

  it('never take one element twice: of two that come to the same the one that stood there has it, the other is lost', () => {
    const bare = box(10, 10, 10);
    const top = pickOf(bare, 'face', [1]);
    if (top.by !== 'elements') throw new Error('a pick of elements was expected');
    const [element] = top.elements;
    const beside = {
      ...element!,
      at: [element!.at[0] + 1, element!.at[1], element!.at[2]] as [number, number, number],
    };
    // The one that moved is named first: it has to wait for the one that stayed.
    const r = resolvePick(bare, { ...top, elements: [beside, element!, element!] });
    expect([[...r.ids], r.each, r.lost, r.of]).toEqual([[1], [null, 1, null], [0, 2], 3]);
    expect(resolvePick(bare, { ...top, elements: [beside] }).each).toEqual([1]);
  });

  it('follow rules', () => {
    const count = (on: PickedOn, rule: object) => resolvePick(m, { on, ...rule } as never).ids.length;
    expect(count('edge', { by: 'seam', course: 3 })).toBe(64);
    expect(count('edge', { by: 'seam', course: 4 })).toBe(0);
    expect(count('edge', { by: 'outlines' })).toBe(64);
    expect(count('face', { by: 'walls', course: 3 })).toBe(32);
    // The twelve edges of the plate and both rims.
    expect(count('edge', { by: 'sharper', angle: 30 })).toBe(12 + 64);
    expect(count('face', { by: 'source', body: 1, face: 0 })).toBe(1);
    expect(count('face', { by: 'finding', rule: 'ngons' })).toBe(2);
    expect(count('vertex', { by: 'all' })).toBe(vertexCount(m));
  });

  it('have words', () => {
    expect(pickWords(pickOf(m, 'vertex', [0]))).toBe('1 vertex');
    expect(pickWords({ by: 'seam', on: 'edge', course: 3 }, () => 'Hole')).toBe('the seam of Hole');
    expect(pickWords(everything('face'))).toBe('all faces');
    expect(pickWords(ALL_SEAMS)).toBe('the seams of all cuts');
  });
});

describe('a stroke', () => {
  const turned = (p: Project, pick: unknown, way = 'flip') => addCourse(p, 2, 'orient', 'Turn', { way, pick });

  it('works on its pick, says what it did, and goes through a file', () => {
    const p = plate();
    const m = made(p).mesh;
    const q = readProject(JSON.parse(JSON.stringify(turned(p, pickOf(m, 'face', [0, 3], sizes(p))))));
    const r = made(q);
    expect(r.courses.at(-1)).toMatchObject({
      state: 'done',
      report: { found: 2, of: 2, lost: [], counts: { turned: 2 } },
    });
    expect([...r.mesh.corners]).toEqual([...flipMesh(m, (f) => f === 0 || f === 3).corners]);
    // All of it again, by another stroke on top.
    const again = made(addCourse(q, 2, 'orient', 'Agree', { way: 'consistent' }));
    expect([...again.mesh.corners]).toEqual([...m.corners]);
  });

  it('goes on with what is left of its pick, and says so; with nothing left it fails and the part stays', () => {
    const p = plate();
    const m = made(p).mesh;
    const walls = [...Array(faceCount(m)).keys()].filter((f) => m.layers.source![3 * f + 2] === 3);
    const q = turned(p, pickOf(m, 'face', [0, ...walls], sizes(p)));
    const cut = q.parts[0]!.courses[1] as CutCourse;
    const off = {
      ...q,
      parts: [{ ...q.parts[0]!, courses: q.parts[0]!.courses.map((c) => (c === cut ? { ...c, on: false } : c)) }],
    };
    expect(made(off).courses[2]!.report).toMatchObject({ found: 1, of: 33 });
    expect(made(off).courses[2]!.report.lost).toHaveLength(32);
    const none = turned(p, pickOf(m, 'face', walls, sizes(p)));
    const gone = made({
      ...none,
      parts: [{ ...none.parts[0]!, courses: none.parts[0]!.courses.map((c, i) => ({ ...c, on: i !== 1 })) }],
    });
    expect(gone.courses[2]!.error?.message).toContain('None of 32 faces picked were found');
    expect(gone.mesh.corners).toHaveLength(24);
  });

  it('keeps its picks in a copy of the part and when the part is moved', () => {
    const p = plate();
    const m = made(p).mesh;
    const rims = rim(m).map((c) => topologyOf(m).face[c]!);
    const q = turned(p, pickOf(m, 'face', rims, sizes(p)));
    const copy = duplicatePart(q, 2);
    const of = (project: Project, i: number) => new Evaluator().evaluate(project.parts[i]!, () => undefined);
    expect(of(copy, 1).courses[2]!.report).toMatchObject({ lost: [] });
    const far = movePart(copy, copy.parts[1]!.id, [500, 0, 0]);
    expect(of(far, 1).courses[2]!.report).toMatchObject({ lost: [], counts: of(q, 0).courses[2]!.report.counts });
    const hole = (far.parts[1]!.courses[1] as CutCourse).params.cutters[0]!;
    const slid = setCutter(far, far.parts[1]!.id, far.parts[1]!.courses[1]!.id, {
      ...hole,
      placement: { ...hole.placement, position: [508, 0, 0] },
    });
    expect(of(slid, 1).courses[2]!.report).toMatchObject({ lost: [] });
  });

  it('of a bare mesh is found by place', () => {
    const m = meshFromFaces([...box(10, 10, 10).positions], [[0, 1, 2]].concat([[2, 1, 3]]));
    expect([...resolvePick(m, pickOf(m, 'face', [1])).ids]).toEqual([1]);
  });
});
