import { WebIO } from '@gltf-transform/core';
import fc from 'fast-check';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import {
  areaAndVolume,
  bounds,
  faceCount,
  faceNormals,
  faceBoundaries,
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
import { Words } from './textBytes.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const plate = (): PolyMesh =>
  prism(
    {
      points: [
        [-10, -10],
        [10, -10],
        [10, 10],
        [-10, 10],
      ],
      holes: [circleOutline(3, 12), circleOutline(2, 8).map(([x, y]) => [x + 6, y + 6])],
    },
    4,
  );
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
    expect(faceBoundaries(back, 3)).toEqual(faceBoundaries(m, 3));
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
    expect(faceBoundaries(mesh, 0)).toEqual([[0, 1, 2, 3]]);
    expect(mesh.slots).toEqual(['A']);
    expect(warnings).toHaveLength(3);
  });

  it('faces may come before their vertices, with and without UVs and normals, mixed', () => {
    const { mesh, warnings } = readObj(
      bytes(
        'f 1 2 3\nf 1/1 3/2 4/3\nf 1//1 2//1 5//1\nf 2/1/1 3/2/1 5/3/1\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 0 0 1\nvt 0 0\nvt 1 0\nvt 1 1\nvn 0 0 1\n',
      ),
    );
    expect([faceCount(mesh), warnings]).toEqual([4, []]);
    expect(Array.from({ length: 4 }, (_, f) => faceBoundaries(mesh, f)[0])).toEqual([
      [0, 1, 2],
      [0, 2, 3],
      [0, 1, 4],
      [1, 2, 4],
    ]);
    expect([...mesh.layers.uv!.slice(6, 12)]).toEqual([0, 0, 1, 0, 1, 1]);
    // Faces without texture points have some all the same: none is at 0, 0 all over.
    expect(new Set(mesh.layers.uv!.slice(0, 6)).size).toBeGreaterThan(1);
  });

  it('a face with an index that leads to nothing is left out, counted and told', () => {
    const { mesh, warnings } = readObj(
      bytes(
        'v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nf 1 2 3\nf 1 2 9\nf 1 2 0\nf 1 2 -9\nf 1/7 2/1 3/1\nf 1 2 x\nf 1.5 2 3\n',
      ),
    );
    expect(faceCount(mesh)).toBe(1);
    expect(warnings).toEqual(['6 faces were left out whose indices lead to nothing; the first is in line 6.']);
  });

  it('a face of 200,000 corners is left out and told, or refused where there is no other', () => {
    const n = 200_000;
    const line = Array.from({ length: n }, (_, i) => `v ${i} ${i % 2} 0`).join('\n');
    const wide = `f ${Array.from({ length: n }, (_, i) => i + 1).join(' ')}`;
    expect(why(() => readObj(bytes(`${line}\n${wide}`))).message).toMatch(/too many corners \(line 200001\)/);
    const { mesh, warnings } = readObj(bytes(`${line}\n${wide}\nf 1 2 3`));
    expect([faceCount(mesh), warnings]).toEqual([1, ['1 face of over 5,000 corners was left out.']]);
  });

  it('takes groups as slots when there are no materials', () => {
    const { mesh } = readObj(bytes('v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\ng lid\nf 1 2 3\ng wall\nf 1 3 4'));
    expect(mesh.slots).toEqual(['lid', 'wall']);
    expect([...mesh.layers.slot!]).toEqual([0, 1]);
    // A name that comes again is the same slot.
    const again = readObj(bytes('v 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl a\nf 1 2 3\nusemtl b\nf 1 2 3\nusemtl a\nf 1 2 3'));
    expect([again.mesh.slots, [...again.mesh.layers.slot!]]).toEqual([
      ['a', 'b'],
      [0, 1, 0],
    ]);
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
    expect(why(() => readStl(bytes('solid wood and nothing else'))).message).toContain('neither');
    expect(
      why(() => readStl(bytes('solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0\nvertex 0 1 0\n')))
        .message,
    ).toContain('line 5');
    expect(why(() => readStl(bytes('solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\n'))).message).toContain(
      'cut off before its first triangle',
    );
  });

  const text = () => new TextDecoder().decode(writeStl(box(1, 2, 3), 'text'));

  it('a text file on one line is read as one on many', () => {
    const { mesh, warnings } = readStl(bytes(text().replace(/\n/g, ' ')));
    expect([faceCount(mesh), vertexCount(mesh), isClosed(mesh), warnings]).toEqual([12, 8, true, []]);
  });

  it('a text file that is cut off gives its whole triangles, and says so', () => {
    const lines = text().split('\n');
    // 1 line ahead, 7 a triangle: after 3 of them, and in the middle of the fourth.
    for (const [n, whole] of [
      [22, 3],
      [26, 3],
      [27, 4],
      [lines.length - 2, 12],
    ] as const) {
      const { mesh, warnings } = readStl(bytes(lines.slice(0, n).join('\n')));
      expect([faceCount(mesh), warnings], `${n} lines`).toEqual([
        whole,
        [expect.stringContaining(`: ${whole} whole triangles were read`)],
      ]);
    }
    const half = text().slice(0, text().lastIndexOf('vertex') + 9);
    expect(readStl(bytes(half)).warnings[0]).toMatch(/cut off at line \d+: 11 whole triangles/);
  });

  it('a binary file with bytes after its end, cut short or with a wrong count is read as far as it goes, and that is told', () => {
    const whole = writeStl(box(1, 2, 3));
    const longer = new Uint8Array(whole.length + 33);
    longer.set(whole);
    longer.fill(0xff, whole.length);
    const wrong = (n: number) => {
      const out = whole.slice();
      new DataView(out.buffer).setUint32(80, n, true);
      return out;
    };
    const cases: [Uint8Array, number, RegExp][] = [
      [longer, 12, /^33 bytes after the last triangle were passed over\.$/],
      [whole.subarray(0, 84 + 50 * 5 + 20), 5, /announces 12 triangles and has 5, which were read/],
      [wrong(7), 12, /announces 7 triangles and has 12/],
      [wrong(0), 12, /announces 0 triangles and has 12/],
      [wrong(4e9), 12, /has 12/],
    ];
    for (const [data, n, says] of cases) {
      const { mesh, warnings } = readStl(data);
      expect(faceCount(mesh)).toBe(n);
      expect(warnings[0]).toMatch(says);
    }
    expect(why(() => readStl(whole.subarray(0, 90))).message).toContain('ends before the first one');
    const nan = whole.slice();
    new DataView(nan.buffer).setFloat32(84 + 50 + 12, NaN, true);
    expect(why(() => readStl(nan)).message).toContain('triangle 2');
  });

  it('its normals look outward, binary and text', () => {
    const outward = (n: number[], p: number[]) => n[0]! * p[0]! + n[1]! * p[1]! + n[2]! * p[2]!;
    const data = writeStl(box(2, 2, 2));
    const view = new DataView(data.buffer);
    for (let t = 0; t < 12; t++) {
      const three = (at: number) => [0, 1, 2].map((k) => view.getFloat32(84 + 50 * t + at + 4 * k, true));
      expect(outward(three(0), three(12))).toBe(1);
    }
    const rows = new TextDecoder().decode(writeStl(box(2, 2, 2), 'text')).split('\n');
    const normals = rows.filter((r) => r.startsWith('facet')).map((r) => r.split(' ').slice(2).map(Number));
    const first = rows.flatMap((r, i) => (r === 'outer loop' ? [rows[i + 1]!.split(' ').slice(1).map(Number)] : []));
    normals.forEach((n, i) => expect(outward(n, first[i]!)).toBe(1));
  });
});

