import type { Fit } from '@dusky-mason/core/carve';
import {
  Evaluator,
  fitOf,
  linePicture,
  meshesUsed,
  placedMesh,
  readOrRescue,
  type Part,
  type Shape,
} from '@dusky-mason/core/courses';
import {
  exportParts,
  hashPacked,
  packMesh,
  readMesh,
  readProjectFile,
  readSvg,
  unpackMesh,
  writeProjectFile,
} from '@dusky-mason/core/formats';
import {
  bounds,
  components,
  drape,
  faceCount,
  joinMeshes,
  MasonError,
  takeFaces,
  transformMesh,
  renderBuffers,
  renderTransfer,
  sentenceOf,
  type OpContext,
  type PolyMesh,
} from '@dusky-mason/core/mesh';
import { faceSketch } from '@dusky-mason/core/shapes';
import { surveyCounts } from '@dusky-mason/core/survey';
import { middle, pictureOf, pictureTransfer } from './partPictures.ts';
import { keepMesh, readMeshBytes } from './meshShelf.ts';
import type { Answer, Ask, FromWorker, PackedMesh, ToWorker } from './protocol.ts';
import { surveyAnswer } from './surveyAnswers.ts';

/** Progress is sent at most this often while an operation runs, ms. */
const PROGRESS_EVERY = 60;

/** Lines of a part's picture in a list. */
const LIST_LINES = 260;

/** More loose pieces than this are not made into parts. */
const MOST_PIECES = 200;

const evaluator = new Evaluator();
const meshes = new Map<string, PolyMesh>();
const store = (hash: string): PolyMesh | undefined => meshes.get(hash);
const say = (message: FromWorker, transfer: Transferable[] = []) => self.postMessage(message, { transfer });

/** Bytes as a file: handed over by reference, however large it is. */
const asFile = (bytes: Uint8Array): Blob => new Blob([bytes as Uint8Array<ArrayBuffer>]);

function contextOf(id: number, cancel: Int32Array | null): OpContext {
  let last = 0;
  return {
    // A flag in shared memory is seen in the middle of a run; a message would wait until its end.
    signal: cancel
      ? {
          get aborted() {
            return Atomics.load(cancel, 0) === 1;
          },
        }
      : undefined,
    progress: (fraction, stage) => {
      const now = performance.now();
      if (now - last < PROGRESS_EVERY) return;
      last = now;
      say({ id, progress: { fraction, stage } });
    },
  };
}

function fitsOf(ask: Extract<Ask, { kind: 'fit' }>, ctx: OpContext): Fit[] {
  const linked = evaluator.linked(ask.part, store, ctx);
  const course = linked.part.courses.find((c) => c.id === ask.course);
  const below = course?.kind === 'cut' ? evaluator.below(ask.part, course.id, store, ctx) : null;
  if (!below || course?.kind !== 'cut') return [];
  try {
    // The part as a whole is there already; other parts are made only when a cutter misses this one.
    const done = evaluator
      .evaluate(ask.part, store, ctx, undefined, ask.moving)
      .courses.find((c) => c.id === course.id);
    const others = () => ask.others.map((p) => ({ id: p.id, mesh: evaluator.evaluate(p, store, ctx).mesh }));
    return fitOf(below, course, linked.store, { others, contacts: done?.report.contacts }, ctx);
  } catch (e) {
    // A cutter that cannot be made fails in its course, which says why.
    if (e instanceof MasonError && e.code !== 'cancelled') return [];
    throw e;
  }
}

function shapeOf(shape: Shape): PolyMesh {
  const linked = shape.kind === 'part' && evaluator.parts.find((p) => p.id === shape.part);
  return linked
    ? evaluator.evaluate(linked, store).mesh
    : placedMesh(shape, { position: [0, 0, 0], turn: [0, 0, 0] }, store);
}

