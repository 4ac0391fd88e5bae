// Before all test files of a run: models that the command line has read in it are kept in a folder of its own, so that test files that ask for the same ones share them.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export default () => {
  process.env.RUOTA_MODELS = mkdtempSync(join(tmpdir(), 'ruota-test-models-'));
  process.once('exit', () => rmSync(process.env.RUOTA_MODELS, { recursive: true, force: true }));
};
