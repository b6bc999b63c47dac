import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@jest/globals';
import { makeTempFolder, sweepTempFolders } from './temp-folder';

test('folders of a process that was killed are dropped, those of one that runs stay', () => {
  const ended = spawnSync(process.execPath, ['-e', '']).pid;
  const left = join(tmpdir(), `gray-loom-${ended}-zip-abc`);
  mkdirSync(left, { recursive: true });
  writeFileSync(join(left, 'packed.zip'), 'x');
  const own = makeTempFolder('zip');
  sweepTempFolders();
  expect([existsSync(left), existsSync(own.path)]).toEqual([false, true]);
  own.drop();
  expect(existsSync(own.path)).toBe(false);
});
