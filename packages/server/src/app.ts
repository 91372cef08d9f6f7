import { join } from 'node:path';
import compression from 'compression';
import type { Express, Response } from 'express';
import express from 'express';
import helmet from 'helmet';

const SELF = ["'self'"];
const PAGE_POLICY = {
  defaultSrc: SELF,
  scriptSrc: SELF,
  styleSrc: ["'self'", "'unsafe-inline'"],
  imgSrc: ["'self'", 'data:', 'blob:'],
  fontSrc: ["'self'", 'data:'],
  connectSrc: SELF,
  workerSrc: SELF,
  objectSrc: ["'none'"],
  frameAncestors: ["'none'"],
  upgradeInsecureRequests: null,
};
/** Models become code inside workers, and only there: a worker has the policy of its own script. */
const WORKER_POLICY = "default-src 'self'; script-src 'self' 'unsafe-eval'; object-src 'none'";

/** The application: the built page with safe headers. */
export function createApp(pageFolder: string): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: { useDefaults: false, directives: PAGE_POLICY },
      crossOriginOpenerPolicy: { policy: 'same-origin' },
      crossOriginEmbedderPolicy: { policy: 'require-corp' },
      strictTransportSecurity: false,
    }),
  );
  app.use(compression());
  app.use(
    express.static(pageFolder, {
      index: false,
      setHeaders: (response: Response, path: string) => {
        const isAsset = path.includes(`${join('dist', 'assets')}`);
        response.setHeader('Cache-Control', isAsset ? 'public, max-age=31536000, immutable' : 'no-cache');
        if (/\.worker-[^/\\]+\.js$/.test(path)) response.setHeader('Content-Security-Policy', WORKER_POLICY);
      },
    }),
  );
  app.get('/{*path}', (request, response) => {
    if (request.path.startsWith('/assets/')) {
      response.status(404).type('text/plain').send('There is no such file.');
      return;
    }
    response.setHeader('Cache-Control', 'no-cache');
    response.sendFile(join(pageFolder, 'index.html'));
  });
  return app;
}
