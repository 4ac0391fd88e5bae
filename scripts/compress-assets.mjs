// Compresses the built files once, so that the server never does it while somebody waits (1.2 s for the kernel). What the best quality would save (4 % of all) takes
// five times as long: whoever starts the application for the first time waits for it.
import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';

const root = join(import.meta.dirname, '..', 'dist', 'web');
const walk = (dir) => readdirSync(dir).flatMap((name) => (statSync(join(dir, name)).isDirectory() ? walk(join(dir, name)) : [join(dir, name)]));
for (const file of walk(root)) {
  if (!/\.(js|css|wasm|html|svg|json)$/.test(file)) continue;
  const bytes = readFileSync(file);
  if (bytes.length < 1500) continue;
  const quality = file.endsWith('.wasm') ? 7 : 9;
  writeFileSync(
    `${file}.br`,
    brotliCompressSync(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: quality, [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length } }),
  );
  writeFileSync(`${file}.gz`, gzipSync(bytes, { level: 9 }));
}
