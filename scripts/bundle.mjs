// Makes a bundle of programs when one of their sources is newer. From TypeScript sources a program takes three seconds to say anything, and runs slower.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';

const root = join(import.meta.dirname, '..');
const HOUR = 3_600_000;

/** A name for what a bundle is made from: each file with its size and when it was changed. */
function nameOf(sources) {
  const hash = createHash('sha256');
  const add = (path) => {
    const full = join(root, path);
    const stat = statSync(full);
    if (stat.isDirectory()) for (const name of readdirSync(full).sort()) add(join(path, name));
    else if (/\.(ts|mjs|json)$/.test(path) && !path.endsWith('.test.ts')) hash.update(`${path} ${stat.size} ${stat.mtimeMs}\n`);
  };
  for (const path of [...sources, 'scripts/bundle.mjs', 'package-lock.json']) add(path);
  return hash.digest('hex').slice(0, 16);
}

// Our core only defines things: what a program does not use is left out.
const noSideEffects = {
  name: 'no-side-effects',
  setup(b) {
    b.onResolve({ filter: /^(#core\/|\.)/ }, async ({ path, importer, kind, resolveDir, pluginData }) => {
      if (pluginData === 'resolved' || kind === 'entry-point') return undefined;
      const found = await b.resolve(path, { importer, kind, resolveDir, pluginData: 'resolved' });
      return found.path.startsWith(join(root, 'core')) ? { ...found, sideEffects: false } : found;
    });
  },
};

// A module that reads files beside itself finds them where its source is.
const sourceFolders = {
  name: 'source-folders',
  setup(b) {
    b.onLoad({ filter: /\/(bench|demo)\/.*\.ts$/ }, ({ path }) => ({
      contents: readFileSync(path, 'utf8').replaceAll('import.meta.dirname', JSON.stringify(dirname(path))),
      loader: 'ts',
    }));
  },
};

/**
 * Bundles `entryPoints` ({name: source}) into a folder of dist/`folder` named by its sources, and gives that folder. `sources`: folders
 * and files they are made from. Programs started at the same time do not disturb each other: a bundle is complete or not there,
 * and an old one stays for an hour. `external`: packages that are loaded from node_modules when the program runs; all without it. A program that has its packages in
 * it starts sooner: one of them alone is a hundred files.
 */
export async function bundle(folder, entryPoints, sources, external) {
  const all = join(root, 'dist', folder);
  const out = join(all, nameOf(sources));
  if (existsSync(out)) return out;
  const making = `${out}-${process.pid}`;
  const { build } = await import('esbuild');
  await build({
    absWorkingDir: root,
    entryPoints,
    outdir: making,
    bundle: true,
    splitting: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    ...(external ? { external } : { packages: 'external' }),
    sourcemap: 'linked',
    logLevel: 'warning',
    plugins: [noSideEffects, sourceFolders],
  });
  mkdirSync(all, { recursive: true });
  for (const old of readdirSync(all)) {
    const path = join(all, old);
    if (path !== making && Date.now() - statSync(path).mtimeMs > HOUR) rmSync(path, { recursive: true, force: true });
  }
  try {
    renameSync(making, out);
  } catch (error) {
    if (!existsSync(out)) throw error;
    rmSync(making, { recursive: true, force: true });
  }
  return out;
}
