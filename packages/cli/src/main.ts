import { InvalidTargetError } from '@tonos/core';
import { Command, CommanderError } from 'commander';
import type { AssembleOptions } from './commands/assemble.ts';
import type { DeliverOptions } from './commands/deliver.ts';
import type { ProposeOptions } from './commands/propose.ts';
import type { RenderOptions } from './commands/render.ts';
import type { RunOptions } from './commands/run.ts';
import { EXIT } from './exit-status.ts';
import { UsageError } from './usage-error.ts';

/** The `tonos` command. Results on standard output, everything else on standard error. */
const program = new Command('tonos')
  .description('Measures, checks and renders voice files.')
  .exitOverride()
  .showHelpAfterError();
let status = 0;

program
  .command('measure')
  .description('every measure of each file')
  .argument('<files...>')
  .option('--json', 'one JSON array')
  .action(async (files: string[], options) => {
    const { measure } = await import('./commands/measure.ts');
    status = await measure(files, options);
  });

program
  .command('check')
  .description('measure each file and judge it by a target')
  .argument('<files...>')
  .requiredOption('--target <target>', 'a target file, or the name of one that ships')
  .option('--json', 'one JSON array')
  .action(async (files: string[], options) => {
    const { check } = await import('./commands/check.ts');
    status = await check(files, options);
  });

program
  .command('render')
  .description('run a chain over each file, write and judge what comes out')
  .argument('<files...>')
  .requiredOption('--chain <chain>', 'a chain file, or the name of one that ships')
  .requiredOption('--out <folder>', 'where outputs go')
  .option('--target <target>', 'a target file, or the name of one that ships')
  .option('--adjust <file>', 'a file of adjustments to the chain (tonos.adjustments/1)')
  .option('--cuts <file>', 'cuts to be made before the chain (tonos.cuts/1)')
  .option(
    '--modules <place...>',
    'where the chain\u2019s modules lie: files, or folders of them; else beside the chain, or in TONOS_MODULES',
  )
  .option('--set', 'take the files as recordings of one session: one time for all')
  .option('--json', 'one JSON array')
  .action(async (files: string[], options: RenderOptions) => {
    const { render } = await import('./commands/render.ts');
    status = await render(files, options);
  });

program
  .command('align')
  .description('where recordings of one session lie on the time of the first')
  .argument('<files...>')
  .option('--json', 'one JSON array')
  .action(async (files: string[], options) => {
    const { align } = await import('./commands/align.ts');
    status = await align(files, options);
  });

program
  .command('assemble')
  .description('put a programme together by a running order, or one for each file of a place')
  .requiredOption('--order <file>', 'a running order (tonos.order/1)')
  .requiredOption('--out <folder>', 'where outputs go')
  .option('--target <target>', 'a target file, or the name of one that ships')
  .option('--fill <place=file...>', 'what fills a place in every programme')
  .option(
    '--modules <place...>',
    'where the chain\u2019s modules lie: files, or folders of them; else beside the chain, or in TONOS_MODULES',
  )
  .option('--each <place=file...>', 'a place, and the files of it: one programme for each')
  .option('--json', 'one JSON array')
  .action(async (options: AssembleOptions) => {
    const { assemble } = await import('./commands/assemble.ts');
    status = await assemble(options);
  });

program
  .command('propose')
  .description('hear files and propose a chain that brings them onto a target')
  .argument('<files...>')
  .requiredOption('--target <target>', 'a target file, or the name of one that ships')
  .requiredOption('--out <folder>', 'where proposal.chain.json and proposal.adjust.json go')
  .option(
    '--modules <place...>',
    'where the chain\u2019s modules lie: files, or folders of them; else beside the chain, or in TONOS_MODULES',
  )
  .option('--chain <chain>', 'keep this chain, and propose adjustments only')
  .option('--json', 'one JSON object')
  .action(async (files: string[], options: ProposeOptions) => {
    const { propose } = await import('./commands/propose.ts');
    status = await propose(files, options);
  });

program
  .command('deliver')
  .description('pack the files that are within a target, with checksums and a report')
  .argument('<files...>')
  .requiredOption('--target <target>', 'a target file, or the name of one that ships')
  .requiredOption('--out <folder>', 'where the package goes')
  .option('--title <title>', 'what is delivered')
  .option('--json', 'one JSON array')
  .action(async (files: string[], options: DeliverOptions) => {
    const { deliver } = await import('./commands/deliver.ts');
    status = await deliver(files, options);
  });

program
  .command('run')
  .description('run a chain of a server over files: send them, wait, fetch what is within')
  .argument('<files...>')
  .requiredOption(
    '--server <url>',
    'the server, such as https://tonos.example.org; its token is taken from TONOS_TOKEN',
  )
  .requiredOption('--title <title>', 'a title of the server, by name or id')
  .requiredOption('--chain <chain>', 'a chain of the server, by name or id')
  .requiredOption('--target <target>', 'a target of the server, by name or id')
  .requiredOption('--out <folder>', 'where outputs go')
  .option('--json', 'one JSON array')
  .action(async (files: string[], options: RunOptions) => {
    // what crosses HTTP is not wanted by the commands that stay on this machine
    const { run } = await import('./commands/run.ts');
    status = await run(files, options);
  });

program
  .command('backup')
  .description('copy the server\u2019s database and files, while it runs; data folder: TONOS_DATA')
  .requiredOption('--to <folder>', 'where the copy goes; what is there already is not copied again')
  .action(async (options: { to: string }) => {
    const { backup } = await import('./commands/backup.ts');
    status = await backup(options);
  });

program
  .command('worker-token')
  .description('make a token by which a machine works along with the server of TONOS_DATA, or end one')
  .option('--name <name>', 'make one that is called so; it is printed this once')
  .option('--revoke <name>', 'end the one that is called so')
  .action(async (options: { name?: string; revoke?: string }) => {
    const { workerToken } = await import('./commands/worker-token.ts');
    status = await workerToken(options);
  });

program
  .command('restore')
  .description('bring a backup back into a data folder that is not there yet: TONOS_DATA')
  .requiredOption('--from <folder>', 'where the backup lies')
  .action(async (options: { from: string }) => {
    const { restore } = await import('./commands/backup.ts');
    status = await restore(options);
  });

program
  .command('module')
  .description('modules: processes of one\u2019s own')
  .command('check')
  .description('run the step contract over a module and say what fails')
  .argument('<file>', 'a WebAssembly module (docs/modules.md)')
  .option('--json', 'as JSON')
  .action(async (file: string, options: { json?: boolean }) => {
    const { moduleCheck } = await import('./commands/module.ts');
    status = await moduleCheck(file, options);
  });

program
  .command('steps')
  .description('the kinds of steps and their settings')
  .option('--json', 'with a JSON Schema of each kind\u2019s settings')
  .action(async (options) => {
    const { steps } = await import('./commands/steps.ts');
    status = steps(options);
  });

try {
  await program.parseAsync();
} catch (error) {
  if (error instanceof CommanderError) status = error.exitCode === 0 ? 0 : EXIT.usage;
  else {
    process.stderr.write(`${(error as Error).message}\n`);
    status = error instanceof UsageError || error instanceof InvalidTargetError ? EXIT.usage : EXIT.unprocessed;
  }
}
process.exitCode = status;
