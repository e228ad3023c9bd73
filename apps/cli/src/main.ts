import process from 'node:process';
import { command } from './command.ts';

// whoever reads may have had enough, as “head” has
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code !== 'EPIPE') throw error;
  process.exit(process.exitCode ?? 0);
});

process.exitCode = await command(process.argv.slice(2));
