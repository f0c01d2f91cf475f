import { CommandError } from './commandError.js';
import { efficiency } from './commands/efficiency.js';
import { evaluate } from './commands/evaluate.js';
import { loop } from './commands/loop.js';
import { netlist } from './commands/netlist.js';
import { parts } from './commands/parts.js';
import { phases } from './commands/phases.js';
import { simulate } from './commands/simulate.js';
import { size } from './commands/size.js';
import { steadyState } from './commands/steadyState.js';
import type { Command } from './command.js';

export { supervise } from './supervise.js';

const COMMANDS: Readonly<Record<string, Command>> = {
  size,
  evaluate,
  parts,
  'steady-state': steadyState,
  simulate,
  efficiency,
  phases,
  loop,
  netlist,
};

const usage = (): string =>
  [
    'Usage: yundro COMMAND FILE [options]      (FILE - reads standard input)',
    '',
    ...Object.entries(COMMANDS).map(([name, { summary }]) => `  ${name.padEnd(13)} ${summary}`),
    '',
    '  --json          print one JSON document instead of text',
    '  --patience S    seconds of processor time the command may take; 18 unless given',
    '',
  ].join('\n');

/**
 * Run one command.
 *
 * @returns the exit code: 0 done, 1 failed inside, 2 bad input.
 */
export async function main(words: readonly string[]): Promise<number> {
  const [name, ...rest] = words;
  if (name === undefined || name === 'help' || name === '--help' || name === '-h') {
    process.stdout.write(usage());
    return name === undefined ? 2 : 0;
  }
  const command = Object.hasOwn(COMMANDS, name) ? COMMANDS[name] : undefined;
  try {
    if (!command)
      throw new CommandError(`There is no command “${name}”; the commands are ${Object.keys(COMMANDS).join(', ')}.`);
    process.stdout.write(await command.run(rest));
    return 0;
  } catch (error) {
    if (error instanceof CommandError) {
      process.stderr.write(`${error.message}\n`);
      return 2;
    }
    const sentence = error instanceof Error ? error.message : String(error);
    process.stderr.write(`Yundro failed inside: ${sentence.split('\n')[0] ?? ''}\n`);
    return 1;
  }
}
