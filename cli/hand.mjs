// A worker thread that runs TypeScript: tsx has to be asked for by name here.
import { tsImport } from 'tsx/esm/api';

await tsImport('./hand.ts', import.meta.url);
