import path from 'node:path';
import compression from 'compression';
import express, { type ErrorRequestHandler, type Express } from 'express';

/** Headers under which the page may use shared memory, workers and its own fonts, and nothing from elsewhere. */
export const SECURITY_HEADERS: Record<string, string> = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
  'Cross-Origin-Resource-Policy': 'same-origin',
  'X-Content-Type-Options': 'nosniff',
  'Referrer-Policy': 'no-referrer',
  'Content-Security-Policy': [
    "default-src 'self'",
    "script-src 'self' 'wasm-unsafe-eval'",
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "worker-src 'self' blob:",
    "font-src 'self' data:",
    "connect-src 'self' data: blob:",
    "object-src 'none'",
    "base-uri 'self'",
    "frame-ancestors 'none'",
  ].join('; '),
};

/** Addresses of the page's own routes. */
const PAGES = ['/', '/yard', '/bench/:id/:stage'];

/** The answer for an address that cannot be served: never a path or a stack trace of this machine. */
const onError: ErrorRequestHandler = (e: { status?: unknown }, _req, res, next) => {
  if (res.headersSent) return next(e);
  const status = typeof e.status === 'number' && e.status >= 400 && e.status < 500 ? e.status : 500;
  const says = status === 500 ? 'This could not be served. Load the page again.' : 'There is nothing at this address.';
  res.status(status).type('text').send(says);
};

/**
 * The server of the built page: static files, compressed; the page for its own routes, and nothing for any other
 * address.
 */
export function createApp(root: string): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use((_req, res, next) => {
    res.set(SECURITY_HEADERS);
    next();
  });
  app.use(compression());
  app.use('/assets', express.static(path.join(root, 'assets'), { immutable: true, maxAge: '1y', index: false }));
  app.use(express.static(root, { index: false, redirect: false }));
  app.get(PAGES, (_req, res) => res.sendFile('index.html', { root }));
  app.use((_req, res) => void res.status(404).type('text').send('There is nothing at this address.'));
  app.use(onError);
  return app;
}
