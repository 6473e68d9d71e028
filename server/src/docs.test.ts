import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { format } from 'prettier';
import { expect, it } from 'vitest';
import { commandLineDoc, projectSchema } from './docs.ts';

const kept = (name: string) => readFile(path.join(import.meta.dirname, '../../docs', name), 'utf8');

// `npm run docs` writes both anew.
it('the documented command line is that of the declarations', async () => {
  expect(await format(commandLineDoc(), { parser: 'markdown' })).toBe(await kept('command-line.md'));
});

it('the documented schema is that of the document', async () => {
  expect(await format(projectSchema(), { parser: 'json' })).toBe(await kept('project.schema.json'));
});
