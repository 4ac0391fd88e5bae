import { ensureBuilt, ensureInstalled, run } from './ready.mjs';

ensureInstalled();
ensureBuilt();
run(process.execPath, ['--import', 'tsx', 'server/main.ts']);
