import fs from 'node:fs';
import { NodeFS } from '@electric-sql/pglite/nodefs';

type Init = NodeFS['init'];

/** What of the database's own file system is used here. */
interface NodeFiles {
  readonly stream_ops: { fsync?: (stream: { readonly nfd: number }) => number };
}

/**
 * The database's files on disk, flushed when the database asks for it. PGlite's own do nothing then, so that a commit would
 * only be in the system's memory when it is acknowledged.
 */
export class DurableFiles extends NodeFS {
  override async init(...parameters: Parameters<Init>): ReturnType<Init> {
    const made = await super.init(...parameters);
    const first = (module: { NODEFS: NodeFiles }): void => {
      module.NODEFS.stream_ops.fsync = ({ nfd }) => {
        fs.fsyncSync(nfd);
        return 0;
      };
    };
    const preRun = [made.emscriptenOpts.preRun ?? []].flat();
    return { emscriptenOpts: { ...made.emscriptenOpts, preRun: [...preRun, first as (typeof preRun)[number]] } };
  }
}