describe('texts as they come', () => {
  const OBJ = 'v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf 1 2 3 4\n';
  const utf16 = (text: string, little: boolean, mark: boolean) => {
    const out = new Uint8Array(2 * text.length + (mark ? 2 : 0));
    const view = new DataView(out.buffer);
    [...(mark ? ['\ufeff'] : []), ...text].forEach((c, i) => view.setUint16(2 * i, c.charCodeAt(0), little));
    return out;
  };
  it('UTF-16 with and without a mark, and UTF-8 with one', () => {
    for (const little of [true, false])
      for (const mark of [true, false]) {
        expect(faceCount(readObj(utf16(OBJ, little, mark)).mesh)).toBe(1);
        expect(
          faceCount(readStl(utf16(new TextDecoder().decode(writeStl(box(1, 1, 1), 'text')), little, mark)).mesh),
        ).toBe(12);
      }
    expect(faceCount(readObj(bytes(`\ufeff${OBJ}`)).mesh)).toBe(1);
  });

  it('numbers are read as exactly as the language reads them', () => {
    const number = fc.oneof(
      fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e12, max: 1e12 }).map(String),
      fc.integer().map((n) => `${n}.`),
      fc.tuple(fc.bigInt({ min: 0n, max: 10n ** 25n }), fc.integer({ min: -40, max: 5 })).map(([m, e]) => `${m}e${e}`),
      fc.constantFrom('.5', '-.5', '+1', '1e', '1e+', '--1', '1.2.3', '', 'e5', '0x10', '1_0', 'Infinity', '-0'),
    );
    fc.assert(
      fc.property(number, (text) => {
        const w = new Words(bytes(`${text} 7`), false);
        const x = w.word() && text ? w.number() : NaN;
        expect(x).toBe(text === '0x10' || !text.trim() ? x : Number(text));
        if (text) expect(w.word() && w.number()).toBe(7);
      }),
      { numRuns: 3000 },
    );
  });
});

