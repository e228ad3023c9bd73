import { GephyraError } from '@gephyra/core';
import express, { type RequestHandler } from 'express';

/** Deeper than this nothing is nested that a page of ours sends. */
const DEEPEST = 40;

/** Reads a JSON body of at most `limit`, refusing what is nested so deeply that going through it could end the server. */
export const jsonBody = (limit: number | string): RequestHandler =>
  express.json({
    limit,
    verify: (_request, _response, body) => {
      if (depthOf(body) > DEEPEST) throw new GephyraError('request.deep', 'The request is nested too deeply.');
    },
  });

/** How deeply brackets are nested in a JSON text, by its bytes. */
function depthOf(text: Uint8Array): number {
  let depth = 0;
  let most = 0;
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const c = text[i];
    if (quoted) {
      if (c === 92) i++;
      else if (c === 34) quoted = false;
    } else if (c === 34) quoted = true;
    else if (c === 91 || c === 123) most = Math.max(most, ++depth);
    else if (c === 93 || c === 125) depth--;
  }
  return most;
}
