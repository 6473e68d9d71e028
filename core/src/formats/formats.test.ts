import { WebIO } from '@gltf-transform/core';
import fc from 'fast-check';
import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import {
  areaAndVolume,
  bounds,
  faceCount,
  faceOutlines,
  isClosed,
  loopCount,
  MasonError,
  vertexCount,
  withSlot,
  type PolyMesh,
} from '../mesh/index.ts';
import { box, circleOutline, cylinder, prism } from '../shapes/index.ts';
import {
  exportParts,
  meshHash,
  packMesh,
  readMesh,
  readObj,
  readProjectFile,
  readStl,
  unpackMesh,
  writeGlb,
  writeObj,
  writeProjectFile,
  writeStl,
} from './index.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const plate = (): PolyMesh =>
  prism({ points: [[-10, -10], [10, -10], [10, 10], [-10, 10]], holes: [circleOutline(3, 12), circleOutline(2, 8).map(([x, y]) => [x + 6, y + 6])] }, 4); // prettier-ignore
const why = (run: () => unknown): MasonError => {
  try {
    run();
  } catch (e) {
    if (e instanceof MasonError) return e;
    throw e;
  }
  throw new Error('nothing was thrown');
};

/** Six times the volume of the tetrahedron from the origin. */
const det3 = (a: number[], b: number[], c: number[]): number =>
  [0, 1, 2].reduce((n, k) => n + a[k]! * (b[(k + 1) % 3]! * c[(k + 2) % 3]! - b[(k + 2) % 3]! * c[(k + 1) % 3]!), 0);

describe('OBJ', () => {
  it('goes out and comes back with polygons, slots and UVs', () => {
    const uv = Float64Array.from({ length: 48 }, (_, i) => i / 7);
    const m = withSlot({ ...box(3, 4, 5), layers: { uv } }, 'Steel plate');
    const back = readObj(bytes(writeObj([{ name: 'Block', mesh: m }]))).mesh;
    expect(faceOutlines(back, 3)).toEqual(faceOutlines(m, 3));
    expect([...back.positions]).toEqual([...m.positions]);
    expect([...back.layers.uv!]).toEqual([...uv]);
    expect(back.slots).toEqual(['Steel plate']);
  });

  it('ties faces with holes, and stays closed with the same volume', () => {
    const m = plate();
    const back = readObj(bytes(writeObj([{ name: 'Plate', mesh: m }]))).mesh;
    expect(loopCount(back)).toBe(faceCount(back));
    expect(vertexCount(back)).toBe(vertexCount(m));
    expect(isClosed(back)).toBe(true);
    expect(areaAndVolume(back).volume / areaAndVolume(m).volume).toBeCloseTo(1, 12);
  });

  it('reads negative indices, both line endings, comments and continued lines', () => {
    const { mesh, warnings } = readObj(
      bytes(
        '# made up\r\nmtllib ../../etc/x.mtl\nv 0 0 0\rv 1 0 0\nv 1 1 \\\n0\nv 0 1 0 # end\nusemtl A\nf -4 -3 -2 -1\nl 1 2\nf 1 1 2\n',
      ),
    );
    expect(faceOutlines(mesh, 0)).toEqual([[0, 1, 2, 3]]);
    expect(mesh.slots).toEqual(['A']);
    expect(warnings).toHaveLength(3);
  });

  it('takes groups as slots when there are no materials', () => {
    const { mesh } = readObj(bytes('v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\ng lid\nf 1 2 3\ng wall\nf 1 3 4'));
    expect(mesh.slots).toEqual(['lid', 'wall']);
    expect([...mesh.layers.slot!]).toEqual([0, 1]);
  });

  it.each([
    ['v 0 0\nf 1 2 3', 'line 1'],
    ['v 0 0 x', 'line 1'],
    ['v 0 0 1e99', 'line 1'],
    ['v 0 0 0\nf 1 2 3', 'line 2'],
    ['v 0 0 0\nf 0 1 1', 'line 2'],
    ['v 0 0 0', 'begin with f'],
    ['PNG\nIHDR', 'line 1'],
    ['', ''],
  ])('refuses %j and says where', (text, where) => {
    const e = why(() => readObj(bytes(text)));
    expect(e.code).toBe('bad-file');
    expect(e.message).toContain(where);
  });

  it('never throws anything but a MasonError on random lines', () => {
    const word = fc.constantFrom(
      'v',
      'f',
      'vt',
      '1',
      '-1',
      '0',
      '1/1',
      '1//1',
      '//',
      'usemtl',
      'g',
      '9e9',
      'NaN',
      '\\',
      '#',
      '',
    );
    fc.assert(
      fc.property(fc.array(fc.array(word, { maxLength: 6 }), { maxLength: 12 }), (lines) => {
        try {
          expect(faceCount(readObj(bytes(lines.map((l) => l.join(' ')).join('\n'))).mesh)).toBeGreaterThan(0);
        } catch (e) {
          expect(e).toBeInstanceOf(MasonError);
        }
      }),
    );
  });
});

