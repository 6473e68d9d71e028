// The arrows of the house: which workspace may import which, and which folder of core/src may import which.
// Both rules read plain import statements, so they need no type information and stay fast.
import fs from 'node:fs';
import path from 'node:path';

/** Workspaces, and the workspaces of ours that each may import. */
export const WORKSPACES = { core: [], server: ['core'], web: ['core'], e2e: [] };

const BELOW_COURSES = ['mesh', 'units', 'shapes', 'carve', 'survey', 'mend', 'dress', 'recast', 'inlay', 'formats'];

/** Folders of core/src, and the folders that each may import. */
export const CORE_FOLDERS = {
  mesh: [],
  units: [],
  shapes: ['mesh'],
  carve: ['mesh', 'shapes'],
  survey: ['mesh'],
  mend: ['mesh', 'survey'],
  dress: ['mesh', 'survey', 'mend'],
  recast: ['mesh', 'carve', 'survey'],
  inlay: ['mesh', 'carve'],
  formats: ['mesh', 'shapes', 'units'],
  courses: BELOW_COURSES,
  demo: ['courses', ...BELOW_COURSES],
};

/** Rooms of core/src/courses from the lowest up: each may import those below it. */
export const COURSE_ROOMS = ['base', 'settings', 'document', 'cutters', 'kinds', 'evaluate'];

const UNDER_TOOLS = ['theme', 'words', 'engine', 'stores'];

/** Folders of web/src, and the folders that each may import; files beside them start the page and may import all. */
export const WEB_FOLDERS = {
  theme: [],
  words: [],
  engine: [],
  stores: ['theme', 'words', 'engine'],
  tools: UNDER_TOOLS,
  components: ['tools', ...UNDER_TOOLS],
  viewport: ['components', 'tools', ...UNDER_TOOLS],
  cards: ['components', 'tools', ...UNDER_TOOLS],
  views: ['viewport', 'cards', 'components', 'tools', ...UNDER_TOOLS],
};

/** Where an import lands, as a path from the root of the house, or null for a package that is not ours. */
export function resolveImport(root, file, spec) {
  if (spec.startsWith('.')) return path.relative(root, path.resolve(path.dirname(file), spec));
  const own = /^@dusky-mason\/([^/]+)(?:\/(.*))?$/.exec(spec);
  if (!own) return null;
  const [, workspace, rest] = own;
  return workspace === 'core' && rest ? `core/src/${rest}/index.ts` : `${workspace}/${rest ?? ''}`;
}

/** The sentence that says why an import is not allowed, or null when it is. */
export function arrowProblem(root, file, spec) {
  const target = resolveImport(root, file, spec);
  if (target === null) return null;
  const [fromSpace, , fromFolder, fromRoom] = path.relative(root, file).split(path.sep);
  const [toSpace, , toFolder, ...toRest] = target.split(path.sep);
  if (!(fromSpace in WORKSPACES)) return null;
  if (fromSpace !== toSpace) {
    return WORKSPACES[fromSpace].includes(toSpace) ? null : `${fromSpace}/ may not import ${toSpace}/.`;
  }
  // Tests may take their bodies from anywhere in their workspace.
  if (/(\.test|\/testing)\.ts$/.test(file)) return null;
  if (fromSpace === 'web') return folderProblem(fromFolder, toFolder);
  if (fromSpace !== 'core') return null;
  if (fromFolder === toFolder) return fromFolder === 'courses' ? roomProblem(fromRoom, toRest[0]) : null;
  if (!(CORE_FOLDERS[fromFolder] ?? []).includes(toFolder))
    return `core/src/${fromFolder} may not import core/src/${toFolder}.`;
  return toRest.join('/') === 'index.ts' ? null : `Import core/src/${toFolder} through its index.ts.`;
}

/** Why a file of one folder of the page may not import one of another, or null. */
function folderProblem(from, to) {
  if (!(from in WEB_FOLDERS) || from === to || WEB_FOLDERS[from].includes(to)) return null;
  return `web/src/${from} may not import web/src/${to}.`;
}

/** Why a file of one room of the courses may not import one of another, or null. */
function roomProblem(from, to) {
  if (!COURSE_ROOMS.includes(from)) return null;
  if (COURSE_ROOMS.slice(0, COURSE_ROOMS.indexOf(from) + 1).includes(to)) return null;
  return `core/src/courses/${from} may not import ${to} of the courses.`;
}

const importNodes = (check) => ({
  ImportDeclaration: (node) => check(node, node.source.value),
  ExportNamedDeclaration: (node) => node.source && check(node, node.source.value),
  ExportAllDeclaration: (node) => check(node, node.source.value),
  ImportExpression: (node) => node.source.type === 'Literal' && check(node, String(node.source.value)),
});

const arrows = {
  meta: { type: 'problem', schema: [], messages: { arrow: '{{why}}' } },
  create: (context) =>
    importNodes((node, spec) => {
      const why = arrowProblem(context.cwd, context.filename, spec);
      if (why) context.report({ node, messageId: 'arrow', data: { why } });
    }),
};

const imports = new Map();
/** Files of ours that a file imports, for their types alone, too. */
function importsOf(root, file) {
  const known = imports.get(file);
  if (known) return known;
  const found = [];
  if (fs.existsSync(file)) {
    const text = fs.readFileSync(file, 'utf8');
    for (const m of text.matchAll(/(?:^|\n)\s*(?:import|export)\s+[^;'"]*?from\s+'([^']+)'/g)) {
      const target = resolveImport(root, file, m[1]);
      if (target !== null) found.push(path.join(root, target));
    }
  }
  imports.set(file, found);
  return found;
}

/** The way back from a file to itself over imports, or null. */
export function cycleThrough(root, file, first) {
  const parent = new Map([[first, file]]);
  const queue = [first];
  while (queue.length) {
    const at = queue.shift();
    if (at === file) return true;
    for (const next of importsOf(root, at))
      if (!parent.has(next)) {
        parent.set(next, at);
        queue.push(next);
      }
  }
  return false;
}

const noCycle = {
  meta: { type: 'problem', schema: [], messages: { cycle: 'This import closes a cycle back to this file.' } },
  create: (context) => ({
    ImportDeclaration(node) {
      const target = resolveImport(context.cwd, context.filename, node.source.value);
      if (target && cycleThrough(context.cwd, context.filename, path.join(context.cwd, target)))
        context.report({ node, messageId: 'cycle' });
    },
  }),
};

/** Whether an expression is an error's own text: `e.message` of whatever was caught, or `String(e)`. */
const isRawText = (node) =>
  (node.type === 'MemberExpression' && node.property.name === 'message') ||
  (node.type === 'CallExpression' && node.callee.name === 'String');

/** What a person reads goes through `sentenceOf`: no library's or engine's own text gets through. */
const sentences = {
  meta: {
    type: 'problem',
    schema: [],
    messages: {
      raw: 'Say an error with sentenceOf(e): its own text may be a library’s.',
      plain: 'Throw a SaidError or a MasonError with a sentence for the user; plain errors are for programmers.',
    },
  },
  create: (context) => ({
    ConditionalExpression(node) {
      const { test } = node;
      if (test.type === 'BinaryExpression' && test.operator === 'instanceof' && test.right.name === 'Error')
        if (isRawText(node.consequent) || isRawText(node.alternate)) context.report({ node, messageId: 'raw' });
    },
    ThrowStatement(node) {
      if (node.argument.type === 'NewExpression' && node.argument.callee.name === 'Error')
        context.report({ node, messageId: 'plain' });
    },
  }),
};

export default { rules: { arrows, 'no-cycle': noCycle, sentences } };
