import { GephyraError } from '@gephyra/core';
import type { Request, RequestParamHandler } from 'express';

export const idOf = (request: Request): string => String(request.params.id);

/** Lets only what can be an id reach the database. */
export const knownId: RequestParamHandler = (_request, _response, next, id: unknown) => {
  if (typeof id === 'string' && /^[\w-]{1,80}$/.test(id)) next();
  else next(new GephyraError('route.unknown', 'There is nothing here.'));
};
