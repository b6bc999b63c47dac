// Bundles the programs with esbuild and the client with Vite into .build/ and apps/web/dist/. Only what changed is built anew.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const out = join(root, '.build');
mkdirSync(out, { recursive: true });

function fingerprint(folders) {
  const hash = createHash('sha256');
  const visit = (path) => {
    if (!existsSync(path)) return;
    if (statSync(path).isFile()) {
      hash.update(path).update(readFileSync(path));
      return;
    }
    for (const name of readdirSync(path).sort())
      if (!['node_modules', 'dist', 'migrations'].includes(name)) visit(join(path, name));
  };
  for (const folder of folders) visit(join(root, folder));
  return hash.digest('hex');
}

async function when(name, folders, made, build) {
  const mark = join(out, `${name}.mark`);
  const now = fingerprint([...folders, 'package-lock.json', 'scripts/build.mjs']);
  if (existsSync(mark) && existsSync(join(root, made)) && readFileSync(mark, 'utf8') === now) return;
  await build();
  writeFileSync(mark, now);
}

const wanted = process.argv.slice(2);
if (!wanted.length || wanted.includes('programs')) {
  await when(
    'programs',
    ['packages', 'apps/server/src', 'apps/loom', 'apps/stand-ins/src', 'demo', 'bench', 'scripts'],
    '.build/start.js',
    async () => {
      const { build } = await import('esbuild');
      await build({
        absWorkingDir: root,
        entryPoints: {
          server: 'apps/server/src/main-server.ts',
          worker: 'apps/server/src/main-worker.ts',
          'run-thread': 'apps/server/src/run-thread.ts',
          'match-thread': 'apps/server/src/features/duplicates/match-thread.ts',
          'match-helper': 'apps/server/src/features/duplicates/match-helper.ts',
          'import-thread': 'apps/server/src/features/intake/import-thread.ts',
          'sheet-thread': 'apps/server/src/features/intake/files/sheet-thread.ts',
          'write-sheet-thread': 'apps/server/src/features/contacts/write-sheet-thread.ts',
          'stand-ins': 'apps/stand-ins/src/main.ts',
          loom: 'apps/loom/src/main.ts',
          start: 'scripts/start.ts',
          bench: 'bench/main.ts',
        },
        outdir: '.build',
        bundle: true,
        splitting: false,
        platform: 'node',
        target: 'node20',
        format: 'esm',
        sourcemap: true,
        logLevel: 'warning',
        plugins: [
          {
            // Our own packages are bundled, everything from the registry is not.
            name: 'own-packages-only',
            setup(b) {
              b.onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
                kind === 'entry-point' || path.startsWith('@gray-loom/') ? undefined : { path, external: true },
              );
            },
          },
        ],
      });
    },
  );
}
if (!wanted.length || wanted.includes('web')) {
  await when('web', ['packages', 'apps/web'], 'apps/web/dist/index.html', async () => {
    const { build } = await import('vite');
    await build({ root: join(root, 'apps/web'), logLevel: 'warn' });
  });
}
