// Builds the application into dist/web and its demo data into dist/demo, side by side: each uses one core.
import { spawn } from 'node:child_process';
import { root } from './ready.mjs';

const run = (command, ...args) =>
  new Promise((done) => {
    const child = spawn(command, args, { cwd: root, stdio: 'inherit' });
    child.on('error', (error) => {
      console.error(`${command}: ${error.message}`);
      done(false);
    });
    child.on('close', (code) => done(code === 0));
  });

const application = async () => (await run('npx', 'vite', 'build')) && run(process.execPath, 'scripts/compress-assets.mjs');
const demoData = () => run(process.execPath, '--import', 'tsx', 'demo/prepare.ts');
const built = await Promise.all([application(), demoData()]);
if (built.includes(false)) process.exitCode = 1;
