import { join } from 'node:path';
import { createApp } from './app.ts';

const port = Number(process.env.PORT ?? 4180);
// Only this machine, unless it is opened to others.
const host = process.env.HOST || '127.0.0.1';
const server = createApp(join(import.meta.dirname, '..', 'dist')).listen(port, host, () =>
  console.log(`Ruota is at http://${['127.0.0.1', '0.0.0.0', '::'].includes(host) ? 'localhost' : host}:${port}`),
);
server.on('error', (error: NodeJS.ErrnoException) => {
  console.error(error.code === 'EADDRINUSE' ? `Port ${port} is in use. Choose another one: PORT=4200 npm start` : error.message);
  process.exitCode = 1;
});
