import {
  boxUvs,
  checkCancelled,
  faceCount,
  loopCount,
  shadingNormals,
  textureScale,
  tieHoles,
  vertexCount,
  type OpContext,
  type PolyMesh,
} from '../mesh/index.ts';
import { doubles, integers, type Growing } from './growing.ts';
import { badFile, checkCount, checkSize, MOST_CORNERS, MOST_NAME, type ReadMesh } from './limits.ts';
import { asUtf8, Words } from './textBytes.ts';

/** Lines between two reports of progress and looks at the signal. */
const ASK_EVERY = 1 << 15;
/** Stands for a corner without a texture point. */
const NO_TEXTURE_POINT = 0;

/** What a file holds, as it was read: corners as the file numbers them, from 1; 0 for none. */
class Read {
  readonly positions = doubles();
  readonly uvs = doubles();
  readonly vertexOf = integers();
  readonly uvOf = integers();
  readonly faceStart = integers();
  /** Where each face begins in the file. */
  readonly faceAt = integers();
  readonly slotOf = integers();
  readonly groupOf = integers();
  readonly slots: string[] = [];
  readonly groups: string[] = [];
  elements = 0;
}

/**
 * Reads a Wavefront OBJ text: polygons of any size, UVs, negative (relative) indices, faces before their vertices, both
 * line endings, lines continued with a backslash. `usemtl` names become slots; a file without any takes its groups
 * (`g`, `o`) instead. Normals, lines, points and curves are left out, and so are faces with an index that leads to
 * nothing; a material library is never followed. Throws `bad-file` with the line. Format: B1. Object Files, Wavefront
 * Technologies, version 3.0.
 */
export function readObj(given: Uint8Array, ctx?: OpContext): ReadMesh {
  checkSize(given);
  const bytes = asUtf8(given);
  const w = new Words(bytes, true);
  const read = new Read();
  let slot = -1;
  let group = -1;
  const named = (list: string[]): number => {
    const name = (w.word() && w.rest().slice(0, MOST_NAME)) || 'Body';
    const i = list.indexOf(name);
    return i >= 0 ? i : list.push(name) - 1;
  };
  const numbers = (n: number, into: Growing<Float64Array>): void => {
    const at = w.at;
    for (let k = 0; k < n; k++) {
      const x = w.coordinate();
      if (Number.isNaN(x)) throw badFile(`A line needs ${n} usable numbers`, `line ${w.line(at)}`);
      into.push(x);
    }
  };
  let first = true;
  let lines = 0;
  do {
    if (++lines % ASK_EVERY === 0) {
      checkCancelled(ctx);
      ctx?.progress?.((0.8 * w.at) / bytes.length, 'reading');
    }
    if (!w.word()) continue;
    const at = w.at;
    if (w.is('v')) numbers(3, read.positions);
    else if (w.is('vt')) {
      numbers(1, read.uvs);
      // A texture of one direction has no second number.
      if (w.word()) numbers(1, read.uvs);
      else read.uvs.push(0);
    } else if (w.is('f')) {
      read.faceStart.push(read.vertexOf.length);
      read.faceAt.push(at);
      read.slotOf.push(slot);
      read.groupOf.push(group);
      while (w.word()) addCorner(w, read);
    } else if (w.is('usemtl')) slot = named(read.slots);
    else if (w.is('g') || w.is('o')) group = named(read.groups);
    else if (w.is('l') || w.is('p') || w.is('curv') || w.is('curv2') || w.is('surf')) read.elements++;
    else if (!w.is('vn') && !w.is('vp') && !w.is('s') && !w.is('mtllib')) {
      const word = w.text();
      if (first || !/^[a-z_]+$/i.test(word))
        throw badFile(`"${word.slice(0, 20)}" is not a line of an OBJ file`, `line ${w.line(at)}`);
    }
    first = false;
    checkCount(read.positions.length / 3, 'vertices');
    checkCount(read.faceStart.length, 'faces');
  } while (w.nextLine());
  checkCancelled(ctx);
  return meshOf(read, (at) => w.line(at));
}

