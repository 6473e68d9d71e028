import { describe, expect, it } from 'vitest';
import { faceCount, MasonError, transformMesh, vertexCount } from '../mesh/index.ts';
import { ballFromRings, box } from '../shapes/index.ts';
import { readMesh, readObj, readStl, writeObj, writeStl } from './index.ts';
import { checkCount, checkSize, MOST_BYTES, MOST_ELEMENTS } from './limits.ts';
import { Words } from './textBytes.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const message = (run: () => unknown): string => {
  try {
    run();
  } catch (e) {
    return e instanceof MasonError ? `${e.code}: ${e.message}` : String(e);
  }
  return 'nothing was thrown';
};

describe('limits of what is read', () => {
  it('as many elements as may be pass, one more is refused by its name', () => {
    expect(message(() => checkCount(MOST_ELEMENTS, 'faces'))).toBe('nothing was thrown');
    expect(message(() => checkCount(MOST_ELEMENTS + 1, 'faces'))).toBe(
      `bad-file: The file has over ${MOST_ELEMENTS} faces. Nothing was read from this file.`,
    );
  });

  it('an empty file and one that is too large are refused by their size', () => {
    const sized = (length: number) => ({ length }) as Uint8Array;
    expect(message(() => checkSize(sized(0)))).toBe('bad-file: The file is empty. Nothing was read from this file.');
    expect(message(() => checkSize(sized(MOST_BYTES)))).toBe('nothing was thrown');
    expect(message(() => checkSize(sized(MOST_BYTES + 2 ** 20)))).toBe(
      'bad-file: The file has 513 MB, more than the 512 MB that are read. Nothing was read from this file.',
    );
  });

  it('an STL is binary unless text is asked for', () => {
    expect(writeStl(box(1, 2, 3))).toEqual(writeStl(box(1, 2, 3), 'binary'));
    expect(writeStl(box(1, 2, 3)).length).toBe(84 + 12 * 50);
    expect(new TextDecoder().decode(writeStl(box(1, 2, 3), 'text').subarray(0, 5))).toBe('solid');
  });

  it('of a binary STL what is there counts, not what it announces', () => {
    const data = writeStl(box(1, 2, 3));
    new DataView(data.buffer).setUint32(80, MOST_ELEMENTS + 5, true);
    expect(readStl(data).warnings).toEqual(['The file announces 20,000,005 triangles and has 12, which were read.']);
  });
});

describe('what follows the announced triangles of a binary STL', () => {
  /** Twelve triangles, of which some are announced, with a number of the last changed. */
  const file = (announced: number, last: number, k = 8): Uint8Array => {
    const data = writeStl(box(1, 2, 3));
    const view = new DataView(data.buffer);
    view.setUint32(80, announced, true);
    view.setFloat32(84 + 50 * 11 + 12 + 4 * k, last, true);
    return data;
  };

  it('is read as triangles when every number of it could be a coordinate', () => {
    expect(faceCount(readStl(file(4, 0.25)).mesh)).toBe(12);
    // The largest that may be, as 32 bits hold it, and the first beyond it.
    expect(readStl(file(4, 999999995904)).warnings).toEqual([
      'The file announces 4 triangles and has 12, which were read.',
    ]);
  });

  it.each([
    ['none', NaN, 8],
    ['beyond all measure', 1.1e12, 0],
    ['beyond all measure below 0', -1.1e12, 4],
    ['without end', Infinity, 5],
  ])('is passed over when one of them is %s', (_what, x, k) => {
    const { mesh, warnings } = readStl(file(4, x, k));
    expect(faceCount(mesh)).toBe(4);
    expect(warnings).toEqual(['400 bytes after the last triangle were passed over.']);
  });

  it('loses its triangles without area, and says so', () => {
    const sound = box(2, 2, 2);
    const file = writeStl(sound);
    const three = (n: number) => new DataView(file.buffer, file.byteOffset + 84 + 50 * n);
    // The third vertex of two facets becomes their second.
    for (const n of [3, 7]) for (let k = 0; k < 12; k++) three(n).setUint8(36 + k, three(n).getUint8(24 + k));
    const { mesh, warnings } = readStl(file);
    expect([faceCount(mesh), mesh.corners.length, mesh.loopStart.at(-1)]).toEqual([10, 30, 30]);
    expect(warnings).toEqual(['2 triangles without area were left out.']);
    expect(readStl(writeStl(sound)).mesh.corners.length).toBe(36);
  });

  it('a file is told by the ending of its name', () => {
    expect(message(() => readMesh('part', bytes('v 0 0 0')))).toContain('Files ending in "." are not read');
    expect(message(() => readMesh('part.obj.bak', bytes('v 0 0 0')))).toContain('Files ending in ".bak" are not read');
    expect(readMesh('a.b.OBJ', bytes('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3')).mesh.corners.length).toBe(3);
  });

  it('its zeros have no sign, so that places that are one are joined', () => {
    const data = writeStl(box(2, 2, 2));
    const view = new DataView(data.buffer);
    for (let t = 0; t < 12; t++)
      for (let i = 0; i < 9; i++) view.setFloat32(84 + 50 * t + 12 + 4 * i, (t % 2 ? -0 : 0) + i + 9 * t, true);
    for (const t of [0, 1]) view.setFloat32(84 + 50 * t + 12, t ? -0 : 0, true);
    for (const t of [0, 1]) for (const k of [1, 2]) view.setFloat32(84 + 50 * t + 12 + 4 * k, 0, true);
    const { mesh } = readStl(data);
    expect(vertexCount(mesh)).toBe(3 * 12 - 1);
    expect([...mesh.positions].some((x) => Object.is(x, -0))).toBe(false);
  });
});

