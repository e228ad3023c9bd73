import type { Problem } from '@gephyra/contract';
import { GephyraError } from '@gephyra/core';
import type { ErrorRequestHandler } from 'express';
import { ZodError } from 'zod';

const STATUS: Record<string, number> = {
  'upload.tooLarge': 413,
  'plan.stale': 409,
  'equipment.stale': 409,
  'printer.busy': 409,
  'print.unknown': 404,
  'undo.nothing': 409,
  'redo.nothing': 409,
  'project.unknown': 404,
  'job.unknown': 404,
  'job.noFile': 404,
  'route.unknown': 404,
  'blob.gone': 404,
  'request.deep': 400,
  'host.foreign': 403,
  'origin.foreign': 403,
};

/** An error as RFC 9457 wants it. What nobody foresaw is logged, and told without its inside. */
export function problemOf(error: unknown): Problem {
  if (error instanceof GephyraError) {
    const status = STATUS[error.code] ?? 422;
    return { type: 'about:blank', title: titleOf(status), status, detail: error.message, code: error.code };
  }
  if (error instanceof ZodError) {
    const [issue] = error.issues;
    const where = issue.path.join('.') || 'The request';
    return {
      type: 'about:blank',
      title: 'Bad request',
      status: 400,
      detail: `${where}: ${issue.message}`,
      code: 'request.invalid',
    };
  }
  // what Express and its readers of bodies refuse: a broken path, an unknown charset or encoding, no JSON …
  const refused = statusOf(error);
  if (refused) {
    return {
      type: 'about:blank',
      title: titleOf(refused),
      status: refused,
      detail:
        refused === 413
          ? 'The request is too large.'
          : refused === 415
            ? 'The request is coded in a way that is not read: send JSON in UTF-8.'
            : 'The request cannot be read: its path or its JSON is broken.',
      code: 'request.invalid',
    };
  }
  if (error instanceof Error && 'code' in error && error.code === 'ECONNRESET') {
    return {
      type: 'about:blank',
      title: 'Bad request',
      status: 400,
      detail: 'The upload broke off.',
      code: 'upload.brokenOff',
    };
  }
  console.error(error);
  return {
    type: 'about:blank',
    title: 'Server error',
    status: 500,
    detail: 'Something unforeseen went wrong on the server; its log says more. Nothing was changed.',
    code: 'server.error',
  };
}

/** The 4xx status that an error of Express carries; null: none. */
function statusOf(error: unknown): number | null {
  const status = error instanceof Error && 'status' in error ? Number(error.status) : 0;
  return status >= 400 && status < 500 ? status : null;
}

const titleOf = (status: number): string =>
  ({
    400: 'Bad request',
    403: 'Forbidden',
    404: 'Not found',
    409: 'Conflict',
    413: 'Too large',
    422: 'Cannot be used',
  })[status] ?? 'Error';

/** The last handler: writes the problem, unless the answer is already under way. */
export const problemHandler: ErrorRequestHandler = (error, _request, response, _next) => {
  if (response.headersSent) {
    response.destroy();
    return;
  }
  const body = problemOf(error);
  response.status(body.status).type('application/problem+json').send(JSON.stringify(body));
};
