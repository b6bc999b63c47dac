import { existsSync, statSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { inspect, printInspection } from './inspect';
import { matchFile } from './match';
import { Refusal, WrongUsage } from './refusal';
import { trialOffline } from './trial';

const USAGE = `usage: ./loom COMMAND
  inspect FILE [--json]                              how a file reads and what its columns mean
  trial FILE --offline [--country ID] [--json]       what each row would become in an empty book
  match FILE --out GROUPS.csv [--threshold 0.9 | --band certain] [--json]
  bench [NAME] [--json]`;

function fileArgument(positionals: readonly string[]): string {
  const [file, ...rest] = positionals;
  if (!file || rest.length) throw new WrongUsage('Name one file.');
  if (!existsSync(file)) throw new Refusal(`${file}: there is no such file.`);
  if (!statSync(file).isFile()) throw new Refusal(`${file}: this is a folder, not a file.`);
  return file;
}

function print(value: Record<string, unknown>, json: boolean, words: (value: Record<string, unknown>) => string): void {
  process.stdout.write(`${json ? JSON.stringify(value, null, 1) : words(value)}\n`);
}

function run(argv: readonly string[]): void {
  const [command, ...rest] = argv;
  const { values, positionals } = parseArgs({
    args: [...rest],
    allowPositionals: true,
    options: {
      json: { type: 'boolean', default: false },
      country: { type: 'string', default: 'GB' },
      offline: { type: 'boolean', default: false },
      out: { type: 'string' },
      threshold: { type: 'string' },
      band: { type: 'string' },
    },
  });
  switch (command) {
    case 'inspect':
      print(inspect(fileArgument(positionals)), values.json, printInspection);
      return;
    case 'trial': {
      if (!values.offline)
        throw new WrongUsage(
          'Trial against the database comes with a later capability; add --offline to try against an empty book.',
        );
      print(trialOffline(fileArgument(positionals), values.country), values.json, (found) => {
        const counts = new Map<string, number>();
        for (const row of found.rows as { outcome: string }[])
          counts.set(row.outcome, (counts.get(row.outcome) ?? 0) + 1);
        return [...counts].map(([outcome, n]) => `${n} ${outcome}`).join(', ');
      });
      return;
    }
    case 'match': {
      if (!values.out) throw new WrongUsage('Name the file to write with --out.');
      if (values.band !== undefined && values.band !== 'certain')
        throw new WrongUsage(`--band is '${values.band}'; it can be certain.`);
      const threshold01 = Number(values.threshold ?? 0.9);
      if (!(threshold01 > 0 && threshold01 < 1))
        throw new WrongUsage(`--threshold is '${values.threshold}'; it must be above 0 and below 1.`);
      print(
        matchFile(fileArgument(positionals), { out: values.out, threshold01, certainOnly: values.band === 'certain' }),
        values.json,
        (found) =>
          [
            `${Number(found.records).toLocaleString('en-GB')} records, ${Number(found.comparedPairs).toLocaleString('en-GB')} pairs compared`,
            `${Number(found.groups).toLocaleString('en-GB')} groups of ${Number(found.groupedRecords).toLocaleString('en-GB')} records`,
            `${String(found.seconds)} s, peak memory ${String(found.peakMemoryMb)} MB, written to ${String(found.out)}`,
          ].join('\n'),
      );
      return;
    }
    default:
      throw new WrongUsage(command ? `There is no command '${command}'.` : 'Name a command.');
  }
}

try {
  run(process.argv.slice(2));
} catch (error) {
  if (error instanceof Refusal) {
    process.stderr.write(`${error.message}\n`);
    process.exit(1);
  }
  if (error instanceof WrongUsage || (error as { code?: string }).code?.startsWith('ERR_PARSE_ARGS')) {
    process.stderr.write(`${(error as Error).message}\n${USAGE}\n`);
    process.exit(2);
  }
  process.stderr.write(`${(error as Error).message.split('\n')[0]}\n`);
  process.exit(1);
}
