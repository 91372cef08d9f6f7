import { join } from 'node:path';
import compression from 'compression';
import type { Express, NextFunction, Request, Response } from 'express';
import express from 'express';
import packedStatic from 'express-static-gzip';
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
  baseUri: ["'none'"],
  formAction: ["'none'"],
  upgradeInsecureRequests: null,
};
/** Models become code inside workers, and only there: a worker has the policy of its own script. */
const WORKER_POLICY = "default-src 'self'; script-src 'self' 'unsafe-eval'; object-src 'none'; base-uri 'none'";

/** Names under which a page on this machine is asked for. Any other name in a request points here by a trick. */
const OWN_NAMES: ReadonlySet<string> = new Set(['localhost', '127.0.0.1', '[::1]']);

function nameOf(hostAndPort: string): string {
  return hostAndPort.replace(/:\d+$/, '').toLowerCase();
}

/** Refuses requests under foreign names and from pages of foreign places. */
function refuseForeign(request: Request, response: Response, next: NextFunction): void {
  const { host, origin } = request.headers;
  const isForeign =
    !host ||
    !OWN_NAMES.has(nameOf(host)) ||
    (origin !== undefined && !OWN_NAMES.has(nameOf(origin.replace(/^https?:\/\//, ''))));
  if (isForeign)
    response
      .status(403)
      .type('text/plain')
      .send('This address is served to this machine only, under the name localhost.');
  else next();
}

/** Passes on addresses that can be read only. */
function refuseUnreadable(request: Request, _response: Response, next: NextFunction): void {
  try {
    decodeURIComponent(request.path);
    next();
  } catch {
    next({ status: 400 });
  }
}

/** What cannot be answered is said in a line, without anything of the inside. */
function sayProblem(
  error: { readonly status?: number },
  _request: Request,
  response: Response,
  next: NextFunction,
): void {
  if (response.headersSent) return next(error);
  const status = error.status !== undefined && error.status >= 400 && error.status < 500 ? error.status : 500;
  response
    .status(status)
    .type('text/plain')
    .send(status === 500 ? 'The server met a problem. Reload the page.' : 'There is no such address.');
}

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
  app.use(refuseForeign);
  app.use(refuseUnreadable);
  app.use(compression());
  app.use(
    packedStatic(pageFolder, {
      enableBrotli: true,
      index: false,
      serveStatic: {
        setHeaders: (response, path) => {
          const isAsset = path.includes(`${join('dist', 'assets')}`);
          response.setHeader('Cache-Control', isAsset ? 'public, max-age=31536000, immutable' : 'no-cache');
          if (/\.worker-[^/\\]+\.js(?:\.br)?$/.test(path)) response.setHeader('Content-Security-Policy', WORKER_POLICY);
        },
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
  app.use(sayProblem);
  return app;
}
