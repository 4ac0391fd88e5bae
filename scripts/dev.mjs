// Vite with hot reload on one port, the demo data from the server on another.
import { spawn } from 'node:child_process';
import { ensureBuilt, ensureInstalled, root } from './ready.mjs';

ensureInstalled();
ensureBuilt();
const children = [
  spawn(process.execPath, ['--import', 'tsx', 'server/main.ts'], { cwd: root, stdio: 'ignore', env: { ...process.env, PORT: '4180' } }),
  spawn(process.execPath, ['node_modules/vite/bin/vite.js'], { cwd: root, stdio: 'inherit' }),
];
process.on('SIGINT', () => {
  for (const child of children) child.kill();
});
