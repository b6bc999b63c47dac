import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { benchChecks } from './checks';
import { benchHistories } from './histories';
import { benchImport } from './import';
import { benchKilled } from './killed';
import { benchLaws } from './laws';
import { benchMailer } from './mailer';
import { benchMatch } from './match';
import { benchPeople } from './people';
import { benchSync } from './sync';
import type { BenchResult } from './harness';

const ROOT = process.env.GRAY_LOOM_ROOT ?? process.cwd();
const BENCHES: Record<string, () => Promise<BenchResult>> = {
  import: benchImport,
  people: benchPeople,
  killed: benchKilled,
  match: benchMatch,
  checks: benchChecks,
  sync: benchSync,
  mailer: benchMailer,
  histories: benchHistories,
  laws: benchLaws,
};

const args = process.argv.slice(2);
const json = args.includes('--json');
const name = args.find((arg) => !arg.startsWith('--'));
const chosen = name ? [name] : Object.keys(BENCHES);
const unknown = chosen.find((one) => !BENCHES[one]);
if (unknown) {
  process.stderr.write(`There is no bench '${unknown}'; there are ${Object.keys(BENCHES).join(', ')}.\n`);
  process.exit(2);
}
let holds = true;
for (const one of chosen) {
  const result = await BENCHES[one]?.();
  if (!result) continue;
  const folder = join(ROOT, 'bench/results');
  mkdirSync(folder, { recursive: true });
  writeFileSync(
    join(folder, `${new Date().toISOString().slice(0, 10)}-${one}.json`),
    `${JSON.stringify(result, null, 1)}\n`,
  );
  if (json) process.stdout.write(`${JSON.stringify(result)}\n`);
  else {
    for (const claim of result.claims)
      process.stdout.write(
        `${claim.holds ? 'holds ' : 'BROKEN'}  ${claim.claim}: ${claim.value} ${claim.unit} (limit ${claim.limit})\n`,
      );
    for (const [figure, value] of Object.entries(result.figures))
      process.stdout.write(`        ${figure}: ${value.toFixed(2)}\n`);
  }
  holds &&= result.claims.every((claim) => claim.holds);
}
process.exit(holds ? 0 : 1);
