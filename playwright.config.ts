import { defineConfig } from '@playwright/test';

const PORT = 4191;

/** Debian's Chromium with WebGL in software, pages drawn without it (faster so, where there is no graphics card), and without calls to the world outside. */
export const CHROMIUM = {
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--use-angle=swiftshader',
    '--enable-unsafe-swiftshader',
    '--ignore-gpu-blocklist',
    '--disable-gpu-compositing',
    '--disable-gpu-rasterization',
  ],
};

export default defineConfig({
  testDir: 'e2e',
  // What takes a minute here took four on a machine that was busy with other things.
  timeout: 300_000,
  expect: { timeout: 15_000 },
  fullyParallel: true,
  workers: 2,
  retries: 0,
  outputDir: 'test-results/e2e',
  reporter: [['list'], ['json', { outputFile: 'test-results/e2e.json' }]],
  use: {
    baseURL: `http://localhost:${PORT}`,
    viewport: { width: 1280, height: 800 },
    screenshot: 'only-on-failure',
    // What only moves to please is not waited for; Carrier’s tests see it move (carrier.spec.ts).
    contextOptions: { reducedMotion: 'reduce' },
    // Without smoothed edges on the stage: in software they take half of what a picture costs. And with the kernel's code compiled once: compiling it better as it
    // runs takes longer than a test has use of it.
    launchOptions: { ...CHROMIUM, args: [...CHROMIUM.args, '--webgl-antialiasing-mode=none', '--js-flags=--liftoff-only'] },
  },
  webServer: { command: 'node --import tsx e2e/serve.ts', env: { PORT: String(PORT) }, port: PORT, reuseExistingServer: false },
});
