// The server as it is, but for what the application compiles its code with before a first file comes: each test begins with a page of its own, which would do all of
// it anew. Whoever has the cookie gets it. (Not by Playwright's routes: with them every answer of the server goes by way of the test, a second for each start.)
import { join } from 'node:path';
import express from 'express';
import { createApp } from '../server/app.ts';
import { WARM_UP_COOKIE, WARM_UP_MODELS } from './warm-up.ts';

express()
  .use((req, res, next) => {
    if (WARM_UP_MODELS.test(req.path) && !req.headers.cookie?.includes(WARM_UP_COOKIE)) res.sendStatus(404);
    else next();
  })
  // Where the code of all pages is held (fresh-profile.ts).
  .get('/code', (_, res) => void res.send('<!doctype html><title>Code</title>'))
  .use(createApp(join(import.meta.dirname, '../dist')))
  .listen(Number(process.env.PORT), '127.0.0.1');
