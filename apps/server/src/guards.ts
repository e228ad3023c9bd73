import { GephyraError } from '@gephyra/core';
import type { RequestHandler } from 'express';
import helmet from 'helmet';

const LOCAL = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/i;

/**
 * Answers only to this machine's own names, which stops pages that point a name of theirs at the loopback address, and
 * takes changes only from its own pages.
 */
export const sameMachine: RequestHandler = (request, _response, next) => {
  const host = request.headers.host ?? '';
  if (!LOCAL.test(host)) {
    throw new GephyraError('host.foreign', 'This server answers only under localhost.');
  }
  const { origin } = request.headers;
  const site = request.headers['sec-fetch-site'];
  const foreign = origin !== undefined && origin.toLowerCase() !== `http://${host.toLowerCase()}`;
  if (foreign || site === 'cross-site') {
    throw new GephyraError('origin.foreign', 'This server takes requests only from its own pages.');
  }
  next();
};

/** Security headers: own scripts and WebAssembly only, and the isolation that shared memory asks for. */
export const headers: RequestHandler = helmet({
  contentSecurityPolicy: {
    useDefaults: false,
    directives: {
      defaultSrc: ["'self'"],
      scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
      workerSrc: ["'self'"],
      styleSrc: ["'self'"],
      imgSrc: ["'self'", 'blob:', 'data:'],
      fontSrc: ["'self'"],
      connectSrc: ["'self'"],
      objectSrc: ["'none'"],
      baseUri: ["'none'"],
      formAction: ["'self'"],
      frameAncestors: ["'none'"],
    },
  },
  crossOriginEmbedderPolicy: { policy: 'require-corp' },
  crossOriginOpenerPolicy: { policy: 'same-origin' },
  strictTransportSecurity: false,
});
