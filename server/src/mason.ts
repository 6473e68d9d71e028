import path from 'node:path';
import { isStrokeKind } from '@dusky-mason/core/courses';
import { MasonError, sentenceOf } from '@dusky-mason/core/mesh';
import { type Command, Ended, EXIT, helpOf, readAs, specsOf, usageOf, type Write } from './command.ts';
import { COMMANDS } from './commands/index.ts';
import { strokeHelp } from './commands/stroke.ts';
import { parseTyped, UsageError } from './flags.ts';

const HELP = `mason: carve and survey meshes without the screen

${Object.entries(COMMANDS)
  .map(([word, c]) => `  mason ${word} ${c.takes} …`)
  .join('\n')}
  mason help [COMMAND]

FILE, IN, TARGET and CUTTER are .obj or .stl to read; what is written is .obj, .stl or .glb. PROJECT is a project file
or a bare project document. Numbers are millimetres. Exit: 0 done, 2 bad input or usage, 3 could not be done correctly,
4 errors found (--strict), 1 anything else.
`;

/**
 * What `mason help TOPIC` says: of a command, or of a stroke (`stroke KIND`, or its kind alone where no command has its
 * name).
 */
function help([topic, kind = topic ?? '']: string[]): string {
  if (topic === undefined) return HELP;
  if (Object.hasOwn(COMMANDS, topic) && (topic !== 'stroke' || kind === topic)) return helpOf(topic, COMMANDS[topic]!);
  if (isStrokeKind(kind)) return strokeHelp(kind);
  throw new UsageError(`There is no help on "${kind}"; topics are ${Object.keys(COMMANDS).join(', ')}.`);
}

/**
 * Runs the command and returns its exit status; everything goes through `write` and `warn`, so that tests can listen.
 */
export async function mason(argv: string[], write: Write, warn: Write): Promise<number> {
  try {
    const [named = 'help', ...rest] = argv;
    const word = argv.includes('--help') || named === '-h' ? 'help' : named;
    if (word === 'help') {
      if (rest.length > 2 && word === named) throw new UsageError('Usage: mason help [COMMAND [KIND]]');
      write(help(word === named ? rest : []));
      return EXIT.done;
    }
    if (!Object.hasOwn(COMMANDS, word)) throw new UsageError(`There is no command "${word}"; see mason help.`);
    await run(word, COMMANDS[word]!, rest, write);
    return EXIT.done;
  } catch (e) {
    if (e instanceof Ended) return e.status;
    warn(sentenceOf(e));
    if (e instanceof UsageError) return EXIT.usage;
    if (e instanceof MasonError) return e.code === 'not-done' ? EXIT.notDone : EXIT.usage;
    return EXIT.other;
  }
}

async function run(word: string, command: Command, rest: string[], write: Write): Promise<void> {
  const specs = specsOf(command, rest[0]);
  const { args, values, switches } = parseTyped(rest, readAs(specs), word);
  const [least, most] = command.words;
  const missing = Object.keys(specs).find((k) => specs[k]!.needed && !Object.hasOwn(values, k));
  if (args.length < least || args.length > most || missing)
    throw new UsageError(`${missing ? `--${missing} is missing. ` : ''}Usage: ${usageOf(word, command)}`);
  await command.run({ args, values, on: (k) => switches.has(k), json: switches.has('json'), write });
}

// The reader may have closed the output, as `head` does: nothing is written then.
const onClosed = (e: NodeJS.ErrnoException): void => {
  if (e.code !== 'EPIPE') throw e;
  process.exit(EXIT.done);
};
if (process.argv[1] && import.meta.url.endsWith(path.basename(process.argv[1]))) {
  process.stdout.on('error', onClosed);
  process.stderr.on('error', onClosed);
  process.exitCode = await mason(
    process.argv.slice(2),
    (t) => void process.stdout.write(t),
    (t) => void process.stderr.write(`mason: ${t}\n`),
  );
}
