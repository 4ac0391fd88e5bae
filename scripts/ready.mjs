// What npm start, npm test and npm run dev need before they can begin; each step is skipped when its inputs did not change.
// Plain Node: it runs before anything is installed.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

export const root = join(import.meta.dirname, '..');
process.env.PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD = '1';

/** Runs a command with its output shown; ends this process where it fails. */
export function run(command, args, options = {}) {
  const { status, error } = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (error) console.error(`${command}: ${error.message}`);
  if (status !== 0 && !options.mayFail) process.exit(status ?? 1);
  return status === 0;
}

function hashOf(paths) {
  const hash = createHash('sha256');
  const add = (path) => {
    const full = join(root, path);
    if (!existsSync(full)) return;
    if (statSync(full).isDirectory()) for (const name of readdirSync(full).sort()) add(join(path, name));
    else hash.update(path).update(readFileSync(full));
  };
  for (const path of paths) add(path);
  return hash.digest('hex');
}

function unlessFresh(stampFile, inputs, work) {
  const stamp = join(root, stampFile);
  const now = hashOf(inputs);
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
  work();
  mkdirSync(dirname(stamp), { recursive: true });
  writeFileSync(stamp, now);
}

/** Installs the packages where they are missing or the lock file changed. */
export function ensureInstalled() {
  unlessFresh('node_modules/.ruota-installed', ['package.json', 'package-lock.json'], () => run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']));
}

/** Builds the application and its demo data where their sources changed. */
export function ensureBuilt() {
  const inputs = [
    'package-lock.json',
    'vite.config.ts',
    'postcss.config.cjs',
    'tsconfig.json',
    'core/src',
    'web',
    'demo',
    'scripts/build.mjs',
    'scripts/compress-assets.mjs',
  ];
  unlessFresh('dist/.built', inputs, () => run('npm', ['run', '--silent', 'build']));
}

/** Chromium from Debian's package, for the tests of the interface. */
export function ensureChromium() {
  if (existsSync('/usr/bin/chromium')) return;
  console.log('Installing Chromium (Debian package) for the tests of the interface');
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  run('apt-get', ['update', '-qq'], { env });
  run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'chromium'], { env });
}