/**
 * One corner of a face: its vertex and texture point, counted from the end where negative. An invalid index becomes −1.
 */
function addCorner(w: Words, read: Read): void {
  const index = (count: number): number => {
    const i = w.integer();
    if (Number.isNaN(i)) return NO_TEXTURE_POINT;
    if (i > 0) return i;
    return i < 0 && count + i + 1 > 0 ? count + i + 1 : -1;
  };
  const vertex = index(read.positions.length / 3) || -1;
  const uv = w.slash() ? index(read.uvs.length / 2) : NO_TEXTURE_POINT;
  // Normals are not read: any number will do. Anything else makes no index.
  if (w.slash()) w.integer();
  read.vertexOf.push(w.restOfWord() ? -1 : vertex);
  read.uvOf.push(uv);
}

/** The mesh of what was read: each face by what it refers to, now that all of it is known. */
function meshOf(read: Read, lineOf: (at: number) => number): ReadMesh {
  const { positions, uvs, vertexOf, uvOf, faceStart } = read;
  const vertices = positions.length / 3;
  const texturePoints = uvs.length / 2;
  const [corners, texture, loopStart, slotOf, groupOf] = [integers(), integers(), integers(), integers(), integers()];
  const left = { corners: 0, small: 0, bad: 0, large: 0 };
  let firstBad = 0;
  loopStart.push(0);
  for (let f = 0; f < faceStart.length; f++) {
    const [begin, end] = [faceStart.at(f), f + 1 < faceStart.length ? faceStart.at(f + 1) : vertexOf.length];
    const at = corners.length;
    const large = end - begin > MOST_CORNERS;
    if (large) left.large++;
    let bad = false;
    for (let c = begin; c < end && !bad && !large; c++) {
      const [v, t] = [vertexOf.at(c), uvOf.at(c)];
      bad = v < 1 || v > vertices || t < 0 || t > texturePoints;
      if (bad) break;
      if (corners.length > at && corners.at(corners.length - 1) === v - 1) left.corners++;
      else {
        corners.push(v - 1);
        texture.push(t);
      }
    }
    if (corners.length - at > 1 && corners.at(at) === corners.at(corners.length - 1)) {
      corners.length--;
      texture.length--;
      left.corners++;
    }
    if (bad || large || corners.length - at < 3) {
      if (bad && !left.bad++) firstBad = f;
      if (!bad && !large) left.small++;
      corners.length = texture.length = at;
      continue;
    }
    loopStart.push(corners.length);
    slotOf.push(read.slotOf.at(f));
    groupOf.push(read.groupOf.at(f));
  }
  const faces = slotOf.length;
  if (!faceStart.length) throw badFile('There are no faces in it', 'an OBJ file needs lines that begin with f');
  if (!faces)
    throw badFile(
      'None of its faces can be used: they refer to what is not there, or have too many corners',
      `line ${lineOf(read.faceAt.at(0))}`,
    );
  const byMaterial = read.slots.length > 0;
  const names = [...(byMaterial ? read.slots : read.groups)];
  const of = (byMaterial ? slotOf : groupOf).done();
  const shift = !names.length || of.some((s) => s < 0) ? 1 : 0;
  if (shift) names.unshift('Body');
  const plain: PolyMesh = {
    positions: positions.done(),
    faceLoops: Int32Array.from({ length: faces + 1 }, (_, i) => i),
    loopStart: loopStart.done(),
    corners: corners.done(),
    layers: { slot: of.map((s) => s + shift) },
    slots: names,
  };
  const uv = uvLayer(plain, texture.done(), uvs.done());
  const mesh = uv ? { ...plain, layers: { ...plain.layers, uv } } : plain;
  const warnings: string[] = [];
  const say = (n: number, one: string, many: string) =>
    n && warnings.push(n === 1 ? `1 ${one}` : `${n.toLocaleString('en')} ${many}`);
  const line = left.bad ? lineOf(read.faceAt.at(firstBad)) : 0;
  const large = `of over ${MOST_CORNERS.toLocaleString('en')} corners`;
  say(read.elements, 'line, point or curve was left out.', 'lines, points or curves were left out.');
  say(
    left.bad,
    `face was left out whose indices lead to nothing, in line ${line}.`,
    `faces were left out whose indices lead to nothing; the first is in line ${line}.`,
  );
  say(left.large, `face ${large} was left out.`, `faces ${large} were left out.`);
  say(left.corners, 'doubled corner was dropped.', 'doubled corners were dropped.');
  say(left.small, 'face of under three corners was left out.', 'faces of under three corners were left out.');
  return { mesh, warnings };
}

