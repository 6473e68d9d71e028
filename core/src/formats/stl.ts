import { samePlaces, checkCancelled, triangulateMesh, type OpContext, type PolyMesh } from '../mesh/index.ts';
import { doubles } from './growing.ts';
import { badFile, checkCount, checkSize, LARGEST_COORDINATE, type ReadMesh } from './limits.ts';
import { asUtf8, Words } from './textBytes.ts';

/** Binary STL: 80 bytes of text and a count of 4. */
const HEADER = 84;
/** Binary STL: a triangle has twelve 32-bit numbers and a 16-bit one. */
const RECORD = 50;
/** Triangles between two reports of progress and looks at the signal. */
const ASK_EVERY = 1 << 16;
/** Reading takes about this share of the time, joining vertices the rest. */
const READING = 0.4;

/**
 * Reads an STL file, text or binary, told apart by its content. Vertices with the very same coordinates become one;
 * triangles that lose a side by this are left out. Of a file that is cut off, or whose count is wrong, what is there is
 * read, with a warning. Throws `bad-file` with the place. Format: StereoLithography Interface Specification, 3D
 * Systems, 1988.
 */
export function readStl(given: Uint8Array, ctx?: OpContext): ReadMesh {
  checkSize(given);
  const bytes = asUtf8(given);
  const view = new DataView(given.buffer, given.byteOffset, given.byteLength);
  const count = given.length >= HEADER ? view.getUint32(80, true) : -1;
  if (count >= 0 && given.length === HEADER + RECORD * count) return weld(binaryCoordinates(view, count, ctx), [], ctx);
  const head = new TextDecoder().decode(bytes.subarray(0, 1024)).trimStart();
  const isText = /^solid\b/i.test(head) && !head.includes('\0');
  if (isText && /\bfacet\b/i.test(head)) return textStl(bytes, ctx);
  if (count >= 0 && !isText) return raggedBinary(view, count, ctx);
  throw badFile('This is neither a text nor a binary STL file', 'the beginning is not that of one');
}

/** A binary file that is longer or shorter than it announces. */
function raggedBinary(view: DataView, count: number, ctx?: OpContext): ReadMesh {
  const room = view.byteLength - HEADER;
  const there = Math.floor(room / RECORD);
  const announced = `The file announces ${count.toLocaleString('en')} triangles`;
  if (!there) throw badFile(`${announced}, and ends before the first one`, `it has ${view.byteLength} bytes`);
  // More whole triangles than announced: the count is wrong, if they are triangles.
  const read = there >= count && !(room === RECORD * there && usable(view, count, there)) ? count : there;
  if (!read) throw badFile(`${announced}, and what follows are none`, 'it ends with the header');
  const rest = room - RECORD * read;
  const says =
    read === count
      ? `${rest.toLocaleString('en')} bytes after the last triangle were passed over.`
      : `${announced} and has ${read.toLocaleString('en')}, which were read.`;
  return weld(binaryCoordinates(view, read, ctx), [says], ctx);
}

/** Whether all records of a range are numbers that a triangle could have. */
function usable(view: DataView, from: number, to: number): boolean {
  for (let t = from; t < to; t++)
    for (let i = 0; i < 9; i++)
      if (!(Math.abs(view.getFloat32(HEADER + RECORD * t + 12 + 4 * i, true)) <= LARGEST_COORDINATE)) return false;
  return true;
}

function binaryCoordinates(view: DataView, count: number, ctx?: OpContext): Float64Array {
  checkCount(count, 'triangles');
  const out = new Float64Array(9 * count);
  for (let t = 0; t < count; t++) {
    if (t % ASK_EVERY === 0) tell(t / count, ctx);
    const at = HEADER + RECORD * t + 12;
    for (let i = 0; i < 9; i++) {
      const x = view.getFloat32(at + 4 * i, true) + 0;
      if (!(Math.abs(x) <= LARGEST_COORDINATE))
        throw badFile('A coordinate is not a usable number', `triangle ${t + 1}`);
      out[9 * t + i] = x;
    }
  }
  return out;
}

function tell(share: number, ctx: OpContext | undefined): void {
  checkCancelled(ctx);
  ctx?.progress?.(READING * share, 'reading');
}

