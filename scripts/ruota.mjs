// The command line: runs its bundle, which is made anew when a source is newer. From TypeScript sources it took three seconds to say anything.
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';

const root = join(import.meta.dirname, '..');
const out = join(root, 'dist', 'cli');
const stamp = join(out, '.sources');

/** What the bundle is made from: each file with its size and when it was changed. */
function sources() {
  const lines = [];
  const add = (path) => {
    const full = join(root, path);
    const stat = statSync(full);
    if (stat.isDirectory()) for (const name of readdirSync(full).sort()) add(join(path, name));
    else if (/\.(ts|mjs|json)$/.test(path) && !path.endsWith('.test.ts')) lines.push(`${path} ${stat.size} ${stat.mtimeMs}`);
  };
  for (const path of ['core/src', 'cli', 'scripts/ruota.mjs', 'package-lock.json']) add(path);
  return lines.join('\n');
}

const now = sources();
if (!existsSync(stamp) || readFileSync(stamp, 'utf8') !== now) {
  rmSync(out, { recursive: true, force: true });
  const { build } = await import('esbuild');
  await build({
    absWorkingDir: root,
    entryPoints: { main: 'cli/main.ts', worker: 'cli/worker.ts', hand: 'cli/hand.ts' },
    outdir: out,
    bundle: true,
    splitting: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    packages: 'external',
    sourcemap: 'linked',
    logLevel: 'warning',
    plugins: [
      {
        // Our modules only define things: what a command does not use is left out.
        name: 'no-side-effects',
        setup(b) {
          b.onResolve({ filter: /^(#core\/|\.)/ }, async ({ path, importer, kind, resolveDir, pluginData }) => {
            if (pluginData === 'resolved' || kind === 'entry-point') return undefined;
            const found = await b.resolve(path, { importer, kind, resolveDir, pluginData: 'resolved' });
            return found.path.startsWith(join(root, 'core')) ? { ...found, sideEffects: false } : found;
          });
        },
      },
    ],
  });
  mkdirSync(out, { recursive: true });
  writeFileSync(stamp, now);
}
process.argv[1] = join(out, 'main.js');
await import(pathToFileURL(process.argv[1]).href);
