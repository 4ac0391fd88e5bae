import { join } from 'node:path';
import { createApp } from './app.ts';

const port = Number(process.env.PORT ?? 4180);
const server = createApp(join(import.meta.dirname, '..', 'dist')).listen(port, () => console.log(`Ruota is at http://localhost:${port}`));
server.on('error', (error: NodeJS.ErrnoException) => {
  console.error(error.code === 'EADDRINUSE' ? `Port ${port} is in use. Choose another one: PORT=4200 npm start` : error.message);
  process.exitCode = 1;
});
