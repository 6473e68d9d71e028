import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import ts from 'typescript';
import { describe, expect, it } from 'vitest';
import * as carve from './carve/index.ts';
import * as dress from './dress/index.ts';
import * as mend from './mend/index.ts';
import * as mesh from './mesh/index.ts';
import * as recast from './recast/index.ts';
import * as shapes from './shapes/index.ts';
import * as survey from './survey/index.ts';

const FOLDERS = ['carve', 'mend', 'dress', 'recast'];
const NAMES: Record<string, unknown> = { ...mesh, ...shapes, ...survey, ...carve, ...mend, ...dress, ...recast };

function sources(dir: string): string[] {
  return readdirSync(dir, { withFileTypes: true }).flatMap((e) => {
    const at = path.join(dir, e.name);
    if (e.isDirectory()) return sources(at);
    return e.name.endsWith('.ts') && !e.name.endsWith('.test.ts') ? [readFileSync(at, 'utf8')] : [];
  });
}

/** Operations of the core, each with the example of its docstring, if it has one. */
const OPERATIONS = FOLDERS.flatMap((folder) => sources(path.join(import.meta.dirname, folder))).flatMap((text) =>
  [...text.matchAll(/\/\*\*((?:(?!\*\/)[^])*)\*\/\nexport function (\w+)\((?:(?!\n\}\n)[^])*?\): OpResult</g)].map(
    ([, doc, name]) => ({
      name: name!,
      code: doc!.split('@example')[1]?.split('\n *\n')[0]?.replace(/^ \*/gm, '').trim() ?? '',
    }),
  ),
);

describe('each operation', () => {
  it('is found', () => expect(OPERATIONS.length).toBeGreaterThan(40));

  it.each(OPERATIONS)('$name has an example that runs', ({ name, code }) => {
    expect(code).toContain(`${name}(`);
    const script = ts.transpile(`${code}\nreturn mesh;`, { target: ts.ScriptTarget.ES2022 });
    const run = new Function(...Object.keys(NAMES), script) as (...values: unknown[]) => mesh.PolyMesh;
    expect(mesh.faceCount(run(...Object.values(NAMES)))).toBeGreaterThan(0);
  });
});
