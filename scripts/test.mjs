// Everything that has to be right: Jest with types, lint and direction of imports beside it, then Playwright. Ends with a plain line of counts.
import { spawn } from 'node:child_process';
import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ensureChromium, ensureInstalled, root } from './ready.mjs';

ensureInstalled();
ensureChromium();
const started = Date.now();
const failures = [];
const report = (name) => join(root, 'test-results', name);
mkdirSync(join(root, 'test-results'), { recursive: true });

/** Runs a step; what it says is shown at once, or kept until it ends. */
const step = (name, command, args, { env, quiet = false } = {}) =>
  new Promise((done) => {
    const from = Date.now();
    const child = spawn(command, args, { cwd: root, env: { ...process.env, ...env }, stdio: quiet ? 'pipe' : 'inherit' });
    let said = quiet ? `\n== ${name}\n` : '';
    if (quiet) for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => (said += text));
    else console.log(`\n== ${name}`);
    child.on('error', (error) => (said += error));
    child.on('close', (code) => {
      if (code !== 0) failures.push(name);
      console.log(`${said.trimEnd()}\n   ${name}: ${Math.round((Date.now() - from) / 100) / 10} s`);
      done();
    });
  });
const script = (name, ...args) => ['npm', ['run', '--silent', name, ...args]];

// On files that were just written, these wait for the disk more than they compute: one after the other beside Jest, which fills both cores.
const beside = async () => {
  await step('build', process.execPath, ['--input-type=module', '-e', `(await import('${import.meta.dirname}/ready.mjs')).ensureBuilt()`], { quiet: true });
  await step('types', ...script('typecheck'), { quiet: true });
  await step('direction of imports', ...script('imports'), { quiet: true });
  await step('format and lint', ...script('lint'), { quiet: true });
};
await Promise.all([beside(), step('Jest', ...script('jest', '--', '--json', `--outputFile=${report('jest.json')}`))]);
await step('Playwright', ...script('e2e'), { env: { PLAYWRIGHT_JSON_OUTPUT_NAME: report('e2e.json') } });

const read = (name) => {
  try {
    return JSON.parse(readFileSync(report(name), 'utf8'));
  } catch {
    return undefined;
  }
};
const jest = read('jest.json');
const e2e = read('e2e.json')?.stats;
const passed = (jest?.numPassedTests ?? 0) + (e2e?.expected ?? 0);
const broken = (jest?.numFailedTests ?? 0) + (e2e?.unexpected ?? 0) + (e2e?.flaky ?? 0);
const skipped = (jest?.numPendingTests ?? 0) + (e2e?.skipped ?? 0);
console.log(`\n${Math.round((Date.now() - started) / 1000)} s${failures.length > 0 ? `; not in order: ${failures.join(', ')}` : ''}`);
console.log(`${passed} passed, ${broken} failed, ${skipped} skipped`);
if (failures.length > 0 || passed === 0) process.exit(1);
