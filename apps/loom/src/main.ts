import { existsSync, statSync } from 'node:fs';
import { isOneOf } from '@gray-loom/core/segments';
import { parseArgs } from 'node:util';
import { countsInWords, exportFromBook, filterOf, importIntoBook, trialInBook, withBook } from './book';
import { inspect, printInspection } from './inspect';
import { matchFile } from './match';
import { withTable } from './packed-file';
import { Refusal, WrongUsage } from './refusal';
import { syncByName } from './sync';
import { trialOffline } from './trial';

const USAGE = `usage: ./loom COMMAND
  inspect FILE [--json]                              how a file reads and what its columns mean
  trial FILE [--mapping NAME] [--json]               what each row would become, with the people who are here
  trial FILE --offline [--country ID] [--json]       the same in an empty book, without a database
  import FILE [--mapping NAME] [--json]              brings a file in; held rows wait in Intake
  export all --out FILE [--tag T] [--stage S] [--source S] [--area A] [--owner O] [--find TEXT] [--kind organization]
         [--fields a,b] [--version 3.0] [--activity] contacts as .csv, .tsv, .jsonl or .vcf; their activity as .csv
         trial, import, export and sync work on the data of ./start; --data DIR or DATABASE_URL name another
  sync NAME [--trial] [--json]                       runs a connection, or shows what a run would change
  match FILE --out GROUPS.csv [--threshold 0.9 | --band certain] [--pairs PAIRS.csv [--explain]] [--organizations] [--json]
         finds duplicates among people, or among organizations; pairs with their weight, and with reasons in words, where asked for
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

async function run(argv: readonly string[]): Promise<void> {
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
      pairs: { type: 'string' },
      explain: { type: 'boolean', default: false },
      activity: { type: 'boolean', default: false },
      organizations: { type: 'boolean', default: false },
      mapping: { type: 'string' },
      trial: { type: 'boolean', default: false },
      data: { type: 'string' },
      tag: { type: 'string', default: '' },
      stage: { type: 'string', default: '' },
      source: { type: 'string', default: '' },
      area: { type: 'string', default: '' },
      owner: { type: 'string', default: '' },
      find: { type: 'string', default: '' },
      kind: { type: 'string', default: 'person' },
      fields: { type: 'string', default: '' },
      version: { type: 'string', default: '4.0' },
    },
  });
  switch (command) {
    case 'inspect':
      await withTable(fileArgument(positionals), (path, madeOf) =>
        print(inspect(path, madeOf), values.json, printInspection),
      );
      return;
    case 'trial': {
      const file = fileArgument(positionals);
      if (values.offline) {
        await withTable(file, (path, madeOf) =>
          print(trialOffline(path, values.country, madeOf), values.json, (found) => {
            const counts: Record<string, number> = {};
            for (const { outcome } of found.rows as { outcome: string }[]) counts[outcome] = (counts[outcome] ?? 0) + 1;
            return countsInWords(counts);
          }),
        );
        return;
      }
      const found = await withBook(values.data, (database, url) => trialInBook(database, url, file, values));
      const about = await withTable(file, inspect);
      print({ ...about, ...found }, values.json, ({ counts }) => countsInWords(counts as Record<string, number>));
      return;
    }
    case 'import': {
      const file = fileArgument(positionals);
      const found = await withBook(values.data, (database, url) => importIntoBook(database, url, file, values));
      print(found, values.json, ({ counts, runId }) =>
        [countsInWords(counts as Record<string, number>), `run ${String(runId)} in the ledger`].join('; '),
      );
      return;
    }
    case 'export': {
      const [which, ...more] = positionals;
      if (!which || more.length)
        throw new WrongUsage(
          "Say which contacts: 'all' or the name of a segment, narrowed by --tag, --stage, --source, --area, --owner or --find.",
        );
      const { out, tag, stage, source, area, owner, find, kind, fields, version, activity } = values;
      if (!out) throw new WrongUsage('Name the file to write with --out.');
      if (kind !== 'person' && kind !== 'organization')
        throw new WrongUsage(`--kind is '${kind}'; it can be person or organization.`);
      if (version !== '3.0' && version !== '4.0')
        throw new WrongUsage(`--version is '${version}'; it can be 3.0 or 4.0.`);
      const narrowed = { tags: tag, stage, source, '@area': area, owner };
      const tests = Object.entries(narrowed).flatMap(([field, label]) => (label ? [isOneOf(field, label)] : []));
      const bytes = await withBook(values.data, async (database) =>
        exportFromBook(database, out, await filterOf(database, which, { find, kind, tests }), {
          fields: fields.split(',').filter(Boolean),
          version,
          activity,
        }),
      );
      print({ out, bytes }, values.json, () => `${bytes.toLocaleString('en-GB')} bytes written to ${out}`);
      return;
    }
    case 'sync': {
      const [name, ...more] = positionals;
      if (!name || more.length) throw new WrongUsage('Name one connection, in quotes where its name has blanks.');
      const found = await withBook(values.data, (database, url) => syncByName(database, url, name, values));
      print(found, values.json, ({ state, counts, changesInAll, runId }) =>
        [
          `${name}: ${values.trial ? 'trial' : 'run'} ${String(runId)}, ${String(state) === 'paused' ? 'held by the brake' : String(state)}`,
          Object.entries(counts as Record<string, number>)
            .filter(([, n]) => n > 0)
            .map(([what, n]) => `${what} ${n}`)
            .join(', ') || 'nothing to do',
          `${String(changesInAll)} changes in its report`,
        ].join('\n'),
      );
      if (found.state === 'paused') throw new Refusal('The brake holds the run; decide under Syncs.');
      return;
    }
    case 'match': {
      if (!values.out) throw new WrongUsage('Name the file to write with --out.');
      if (values.band !== undefined && values.band !== 'certain')
        throw new WrongUsage(`--band is '${values.band}'; it can be certain.`);
      const threshold01 = Number(values.threshold ?? 0.9);
      if (!(threshold01 > 0 && threshold01 < 1))
        throw new WrongUsage(`--threshold is '${values.threshold}'; it must be above 0 and below 1.`);
      if (values.explain && !values.pairs)
        throw new WrongUsage('--explain says why pairs are one; name the file for them with --pairs.');
      print(
        matchFile(fileArgument(positionals), {
          out: values.out,
          threshold01,
          certainOnly: values.band === 'certain',
          pairs: values.pairs,
          explain: values.explain,
          organizations: values.organizations,
        }),
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
  await run(process.argv.slice(2));
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