describe('STL', () => {
  it.each(['binary', 'text'] as const)('goes out %s and comes back welded and closed', (kind) => {
    const m = cylinder(4, 6, 16);
    const back = readStl(writeStl(m, kind)).mesh;
    expect([vertexCount(back), faceCount(back), isClosed(back)]).toEqual([32, 60, true]);
    expect(areaAndVolume(back).volume / areaAndVolume(m).volume).toBeCloseTo(1, kind === 'text' ? 12 : 6);
  });

  it('a face with holes stays closed as triangles', () => {
    expect(isClosed(readStl(writeStl(plate())).mesh)).toBe(true);
  });

  it('tells text from binary by content, also when a binary file begins with "solid"', () => {
    const data = writeStl(box(1, 1, 1));
    data.set(bytes('solid facet'), 0);
    expect(faceCount(readStl(data).mesh)).toBe(12);
    expect(why(() => readStl(data.subarray(0, 300))).message).toContain('ends too soon');
    expect(why(() => readStl(bytes('solid wood and nothing else'))).message).toContain('neither');
    expect(
      why(() => readStl(bytes('solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0\n'))).message,
    ).toContain('line 5');
    expect(why(() => readStl(bytes('solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\n'))).message).toContain(
      'not finished',
    );
  });
});

it('GLB: triangles of each slot, metres and y up, the same volume', async () => {
  const data = await exportParts([{ name: 'Plate', mesh: plate() }], { format: 'glb', unit: 'm', up: 'y' });
  const doc = await new WebIO().readBinary(data);
  const [primitive] = doc.getRoot().listMeshes()[0]!.listPrimitives();
  const p = primitive!.getAttribute('POSITION')!;
  const index = primitive!.getIndices()!.getArray()!;
  let volume = 0;
  for (let i = 0; i < index.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => p.getElement(index[i + k]!, []) as number[]);
    volume += det3(a!, b!, c!) / 6;
  }
  expect((volume * 1e9) / areaAndVolume(plate()).volume).toBeCloseTo(1, 5);
  expect(p.getMax([])[1]).toBeCloseTo(0.002, 8);
  expect((await writeGlb([])).length).toBeGreaterThan(20);
});

it('GLB: slots look as they were set, in linear light', async () => {
  const looks = [{ slot: 'Brass', colour: '#ff8000', roughness: 0.25, metal: 1, opacity: 0.5 }];
  const parts = ['Brass', 'Body'].map((slot) => ({ name: slot, mesh: withSlot(plate(), slot) }));
  const data = await exportParts(parts, { format: 'glb', unit: 'm', up: 'y' }, looks);
  const [brass, body] = (await new WebIO().readBinary(data)).getRoot().listMaterials();
  expect(brass!.getBaseColorFactor().map((x) => +x.toFixed(4))).toEqual([1, 0.2159, 0, 0.5]);
  expect([brass!.getRoughnessFactor(), brass!.getMetallicFactor(), brass!.getAlphaMode()]).toEqual([0.25, 1, 'BLEND']);
  expect([body!.getBaseColorFactor()[3], body!.getMetallicFactor(), body!.getAlphaMode()]).toEqual([1, 0, 'OPAQUE']);
});

it('export: unit and up-axis are those asked for', async () => {
  const m = prism({ points: [[0, 0], [50.8, 0], [0, 25.4]] }, 254); // prettier-ignore
  const data = await exportParts([{ name: 'P', mesh: m }], { format: 'obj', unit: 'in', up: 'y' });
  const b = bounds(readMesh('p.obj', data).mesh);
  [[0, 2], [-5, 5], [-1, 0]].forEach(([low, high], k) => {
    expect(b.min[k]).toBeCloseTo(low!, 12);
    expect(b.max[k]).toBeCloseTo(high!, 12);
  }); // prettier-ignore
  expect(why(() => readMesh('p.exe', data)).message).toContain('.obj and .stl');
});

describe('project file', () => {
  it('goes out and comes back, meshes bit for bit', () => {
    const m = withSlot(plate(), 'Ä');
    const hash = meshHash(m);
    const file = writeProjectFile({
      document: { a: [1, 'ü'] },
      meshes: new Map([[hash, m]]),
      thumbnail: new Uint8Array([1, 2]),
    });
    const back = readProjectFile(file);
    expect(back.document).toEqual({ a: [1, 'ü'] });
    expect(back.meshes.get(hash)).toEqual(m);
    expect([...back.thumbnail!]).toEqual([1, 2]);
    expect(
      writeProjectFile({ document: { a: [1, 'ü'] }, meshes: new Map([[hash, m]]), thumbnail: new Uint8Array([1, 2]) }),
    ).toEqual(file);
  });

  it('passes over strange names and refuses what is no project', () => {
    const odd = zipSync({
      '../../evil': strToU8('x'),
      '__proto__/a': strToU8('x'),
      'project.json': strToU8('{"__proto__":{"bad":1}}'),
    });
    expect(readProjectFile(odd).meshes.size).toBe(0);
    expect(({} as Record<string, unknown>).bad).toBe(undefined);
    expect(why(() => readProjectFile(zipSync({ a: strToU8('x') }))).message).toContain('not a project');
    expect(why(() => readProjectFile(zipSync({ 'project.json': strToU8('{') }))).message).toContain('cannot be read');
    expect(why(() => readProjectFile(bytes('PK nothing'))).code).toBe('bad-file');
  });

  it('a damaged mesh in it is refused, wherever it is damaged', () => {
    const packed = packMesh(plate());
    fc.assert(
      fc.property(fc.nat(packed.length - 1), fc.nat(255), (i, x) => {
        const data = packed.slice();
        data[i] = x;
        try {
          const m = unpackMesh(data);
          expect(m.corners.every((v) => v >= 0 && v < vertexCount(m))).toBe(true);
        } catch (e) {
          expect(e).toBeInstanceOf(MasonError);
        }
      }),
      { numRuns: 300 },
    );
    expect(why(() => unpackMesh(packed.subarray(0, packed.length - 64))).message).toContain('cut short');
  });
});