/**
 * Texture coordinates by corner; faces that have none get them along the axes, at the scale of the others. Undefined
 * where no face has any.
 */
function uvLayer(m: PolyMesh, texture: Int32Array, uvs: Float64Array): Float64Array | undefined {
  if (texture.every((t) => t === NO_TEXTURE_POINT)) return undefined;
  const uv = new Float64Array(2 * texture.length);
  const bare: number[] = [];
  for (let f = 0; f < faceCount(m); f++) {
    let whole = true;
    for (let c = m.loopStart[f]!; c < m.loopStart[f + 1]!; c++) {
      const t = texture[c]! - 1;
      whole &&= t >= 0;
      if (t >= 0) uv.set([uvs[2 * t]!, uvs[2 * t + 1]!], 2 * c);
    }
    if (!whole) bare.push(f);
  }
  if (bare.length) boxUvs(m, bare, textureScale({ ...m, layers: { uv } }), uv);
  return uv;
}

/**
 * Writes parts as one OBJ text: one group a part, polygons, slots as `usemtl`, UVs, shading normals. OBJ knows no inner
 * boundaries: faces that have them are cut by ties (`tieHoles`).
 */
export function writeObj(parts: readonly { name: string; mesh: PolyMesh }[]): string {
  const out: string[] = ['# Dusky Mason'];
  let v0 = 1;
  let t0 = 1;
  let n0 = 1;
  for (const { name, mesh: given } of parts) {
    const m = loopCount(given) > faceCount(given) ? tieHoles(given) : given;
    out.push(`g ${oneLine(name)}`);
    for (let v = 0; v < vertexCount(m); v++)
      out.push(`v ${m.positions[3 * v]} ${m.positions[3 * v + 1]} ${m.positions[3 * v + 2]}`);
    const uv = m.layers.uv && distinct(m.layers.uv, 2);
    uv?.rows.forEach((r) => out.push(`vt ${r.join(' ')}`));
    const normal = distinct(shadingNormals(m), 3);
    normal.rows.forEach((r) => out.push(`vn ${r.map((x) => +x.toFixed(6)).join(' ')}`));
    let slot = -1;
    for (let f = 0; f < faceCount(m); f++) {
      const s = m.layers.slot?.[f] ?? 0;
      if (s !== slot) out.push(`usemtl ${oneLine(m.slots[s] ?? 'Body')}`);
      slot = s;
      let row = 'f';
      for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++)
        row += ` ${m.corners[c]! + v0}/${uv ? uv.of[c]! + t0 : ''}/${normal.of[c]! + n0}`;
      out.push(row);
    }
    v0 += vertexCount(m);
    t0 += uv?.rows.length ?? 0;
    n0 += normal.rows.length;
  }
  return out.join('\n') + '\n';
}

const oneLine = (name: string): string => name.replace(/\s+/g, ' ').trim() || 'Body';

/** The different rows of an array, and the row of each element. */
function distinct(data: ArrayLike<number>, size: number): { rows: number[][]; of: Int32Array } {
  const known = new Map<string, number>();
  const rows: number[][] = [];
  const of = new Int32Array(data.length / size);
  for (let i = 0; i < of.length; i++) {
    const row = Array.from({ length: size }, (_, k) => data[i * size + k]!);
    const key = row.join();
    let at = known.get(key);
    if (at === undefined) known.set(key, (at = rows.push(row) - 1));
    of[i] = at;
  }
  return { rows, of };
}