describe('progress and cancel', () => {
  const ball = ballFromRings(10, 300, 200);
  const text = writeStl(ball, 'text');
  const files: [string, Uint8Array][] = [
    ['a.stl', writeStl(ball)],
    ['text.stl', text],
    ['a.obj', bytes(String(writeObj([{ name: 'a', mesh: ball }])))],
  ];

  it.each(files)('%s: told in shares that rise from 0 to 1, with words', (name, data) => {
    const told: { share: number; stage: string }[] = [];
    readMesh(name, data, { progress: (share, stage) => told.push({ share, stage }) });
    expect(told.length).toBeGreaterThan(1);
    for (let i = 0; i < told.length; i++) {
      expect(told[i]!.share).toBeGreaterThanOrEqual(i ? told[i - 1]!.share : 0);
      expect(told[i]!.share).toBeLessThanOrEqual(1);
      expect(told[i]!.stage).toMatch(/^[a-z ]+$/);
    }
    expect(told[0]!.stage).toBe('reading');
    // Half of the file is no small part of the work.
    expect(told.filter((t) => t.stage === 'reading').at(-1)!.share).toBeGreaterThan(0.1);
  });

  it.each(files)('%s: a reading that is cancelled ends, also without anyone to tell', (name, data) => {
    expect(message(() => readMesh(name, data, { signal: { aborted: true } }))).toMatch(/^cancelled/);
    expect(faceCount(readMesh(name, data).mesh)).toBeGreaterThan(0);
    expect(faceCount(readMesh(name, data, {}).mesh)).toBeGreaterThan(0);
  });
});

describe('what an OBJ has that no mesh can', () => {
  it('is left out, counted and told', () => {
    const corners = 'v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\n';
    const { mesh, warnings } = readObj(bytes(`${corners}f 1 2 3 4\nf 1 2 2 3\nf 1 2\nf 3\nl 1 2\np 1\nf 1 2 99\n`));
    expect(faceCount(mesh)).toBe(2);
    expect(warnings).toEqual([
      '2 lines, points or curves were left out.',
      '1 face was left out whose indices lead to nothing, in line 11.',
      '1 doubled corner was dropped.',
      '2 faces of under three corners were left out.',
    ]);
  });
});

describe('an OBJ of several parts', () => {
  it('counts places, UVs and normals on from part to part: each corner has its own', () => {
    const far = (x: number) => transformMesh(box(2, 4, 6), [1, 0, 0, x, 0, 1, 0, 0, 0, 0, 1, 0]);
    const parts = [0, 10, 20].map((x) => ({ name: `at ${x}`, mesh: far(x) }));
    const rows = String(writeObj(parts))
      .split('\n')
      .map((row) => row.trim().split(' '));
    const of = (kind: string) => rows.filter((r) => r[0] === kind).map((r) => r.slice(1).map(Number));
    const [v, vn] = [of('v'), of('vn')];
    const faces = rows.filter((r) => r[0] === 'f').map((r) => r.slice(1).map((c) => c.split('/').map(Number)));
    expect([v.length, faces.length]).toEqual([24, 18]);
    faces.forEach((face, f) => {
      const middle = [10 * Math.floor(f / 6), 0, 0];
      const places = face.map((c) => v[c[0]! - 1]!);
      const centre = [0, 1, 2].map((k) => places.reduce((s, p) => s + p[k]!, 0) / 4 - middle[k]!);
      expect(Math.max(...places.map((p) => Math.abs(p[0]! - middle[0]!)))).toBe(1);
      // Of a box every normal looks from the middle of the box to the middle of its face.
      for (const c of face)
        centre.forEach((x, k) => expect(vn[c[2]! - 1]![k]).toBeCloseTo(Math.sign(Math.round(x)), 6));
    });
  });
});

describe('lines of a text', () => {
  const words = (text: string, comments = true): string[][] => {
    const w = new Words(bytes(text), comments);
    const lines: string[][] = [];
    do {
      const line: string[] = [];
      while (w.word()) line.push(w.text());
      lines.push(line);
    } while (w.nextLine());
    return lines;
  };

  it.each([
    ['\n', '\\\n'],
    ['\r\n', '\\\r\n'],
    ['\r', '\\\r'],
  ])('end with %j and are joined by %j', (end, joined) => {
    expect(words(`a b${end}c${end}`)).toEqual([['a', 'b'], ['c']]);
    expect(words(`a b${end}${end}c`)).toEqual([['a', 'b'], [], ['c']]);
    expect(words(`a ${joined}b${end}c`)).toEqual([['a', 'b'], ['c']]);
    expect(words(`a${joined} b`)).toEqual([['a', 'b']]);
    expect(words(`a # b ${joined} still told${end}c`)).toEqual([['a'], ['c']]);
  });

  it('a backslash elsewhere is a letter, and at the very end nothing is joined', () => {
    expect(words('a\\b c\\')).toEqual([['a\\b', 'c\\']]);
    expect(words('a \\b\nc')).toEqual([['a', '\\b'], ['c']]);
    expect(words('a # b\\c\nd')).toEqual([['a'], ['d']]);
  });

  it('what is left of a line is told without white space, comments and joints', () => {
    const rest = (text: string, comments = true) => {
      const w = new Words(bytes(text), comments);
      w.word();
      w.text();
      return w.rest();
    };
    expect(rest('usemtl Red \\\r\n paint  # what it is\nv')).toBe('Red   paint');
    expect(rest('usemtl Red # paint\nv', false)).toBe('Red # paint');
    expect(rest('usemtl')).toBe('');
  });

  it('are counted from 1, whatever ends them', () => {
    for (const end of ['\n', '\r\n', '\r'])
      expect(message(() => readObj(bytes(['v 0 0 0', 'v 1 0 0', 'v 0 x 0', 'f 1 2 3'].join(end))))).toContain('line 3');
  });
});
