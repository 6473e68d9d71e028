import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { format } from 'prettier';
import { commandLineDoc, projectSchema } from './docs.ts';

/** `npm run docs`: writes what is generated under `docs/`. */
const DOCS = path.join(path.dirname(fileURLToPath(import.meta.url)), '../../docs');
await writeFile(path.join(DOCS, 'command-line.md'), await format(commandLineDoc(), { parser: 'markdown' }));
await writeFile(path.join(DOCS, 'project.schema.json'), await format(projectSchema(), { parser: 'json' }));
