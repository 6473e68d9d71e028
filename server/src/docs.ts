import { z } from 'zod';
import { DOCUMENT_VERSION, ProjectFrame } from '@dusky-mason/core/courses';
import { sectionOf } from './command.ts';
import { COMMANDS } from './commands/index.ts';
import { KINDS, strokeOfKind } from './commands/stroke.ts';

const HEAD = `# The command line

Written by \`npm run docs\` from the declarations of the commands and the strokes.

\`npm run -s mason -- COMMAND …\` is the same core as the page, without a screen.

- Meshes are read from .obj and .stl, and written as .obj, .stl or .glb, by the ending of the name.
- A length without a unit is in millimetres; \`2.2m\`, \`1/4in\` and sums are read, too. An angle without one is in degrees.
- Every command tells in lines what came out, or with \`--json\` in one line of JSON. Words and keys stay as they are.

| Exit | When |
| --- | --- |
| 0 | done |
| 2 | bad input or usage: one sentence on stderr |
| 3 | the operation could not be done correctly; nothing was written |
| 4 | \`survey --strict\` found errors |
| 1 | anything else |
`;

/** `docs/command-line.md`: every command and every stroke with its options. */
export function commandLineDoc(): string {
  const commands = Object.entries(COMMANDS).map(([word, c]) => sectionOf(word, c));
  const strokes = KINDS.map((kind) => sectionOf(`stroke ${kind}`, strokeOfKind(kind)));
  return [HEAD, '## Commands\n', ...commands, '## Strokes\n', ...strokes].join('\n');
}

/** `docs/project.schema.json`: the JSON schema of a project document, as it is written. */
export function projectSchema(): string {
  const schema = z.toJSONSchema(ProjectFrame, { io: 'input', unrepresentable: 'any', reused: 'ref' });
  return JSON.stringify({ title: `Dusky Mason project document, version ${DOCUMENT_VERSION}`, ...schema }, null, 1);
}