/** A text file, by its words: lines may end anywhere. */
function textStl(bytes: Uint8Array, ctx?: OpContext): ReadMesh {
  const w = new Words(bytes, false);
  const out = doubles();
  let inLoop = -1;
  let ended = false;
  for (let words = 1; w.wordBeyond(); words++) {
    if (words % ASK_EVERY === 0) tell(w.at / bytes.length, ctx);
    const at = w.at;
    if (w.is('vertex')) {
      if (inLoop < 0 || inLoop > 2) throw badFile('A vertex stands outside a triangle', `line ${w.line(at)}`);
      ended = false;
      const p = [w.coordinate(), w.coordinate(), w.coordinate()];
      if (p.some(Number.isNaN)) {
        // Where a file is cut off, the last vertex is left out with its triangle.
        if (!w.wordBeyond()) break;
        throw badFile('A vertex needs three numbers', `line ${w.line(at)}`);
      }
      for (const x of p) out.push(x);
      inLoop++;
      checkCount(out.length / 9, 'triangles');
    } else if (w.is('outer')) inLoop = 0;
    else if (w.is('endloop')) {
      if (inLoop !== 3) throw badFile('A triangle has not three vertices', `line ${w.line(at)}`);
      inLoop = -1;
    } else if (w.is('endsolid')) ended = true;
    else w.text();
  }
  const whole = Math.floor(out.length / 9);
  if (!whole) throw badFile('The file is cut off before its first triangle is finished', `line ${w.line()}`);
  const says = `The file is cut off at line ${w.line()}: ${whole.toLocaleString('en')} whole triangles were read.`;
  return weld(out.done().slice(0, 9 * whole), ended ? [] : [says], ctx);
}

/** A mesh of triangles, three places each. */
function weld(coordinates: Float64Array, warnings: string[], ctx?: OpContext): ReadMesh {
  if (!coordinates.length) throw badFile('There are no triangles in it', '');
  const { positions, of } = samePlaces(coordinates, ctx, READING);
  const corners = new Int32Array(of.length);
  let n = 0;
  for (let i = 0; i < of.length; i += 3) {
    const [a, b, c] = [of[i]!, of[i + 1]!, of[i + 2]!];
    if (a === b || b === c || c === a) continue;
    corners[n++] = a;
    corners[n++] = b;
    corners[n++] = c;
  }
  if (!n) throw badFile('All its triangles are mere lines or points', '');
  const faces = n / 3;
  const lost = of.length / 3 - faces;
  if (lost) warnings.push(`${lost.toLocaleString('en')} triangles without area were left out.`);
  const mesh: PolyMesh = {
    positions,
    faceLoops: steps(faces + 1, 1),
    loopStart: steps(faces + 1, 3),
    corners: n < corners.length ? corners.slice(0, n) : corners,
    layers: {},
    slots: ['Body'],
  };
  return { mesh, warnings };
}

/** 0, step, 2 step … */
function steps(n: number, step: number): Int32Array {
  const out = new Int32Array(n);
  for (let i = 0; i < n; i++) out[i] = step * i;
  return out;
}

/** Writes a mesh as STL triangles, binary (32-bit numbers) or text. */
export function writeStl(m: PolyMesh, kind: 'binary' | 'text' = 'binary'): Uint8Array {
  const { triangles } = triangulateMesh(m);
  const n = triangles.length / 3;
  const at = (t: number, j: number, k: number): number => m.positions[3 * m.corners[triangles[3 * t + j]!]! + k]!;
  const normal = new Float64Array(3);
  /** The normal of a triangle, in `normal`: no garbage, as there may be millions. */
  const look = (t: number): void => {
    for (let k = 0; k < 3; k++) {
      const [p, q] = [(k + 1) % 3, (k + 2) % 3];
      const [ap, aq] = [at(t, 0, p), at(t, 0, q)];
      normal[k] = (at(t, 1, p) - ap) * (at(t, 2, q) - aq) - (at(t, 1, q) - aq) * (at(t, 2, p) - ap);
    }
    const length = Math.sqrt(normal[0]! ** 2 + normal[1]! ** 2 + normal[2]! ** 2) || 1;
    for (let k = 0; k < 3; k++) normal[k]! /= length;
  };
  if (kind === 'text') {
    const rows = ['solid DuskyMason'];
    for (let t = 0; t < n; t++) {
      look(t);
      rows.push(`facet normal ${normal.join(' ')}`, 'outer loop');
      for (let j = 0; j < 3; j++) rows.push(`vertex ${[0, 1, 2].map((k) => at(t, j, k)).join(' ')}`);
      rows.push('endloop', 'endfacet');
    }
    rows.push('endsolid DuskyMason', '');
    return new TextEncoder().encode(rows.join('\n'));
  }
  const out = new Uint8Array(HEADER + RECORD * n);
  out.set(new TextEncoder().encode('Dusky Mason binary STL, mm'));
  const view = new DataView(out.buffer);
  view.setUint32(80, n, true);
  for (let t = 0; t < n; t++) {
    const o = HEADER + RECORD * t;
    look(t);
    for (let k = 0; k < 3; k++) view.setFloat32(o + 4 * k, normal[k]!, true);
    for (let j = 0; j < 3; j++) for (let k = 0; k < 3; k++) view.setFloat32(o + 12 + 12 * j + 4 * k, at(t, j, k), true);
  }
  return out;
}
