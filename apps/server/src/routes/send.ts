import { pipeline } from 'node:stream/promises';
import type { Response } from 'express';
import type { BlobStore } from '../blobs.ts';

/**
 * Sends a stored file. Whatever ends it early (the client goes, the disk fails) closes the file, and the answer is broken off
 * rather than left half-written as if it were whole.
 */
export async function sendBlob(blobs: BlobStore, hash: string, response: Response): Promise<void> {
  const { stream, bytes } = await blobs.stream(hash);
  response.set('Content-Length', String(bytes));
  try {
    await pipeline(stream, response);
  } catch (error) {
    const gone = ['ERR_STREAM_PREMATURE_CLOSE', 'ECONNRESET', 'EPIPE'].includes(
      (error as NodeJS.ErrnoException).code ?? '',
    );
    if (!gone) console.error(error);
    response.destroy();
  }
}
