/** The `terrace` command. What a command needs is loaded with it: the server is not for what only computes. */
import { Misuse } from './misuse';

const USAGE = `terrace <command>

  demo [--reset]   start with the demo company; --reset builds it anew
  serve            start with the company in the data folder; where there is none, it is founded
                   in the browser, by a code that is printed here
  migrate          bring the database up to date and stop
  backup FILE      copy everything into one file, while in use or not;
                   encrypted where TERRACE_PASSPHRASE is set
  archive FILE     write everything as open files into one packed file, while in use or not
  restore FILE     check a backup and put it in place; stop the server first
  check            check everything kept; exit code 1 where something is wrong
  compute plan     plan one problem: JSON on standard input, JSON on standard output
  compute cost     value the moves of one item: JSON in, JSON out; what is refused ends with exit code 2
  compute forecast forecast one item from its history, with the errors of all methods
                   (--lines, with each: one problem a line gives one result a line)

Settings: TERRACE_PORT (4300), TERRACE_HOST (127.0.0.1), TERRACE_DATA (data), TERRACE_TODAY, TERRACE_LOG (info),
          TERRACE_PROXY (reverse proxies that are believed), TERRACE_PASSPHRASE (of backups)`;

async function main(): Promise<number> {
  const [command = 'help', ...rest] = process.argv.slice(2);
  switch (command) {
    case 'demo':
    case 'serve':
    case 'migrate':
    case 'backup':
    case 'archive':
    case 'restore':
    case 'check':
      return (await import('./company')).withCompany(command, rest);
    case 'compute':
      return (await import('./compute')).compute(rest[0] ?? '', rest.includes('--lines'));
    case 'help':
    case '--help':
      process.stdout.write(`${USAGE}\n`);
      return 0;
    default:
      throw new Misuse(`there is no command "${command}"\n\n${USAGE}`);
  }
}

main().then(
  (code) => {
    if (code >= 0) process.exitCode = code;
  },
  (error: unknown) => {
    process.stderr.write(`terrace: ${error instanceof Error ? error.message : String(error)}\n`);
    process.exitCode = error instanceof Misuse ? 2 : 1;
  },
);