/** The mesh of a part; throws when there is none. */
function whole(part: Part): PolyMesh {
  const { mesh, courses } = evaluator.evaluate(part, store);
  if (mesh.corners.length) return mesh;
  throw new MasonError(
    'bad-input',
    courses.find((c) => c.error)?.error?.message ?? `${part.name} has no body: its base is off.`,
  );
}

function packed(mesh: PolyMesh): PackedMesh {
  const bytes = packMesh(mesh);
  const hash = hashPacked(bytes);
  meshes.set(hash, mesh);
  return { hash, bytes };
}

/** Keeps a mesh in this browser; its hash. */
async function kept(mesh: PolyMesh): Promise<string> {
  const { hash, bytes } = packed(mesh);
  await keepMesh(hash, bytes);
  return hash;
}

async function answer(id: number, ask: Ask): Promise<{ answer: Answer; transfer?: Transferable[] }> {
  switch (ask.kind) {
    case 'store':
      meshes.set(ask.hash, unpackMesh(ask.bytes));
      return { answer: { kind: 'store' } };
    case 'load': {
      const bytes = meshes.has(ask.hash) ? null : await readMeshBytes(ask.hash);
      if (bytes) meshes.set(ask.hash, unpackMesh(bytes));
      return { answer: { kind: 'load', found: meshes.has(ask.hash) } };
    }
    case 'evaluate': {
      const ctx = contextOf(id, ask.cancel);
      const r = evaluator.evaluate(
        ask.part,
        store,
        ctx,
        (c) => say({ id, begun: { course: c.id, name: c.name } }),
        ask.moving,
      );
      // Called before each long step of a large part, so that it does not count as hanging.
      say({ id, progress: { fraction: 0.6, stage: 'counting' } });
      const counts = surveyCounts(r.mesh);
      say({ id, progress: { fraction: 0.8, stage: 'drawing' } });
      const picture = r.key === ask.have ? null : pictureOf(r.mesh);
      return {
        answer: { kind: 'evaluate', key: r.key, courses: r.courses, counts, ms: r.ms, picture },
        transfer: picture ? pictureTransfer(picture) : [],
      };
    }
    case 'shape': {
      const mesh = shapeOf(ask.shape);
      const { min, max } = bounds(mesh);
      const picture = renderBuffers(mesh);
      const size = [0, 1, 2].map((k) => max[k]! - min[k]!) as [number, number, number];
      return { answer: { kind: 'shape', picture, size, centre: middle(mesh) }, transfer: renderTransfer(picture) };
    }
    case 'face': {
      const { mesh } = evaluator.evaluate(ask.part, store);
      if (ask.face >= faceCount(mesh)) throw new MasonError('bad-input', 'That face no longer exists. Pick again.');
      return { answer: { kind: 'face', sketch: faceSketch(mesh, ask.face) } };
    }
    case 'fit':
      return { answer: { kind: 'fit', fits: fitsOf(ask, contextOf(id, ask.cancel)) } };
    case 'freeze': {
      const at = ask.part.courses.findIndex((c) => c.id === ask.course);
      const r = evaluator.evaluate({ ...ask.part, courses: ask.part.courses.slice(0, at + 1) }, store);
      const failed = r.courses.find((c) => c.error);
      if (failed?.error) throw new MasonError('bad-input', `A course below could not be done: ${failed.error.message}`);
      return { answer: { kind: 'freeze', hash: await kept(r.mesh) } };
    }
    case 'drape': {
      const lines = drape(evaluator.evaluate(ask.part, store).mesh, ask.run, ask.direction);
      return { answer: { kind: 'drape', lines }, transfer: [lines.buffer as ArrayBuffer] };
    }
    case 'survey':
    case 'verdict':
    case 'look':
    case 'subdivided':
    case 'compare':
    case 'measure':
    case 'wall':
    case 'gauge':
    case 'headroom':
    case 'lengthRooms':
    case 'pick':
    case 'pickOf':
    case 'resolve':
    case 'line':
    case 'grab':
    case 'report':
      return surveyAnswer(ask, {
        evaluator,
        store,
        ctx: 'cancel' in ask ? contextOf(id, ask.cancel) : undefined,
        whole,
      });
    case 'join': {
      const made = ask.parts.map((p) => whole(p));
      return { answer: { kind: 'join', hash: await kept(joinMeshes(made)) } };
    }
    case 'pieces': {
      const mesh = whole(ask.part);
      const { count, of } = components(mesh);
      if (count > MOST_PIECES)
        throw new MasonError(
          'too-large',
          `It has ${count.toLocaleString('en')} loose pieces; up to ${MOST_PIECES} can become parts.`,
        );
      const hashes: string[] = [];
      for (let k = 0; k < count; k++) hashes.push(await kept(takeFaces(mesh, (f) => of[f] === k)));
      return { answer: { kind: 'pieces', hashes } };
    }
    case 'drawing':
      return { answer: { kind: 'drawing', lines: linePicture(whole(ask.part), LIST_LINES) } };
    case 'keep': {
      const mesh = whole(ask.part);
      const [x, y, z] = middle(mesh);
      const centred = transformMesh(mesh, [1, 0, 0, -x, 0, 1, 0, -y, 0, 0, 1, -z]);
      return { answer: { kind: 'keep', picture: linePicture(centred), ...packed(centred) } };
    }
    case 'export': {
      const parts = ask.parts.map((p) => ({ name: p.name, mesh: evaluator.evaluate(p, store).mesh }));
      const bytes = await exportParts(parts, ask.options, ask.looks);
      return { answer: { kind: 'export', file: asFile(bytes) } };
    }
    case 'import': {
      const { mesh, warnings } = readMesh(ask.name, ask.bytes, contextOf(id, ask.cancel));
      return { answer: { kind: 'import', hash: await kept(mesh), faces: faceCount(mesh), warnings } };
    }
    case 'readDrawing':
      return { answer: { kind: 'readDrawing', ...readSvg(new TextDecoder().decode(ask.bytes)) } };
    case 'readProject': {
      const file = readProjectFile(ask.bytes);
      const { project, left } = readOrRescue(file.document);
      const missing = meshesUsed(project).find((hash) => !file.meshes.has(hash));
      if (missing) throw new MasonError('bad-file', `The project file lacks the imported mesh ${missing}.`);
      for (const [hash, mesh] of file.meshes) await keepMesh(hash, packMesh(mesh));
      return { answer: { kind: 'readProject', project, left } };
    }
    case 'writeProject': {
      const used: [string, PolyMesh][] = [];
      for (const hash of meshesUsed(ask.project)) {
        const bytes = meshes.has(hash) ? null : await readMeshBytes(hash);
        const mesh = meshes.get(hash) ?? (bytes && unpackMesh(bytes));
        if (mesh) used.push([hash, mesh]);
      }
      const { project: document, thumbnail } = ask;
      const bytes = writeProjectFile({ document, meshes: new Map(used), thumbnail });
      return { answer: { kind: 'writeProject', file: asFile(bytes) } };
    }
    case 'writeRaw': {
      const used = ask.meshes.map(({ hash, bytes }) => [hash, unpackMesh(bytes)] as const);
      const bytes = writeProjectFile({ document: ask.document, meshes: new Map(used) });
      return { answer: { kind: 'writeRaw', file: asFile(bytes) } };
    }
  }
}

self.onmessage = async ({ data: { id, ask, parts } }: MessageEvent<ToWorker>) => {
  try {
    evaluator.parts = parts;
    const { answer: a, transfer } = await answer(id, ask);
    say({ id, answer: a }, transfer);
  } catch (e) {
    const error =
      e instanceof MasonError ? { code: e.code, message: e.message } : { code: 'internal', message: sentenceOf(e) };
    say({ id, error });
  }
};
