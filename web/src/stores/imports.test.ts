import { beforeEach, describe, expect, it, vi } from 'vitest';
import { meshesUsed, readProject } from '@dusky-mason/core/courses';
import { skerryLight } from '@dusky-mason/core/demo';
import { writeProjectFile, readProjectFile, readMesh, readSvg, packMesh, hashPacked } from '@dusky-mason/core/formats';
import { faceCount } from '@dusky-mason/core/mesh';
import type { Ask } from '../engine/protocol.ts';

const kept = vi.hoisted(() => [] as string[]);
vi.mock('../engine/engine.ts', () => ({
  sideEngine: () => ({
    ask: async (ask: Ask) => {
      if (ask.kind === 'import') {
        const { mesh, warnings } = readMesh(ask.name, ask.bytes);
        const hash = hashPacked(packMesh(mesh));
        kept.push(hash);
        return { kind: 'import', hash, faces: faceCount(mesh), warnings };
      }
      if (ask.kind === 'readDrawing') return { kind: 'readDrawing', ...readSvg(new TextDecoder().decode(ask.bytes)) };
      if (ask.kind !== 'readProject') throw new Error('unexpected');
      return { kind: 'readProject', project: readProject(readProjectFile(ask.bytes).document), left: [] };
    },
  }),
}));
const { importFile, projectOf, titleOf } = await import('./imports.ts');

const TETRA = 'v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\nf 1 3 2\nf 1 2 4\nf 2 3 4\nf 3 1 4\n';
const file = (name: string, content: string | Uint8Array) => new File([content as BlobPart], name);

describe('opening files', () => {
  beforeEach(() => void kept.splice(0));

  it('a mesh is kept by its content and becomes a project of one part', async () => {
    const r = await importFile(file('Old casting.OBJ', TETRA));
    if (r.kind !== 'mesh') throw new Error('no mesh');
    expect(kept).toEqual([r.hash]);
    const p = projectOf(r);
    expect([p.name, titleOf(r), meshesUsed(p)]).toEqual(['Old casting', 'Old casting', [r.hash]]);
    expect(readProject(JSON.parse(JSON.stringify(p)))).toEqual(p);
    expect(projectOf(r).id).not.toBe(p.id);
  });

  it('a drawing gives its outlines, and what it passed over', async () => {
    const r = await importFile(
      file('Vent grille.SVG', '<svg><text>x</text><rect width="40" height="10"/><circle r="4"/></svg>'),
    );
    if (r.kind !== 'drawing') throw new Error('no drawing');
    expect([r.title, r.outlines.length, r.warnings.length]).toEqual(['Vent grille', 2, 1]);
    await expect(importFile(file('empty.svg', '<svg/>'))).rejects.toThrow(
      /"empty\.svg" was not opened: .*no closed outline/,
    );
    expect(kept).toEqual([]);
  });

  it('a project gets an id of its own, so that it never takes the place of another', async () => {
    const bytes = writeProjectFile({ document: skerryLight('same'), meshes: new Map() });
    const r = await importFile(file('skerry.mason.zip', bytes));
    if (r.kind !== 'project') throw new Error('no project');
    expect(r.project.name).toBe('Skerry Light');
    expect(r.project.id).not.toBe('same');
  });

  it.each([
    ['notes.txt', 'hello', /cannot be opened\. Known are \.obj, \.stl, \.svg, \.zip/],
    ['broken.obj', 'v 0 0\nf 1 2 9\n', /"broken\.obj" was not opened: .*line 1/],
    ['broken.zip', 'PK nothing', /"broken\.zip" was not opened/],
  ])('%s is refused in a sentence', async (name, content, words) => {
    await expect(importFile(file(name, content))).rejects.toThrow(words);
    expect(kept).toEqual([]);
  });
});
