import { Marked } from 'marked';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { Plugin } from 'vite';

const DOCS = path.join(import.meta.dirname, '../docs');
/** The pages of the guide in the order in which one needs them, and the words. */
const PAGES = ['guide/cut', 'guide/survey', 'guide/dress', 'guide/dispatch', 'guide/yard', 'vocabulary'];
const NAME = 'virtual:guide';

/** Pictures stay with the documents; what leads to another document is text here. */
const marked = new Marked({
  renderer: {
    image: () => '',
    link({ tokens }) {
      return this.parser.parseInline(tokens);
    },
  },
});

/** A page as the dialog shows it: its first heading is its title, headings below go on from that of the dialog. */
function page(name: string): { id: string; title: string; html: string } {
  const text = readFileSync(path.join(DOCS, `${name}.md`), 'utf8');
  const [first, ...rest] = text.split('\n');
  const html = (marked.parse(rest.join('\n')) as string).replaceAll('<p></p>', '');
  return { id: name.replace('guide/', ''), title: first!.replace(/^#\s*/, ''), html };
}

/** The guide of `docs/` as HTML, made when the page is built: it is read in the page, too, and offline. */
export const guide = (): Plugin => ({
  name: 'guide',
  resolveId: (id) => (id === NAME ? `\0${NAME}` : undefined),
  load(id) {
    if (id !== `\0${NAME}`) return undefined;
    for (const name of PAGES) this.addWatchFile(path.join(DOCS, `${name}.md`));
    return `export default ${JSON.stringify(PAGES.map(page))}`;
  },
});
