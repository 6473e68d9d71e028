import { readFileSync } from 'node:fs';
import path from 'node:path';
import ts from 'typescript';
import { describe, expect, it } from 'vitest';

const README = readFileSync(path.join(import.meta.dirname, '../README.md'), 'utf8');

/** The examples, by the title of their section. */
const EXAMPLES = [...README.matchAll(/## ([^\n]+)\n\n```ts\n([^]*?)```/g)].map(([, title, code]) => ({
  title,
  code: code!,
}));

const said = (x: unknown): string => (typeof x === 'string' ? x : JSON.stringify(x));

/** Runs an example with what it imports from the faces of the core; what it printed. */
async function printed(code: string): Promise<string[]> {
  const names: Record<string, unknown> = {};
  for (const [, list, folder] of code.matchAll(/import \{([^}]+)\} from '@dusky-mason\/core\/(\w+)'/g)) {
    const face = (await import(`./${folder}/index.ts`)) as Record<string, unknown>;
    for (const name of list!.split(',').map((n) => n.trim())) {
      expect(face, `${name} of ${folder}`).toHaveProperty(name);
      names[name] = face[name];
    }
  }
  const lines: string[] = [];
  const console = { log: (...values: unknown[]) => void lines.push(values.map(said).join(' ')) };
  const script = ts.transpile(code.replace(/^import .*\n/gm, ''), { target: ts.ScriptTarget.ES2022 });
  new Function(...Object.keys(names), 'console', script)(...Object.values(names), console);
  return lines;
}

describe('the examples of the README', () => {
  it('are three', () => expect(EXAMPLES.map((e) => e.title)).toEqual(['Cut', 'Bevel', 'Survey']));

  it.each(EXAMPLES)('$title prints what it says', async ({ code }) => {
    const promised = [...code.matchAll(/\/\/ → (.*)/g)].map(([, text]) => text!);
    expect(promised.length).toBeGreaterThan(1);
    expect(await printed(code)).toEqual(promised);
  });
});
