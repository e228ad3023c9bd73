import { randomBytes } from 'node:crypto';
import type { ServerResponse } from 'node:http';
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

/** A number for this answer, which its page may give to style elements. It is in `locals.nonce`, and in the policy. */
export const freshNonce: RequestHandler = (_request, response, next) => {
  response.locals.nonce = randomBytes(18).toString('base64');
  next();
};

const nonceOf = (_request: unknown, response: ServerResponse): string =>
  `'nonce-${(response as ServerResponse & { locals: { nonce: string } }).locals.nonce}'`;

/**
 * Security headers: own scripts and WebAssembly only, own style sheets and style elements with this answer's number, and the
 * isolation that shared memory asks for. Goes after `freshNonce`.
 */
export const headers: RequestHandler = helmet({
  contentSecurityPolicy: {
    useDefaults: false,
    directives: {
      defaultSrc: ["'self'"],
      scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
      workerSrc: ["'self'"],
      styleSrc: ["'self'", nonceOf],
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
