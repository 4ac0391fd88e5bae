// Everything that has to be right: types, lint, direction of imports, Jest, Playwright. Ends with a plain line of counts.
import { spawn } from 'node:child_process';
import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuilt, ensureChromium, ensureInstalled, root, run } from './ready.mjs';

ensureInstalled();
ensureChromium();
const started = Date.now();
const failures = [];
const step = (name, command, args, env) => {
  const from = Date.now();
  console.log(`\n== ${name}`);
  if (!run(command, args, { mayFail: true, env: { ...process.env, ...env } })) failures.push(name);
  console.log(`   ${Math.round((Date.now() - from) / 100) / 10} s`);
};
// Each of these uses one core: side by side they take half the time. What they say is kept until they end.
const together = (name, script) =>
  new Promise((done) => {
    const from = Date.now();
    const child = spawn('npm', ['run', '--silent', script], { cwd: root });
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => (said += text));
    child.on('error', (error) => (said += error));
    child.on('close', (code) => {
      if (code !== 0) failures.push(name);
      console.log(`\n== ${name}\n${said.trim()}\n   ${Math.round((Date.now() - from) / 100) / 10} s`);
      done();
    });
  });
await Promise.all([together('types', 'typecheck'), together('format and lint', 'lint'), together('direction of imports', 'imports')]);
mkdirSync(join(root, 'test-results'), { recursive: true });
const report = (name) => join(root, 'test-results', name);
step('Jest', 'npm', ['run', '--silent', 'jest', '--', '--json', `--outputFile=${report('jest.json')}`]);
ensureBuilt();
step('Playwright', 'npm', ['run', '--silent', 'e2e'], { PLAYWRIGHT_JSON_OUTPUT_NAME: report('e2e.json') });

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