it('GLB: texture coordinates count downward from the top, as its standard has it', async () => {
  const m = box(2, 2, 2);
  const uv = Float64Array.from({ length: 48 }, (_, i) => (i % 2 ? 0.25 : 0.5 + i / 1000));
  const data = await exportParts([{ name: 'Box', mesh: { ...m, layers: { uv } } }], {
    format: 'glb',
    unit: 'm',
    up: 'y',
  });
  const [primitive] = (await new WebIO().readBinary(data)).getRoot().listMeshes()[0]!.listPrimitives();
  const t = primitive!.getAttribute('TEXCOORD_0')!;
  for (let i = 0; i < t.getCount(); i++) {
    const [u, v] = t.getElement(i, [0, 0]) as [number, number];
    expect(v).toBeCloseTo(0.75, 6);
    expect(u).toBeGreaterThan(0.49);
  }
});

it('a packed mesh whose boundaries do not follow each other is refused', () => {
  const whole = packMesh(cylinder(4, 6, 8));
  expect(faceCount(unpackMesh(whole))).toBe(10);
  const head = new DataView(whole.buffer).getUint32(4, true);
  const at = Math.ceil((8 + head) / 8) * 8 + 8 * 48;
  for (const [entry, value] of [
    [1, 5],
    [2, 0],
    [0, 1],
    [10, 9],
  ] as const) {
    const broken = whole.slice();
    new DataView(broken.buffer).setInt32(at + 4 * entry, value, true);
    expect(why(() => unpackMesh(broken)).message, `${entry}`).toMatch(
      /A mesh in it is damaged.*do not follow each other/,
    );
  }
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

it('GLB: each slot of a part is a primitive of its own faces, and of no others', async () => {
  // Two sides of a box are steel, the other four are not.
  const m = withSlot(box(2, 4, 6), 'Body');
  const steel = (f: number) => Math.abs(faceNormals(m)[3 * f]!) > 0.5;
  const slot = Int32Array.from({ length: 6 }, (_, f) => (steel(f) ? 1 : 0));
  const two: PolyMesh = { ...m, slots: ['Body', 'Steel'], layers: { ...m.layers, slot } };
  const primitives = (await new WebIO().readBinary(await writeGlb([{ name: 'Box', mesh: two }])))
    .getRoot()
    .listMeshes()[0]!
    .listPrimitives();
  const told = primitives.map((p) => {
    const normal = p.getAttribute('NORMAL')!;
    const ways = Array.from({ length: normal.getCount() }, (_, i) => Math.abs(normal.getElement(i, [])[0]!) > 0.5);
    return [p.getMaterial()!.getName(), p.getIndices()!.getCount(), ways.every(Boolean), ways.some(Boolean)];
  });
  expect(told).toEqual([
    ['Body', 4 * 6, false, false],
    ['Steel', 2 * 6, true, true],
  ]);
});

it('GLB: slots look as they were set, in linear light', async () => {
  const looks = [{ slot: 'Brass', colour: '#ff8000', roughness: 0.25, metal: 1, opacity: 0.5 }];
  const parts = ['Brass', 'Body'].map((slot) => ({ name: slot, mesh: withSlot(plate(), slot) }));
  const data = await exportParts(parts, { format: 'glb', unit: 'm', up: 'y' }, looks);
  const [brass, body] = (await new WebIO().readBinary(data)).getRoot().listMaterials();
  expect(brass!.getBaseColorFactor().map((x) => +x.toFixed(4))).toEqual([1, 0.2159, 0, 0.5]);
  expect([brass!.getRoughnessFactor(), brass!.getMetallicFactor(), brass!.getAlphaMode()]).toEqual([0.25, 1, 'BLEND']);
  // The usual limestone: #d8ccba.
  expect(body!.getBaseColorFactor().map((x) => +x.toFixed(4))).toEqual([0.6867, 0.6038, 0.491, 1]);
  expect([body!.getRoughnessFactor(), body!.getMetallicFactor(), body!.getAlphaMode()]).toEqual([0.8, 0, 'OPAQUE']);
  expect([brass!.getName(), body!.getName()]).toEqual(['Brass', 'Body']);
});

it('export: unit and up-axis are those asked for', async () => {
  const m = prism(
    {
      points: [
        [0, 0],
        [50.8, 0],
        [0, 25.4],
      ],
    },
    254,
  );
  const data = await exportParts([{ name: 'P', mesh: m }], { format: 'obj', unit: 'in', up: 'y' });
  const b = bounds(readMesh('p.obj', data).mesh);
  [
    [0, 2],
    [-5, 5],
    [-1, 0],
  ].forEach(([low, high], k) => {
    expect(b.min[k]).toBeCloseTo(low!, 12);
    expect(b.max[k]).toBeCloseTo(high!, 12);
  });
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

  it('has no picture where there is none', () => {
    const file = writeProjectFile({ document: {}, meshes: new Map() });
    expect(Object.keys(unzipSync(file))).toEqual(['project.json']);
    expect(readProjectFile(file).thumbnail).toBe(undefined);
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
    expect(why(() => unpackMesh(packed.subarray(0, packed.length - 64))).message).toContain(
      `cut short (at byte ${packed.length - 64})`,
    );
  });
});
