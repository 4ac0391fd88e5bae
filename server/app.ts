import { existsSync } from 'node:fs';
import { join } from 'node:path';
import express, { type Express, type Request, type Response } from 'express';

const IMMUTABLE = 'public, max-age=31536000, immutable';
const TYPES: Record<string, string> = {
  '.js': 'text/javascript',
  '.css': 'text/css',
  '.wasm': 'application/wasm',
  '.html': 'text/html',
  '.json': 'application/json',
  '.svg': 'image/svg+xml',
};

/** The server: the built application, precompressed where a .br or .gz lies beside a file, and the demo data. */
export function createApp(dist: string): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use((req, res, next) => {
    // Everything ships with the app; nothing may be loaded from elsewhere. The kernel's bindings are built with Function(),
    // which its worker (and only that) is allowed.
    const evaluation = req.path.includes('/geometry.worker') ? " 'unsafe-eval'" : '';
    res.setHeader(
      'Content-Security-Policy',
      `default-src 'self'; script-src 'self' 'wasm-unsafe-eval'${evaluation}; style-src 'self' 'unsafe-inline'; font-src 'self' data:; img-src 'self' blob: data:; worker-src 'self'; connect-src 'self' blob: data:`,
    );
    res.setHeader('X-Content-Type-Options', 'nosniff');
    next();
  });
  app.get('/{*path}', (req, res, next) => {
    if (!sendPrecompressed(join(dist, 'web'), req.path, req, res)) next();
  });
  app.use('/assets', express.static(join(dist, 'web', 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }));
  app.use('/demo/blobs', express.static(join(dist, 'demo', 'blobs'), { immutable: true, maxAge: '1y', fallthrough: false }));
  app.use('/demo', express.static(join(dist, 'demo'), { fallthrough: false }));
  app.use(express.static(join(dist, 'web'), { index: false }));
  app.get('/{*path}', (_req, res) => {
    res.setHeader('Cache-Control', 'no-cache');
    res.sendFile(join(dist, 'web', 'index.html'));
  });
  // What is not there is no fault of the server's.
  app.use((error: { status?: number }, _req: Request, res: Response, next: (error: unknown) => void) => {
    if (error.status === 404) res.sendStatus(404);
    else next(error);
  });
  return app;
}

function sendPrecompressed(root: string, path: string, req: Request, res: Response): boolean {
  const extension = /\.\w+$/.exec(path)?.[0] ?? '';
  if (!TYPES[extension] || path.includes('..')) return false;
  const accepted = req.acceptsEncodings();
  const found = (
    [
      ['br', '.br'],
      ['gzip', '.gz'],
    ] as const
  ).find(([name, suffix]) => accepted.includes(name) && existsSync(join(root, `${path}${suffix}`)));
  if (!found) return false;
  res.setHeader('Content-Type', TYPES[extension]);
  res.setHeader('Content-Encoding', found[0]);
  res.setHeader('Vary', 'Accept-Encoding');
  if (path.startsWith('/assets/')) res.setHeader('Cache-Control', IMMUTABLE);
  res.sendFile(join(root, `${path}${found[1]}`), { cacheControl: false });
  return true;
}
